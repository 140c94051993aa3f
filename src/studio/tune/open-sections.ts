/** Open until a person folds them. */
export const OPEN_AT_FIRST: readonly string[] = ['Space', 'Type', 'Colour']

const KEY = 'steady-open-sections'

/** The sections of Tune that were unfolded last; those open at first where nothing is stored or what is stored is damaged. */
export async function readOpen(): Promise<ReadonlySet<string>> {
  const text = localStorage.getItem(KEY)
  if (text === null) return new Set(OPEN_AT_FIRST)
  const [{ array, string }, { ELEMENT, moreOf, SECTIONS }] = await Promise.all([import('yup'), import('./properties')])
  const titles = array()
    .of(
      string()
        .oneOf([...SECTIONS.flatMap((s) => [s.title, moreOf(s.title)]), ELEMENT])
        .required(),
    )
    .required()
  try {
    return new Set(titles.validateSync(JSON.parse(text), { strict: true }))
  } catch {
    return new Set(OPEN_AT_FIRST)
  }
}

export function storeOpen(open: ReadonlySet<string>): void {
  localStorage.setItem(KEY, JSON.stringify([...open]))
}
