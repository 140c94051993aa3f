import { getStudio, useStudio, type StudioState } from '../store'

/** Whether the classes of the framework that the project is styled with are still being read. */
export function isReadingClasses(): boolean {
  const { vocabulary } = getStudio()
  return vocabulary !== null && vocabulary.isOfFramework && vocabulary.share < 1
}

/** Ends once they are read, or no project is open any more. */
export function whenClassesRead(): Promise<void> {
  if (!isReadingClasses()) return Promise.resolve()
  return new Promise((done) => {
    const stop = useStudio.subscribe(() => {
      if (isReadingClasses()) return
      stop()
      done()
    })
  })
}

/** What is selected, with the places of its edits to be worked out again. */
export const withoutAims = <T extends Pick<StudioState, 'picked' | 'others'>>(selected: T): T => ({
  ...selected,
  picked: selected.picked && { ...selected.picked, aims: new Map() },
  others: selected.others.map((o) => ({ ...o, aims: new Map() })),
})
