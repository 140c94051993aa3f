import { theDesk } from '../../desk/desk'

let shown: Promise<void> | null = null

/** Makes the project's own faces known to the interface, under names of their own, so that a name can stand in its face. */
export function showProjectFaces(): Promise<void> {
  return (shown ??= theDesk().faces().then(async (faces) => {
    await Promise.all(faces.map(async ({ family, weight, style, bytes }) => {
      try {
        document.fonts.add(await new FontFace(`steady ${family}`, bytes.buffer as ArrayBuffer, { weight, style }).load())
      } catch {
        // A file that is no font: the page shows another face too.
      }
    }))
  }))
}
