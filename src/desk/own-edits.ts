import { decodeSource, EncodingError, lineHunks, linesOf } from '../core/text'
import type { OpenProject } from './open-project'

/** Saves that a commit may have been made after, the last ones. */
const MOST_SAVES = 20

/** A state of the files. */
export type TextOf = (path: string) => string

/** The files without our edits, and without those since each of the last saves: a commit may have what was saved before. None where others changed what an edit wrote. */
export async function withoutOurs(current: Pick<OpenProject, 'inForce' | 'db' | 'id' | 'without'>): Promise<TextOf[]> {
  const { inForce, db, id } = current
  const saves = await db.saves.where('[project+made]').between([id, -Infinity], [id, Infinity]).reverse().limit(MOST_SAVES).toArray()
  return [0, ...new Set(saves.map((s) => s.done))].flatMap((done) => {
    const ours = inForce.filter((e) => !e.outside && e.seq > done).map((e) => e.seq)
    const without = current.without(new Set(ours))
    return without.ok ? [without.text] : []
  })
}

/** The text of a file that differs from the committed one in the fewest lines: the first of those that are as near. Null where there is none. */
export function nearest(committed: string, states: readonly TextOf[], path: string): string | null {
  const old = linesOf(committed)
  let best: { readonly text: string; readonly differing: number } | null = null
  for (const text of new Set(states.map((of) => of(path)))) {
    const differing = lineHunks(old, linesOf(text)).reduce((n, h) => n + h.to - h.from + h.lines.length, 0)
    if (!best || differing < best.differing) best = { text, differing }
  }
  return best?.text ?? null
}

/** The text of a committed file: nothing for one that is not there; null for what is no text. */
export function committedText(bytes: Uint8Array | null): string | null {
  if (bytes === null) return ''
  try {
    return decodeSource(bytes).text
  } catch (error) {
    if (error instanceof EncodingError) return null
    throw error
  }
}
