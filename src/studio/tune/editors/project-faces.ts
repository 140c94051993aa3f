import { BUNDLED } from '../../../live/faces'
import { theDesk } from '../../../desk'
import { filesOf } from '../../session/bundled-faces'

interface LoadedFace {
  readonly family: string
  readonly weight: string
  readonly style: string
  readonly bytes: Uint8Array
}

/** Makes faces known to the interface under names of their own, so that each name can stand in its face. */
async function show(faces: readonly LoadedFace[]): Promise<void> {
  await Promise.all(
    faces.map(async ({ family, weight, style, bytes }) => {
      try {
        document.fonts.add(await new FontFace(`steady ${family}`, bytes.slice().buffer, { weight, style }).load())
      } catch {
        // A file that is no font: the page shows another face too.
      }
    }),
  )
}

let own: Promise<void> | null = null
let bundled: Promise<void> | null = null

export const showProjectFaces = (): Promise<void> => (own ??= theDesk().reading.faces().then(show))

export const showBundledFaces = (): Promise<void> =>
  (bundled ??= Promise.all(
    BUNDLED.map(async (b) => show((await filesOf(b)).faces.filter((f) => f.style === 'normal').map((f) => ({ ...f, family: b.family })))),
  ).then(() => {}))
