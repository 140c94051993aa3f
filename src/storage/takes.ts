import type { JournalEdit } from '../core/edit'
import type { Database, TakeRow } from './db'

export interface Take {
  readonly id: string
  readonly name: string
  readonly made: number
}

export async function storeTake(db: Database, project: string, take: Take, edits: readonly JournalEdit[], done: number): Promise<void> {
  await db.takes.put({ project, ...take, edits: [...edits], done })
}

/** Puts the current take away as it is and another in its place, whole or not at all. */
export async function swapTake(
  db: Database,
  project: string,
  mine: Pick<TakeRow, 'id' | 'edits' | 'done'>,
  other: TakeRow,
  saved: number,
  leftOut: readonly number[],
): Promise<void> {
  await db.transaction('rw', db.projects, db.edits, db.takes, async () => {
    await db.takes.update([project, mine.id], { edits: [...mine.edits], done: mine.done })
    await db.edits.where('[project+seq]').between([project, -Infinity], [project, Infinity]).delete()
    await db.edits.bulkAdd(other.edits.map((e) => ({ ...e, project })))
    await db.projects.update(project, { done: other.done, take: other.id, saved, leftOut })
  })
}
