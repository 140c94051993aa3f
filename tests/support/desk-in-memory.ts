import { Desk, LinkedFolder } from '../../src/desk'
import { Database } from '../../src/storage/db'
import { createProject } from '../../src/storage/projects'
import { Edits } from '../../src/studio/session/edits'
import { Selection } from '../../src/studio/session/selection'
import { Timeline } from '../../src/studio/session/timeline'
import { Drafts } from '../../src/studio/session/drafts'
import { Writing } from '../../src/studio/session/writing'
import { INITIAL, setStudio } from '../../src/studio/store'
import { DocumentPage } from './document-page'
import { asHandle, Folder } from './memory-folder'

/** A project of these files, open on a desk in this process. */
export async function openDesk(files: Readonly<Record<string, string>>): Promise<Desk> {
  const id = await createProject(
    new Database(),
    'Quay',
    Object.entries(files).map(([path, text]) => ({ path, bytes: new TextEncoder().encode(text) })),
  )
  const desk = new Desk()
  await desk.opening.open(id, '')
  return desk
}

/** The same, linked to a folder in memory that has these files. */
export async function openLinkedDesk(texts: Readonly<Record<string, string>>) {
  const db = new Database()
  const files = Object.entries(texts).map(([path, text]) => ({ path, bytes: new TextEncoder().encode(text) }))
  const disk = Object.entries(texts).reduce((d, [path, text]) => d.put(path, text), new Folder('site'))
  const id = await createProject(db, 'Pier', files)
  const desk = new Desk()
  await desk.opening.open(id, '')
  const folder = new LinkedFolder(
    db,
    id,
    { project: id, handle: asHandle(disk), include: [] },
    files.map((f) => ({ project: id, path: f.path, bytes: null, modified: 0, size: f.bytes.length })),
    (path) => files.find((f) => f.path === path)!.bytes,
  )
  Object.assign(desk.current, { folder })
  return { db, id, disk, desk, folder }
}

/** The page of an open desk in memory, with its sheets tied in this order, and what a session does with both. */
export async function openPage(desk: Desk, path: string, sheets: readonly string[], property: string) {
  const outlines = () => desk.pageSync.outlines(sheets).sheets
  const page = new DocumentPage(desk.publishing.published(path), outlines)
  desk.editing.usePage(page.port)
  page.tie(outlines(), (key) => desk.current.text(key)!)
  setStudio({ ...INITIAL, connected: true, property, ledger: await desk.current.setReadOnly(null) })
  const views = { count: 0 }
  const selection = new Selection(page.asLivePage, () => views.count++)
  const writing = new Writing(page.asLivePage, selection)
  const edits = new Edits(page.asLivePage, selection, writing)
  const timeline = new Timeline(page.asLivePage, selection, writing, new Drafts())
  return { page, selection, writing, edits, timeline, views }
}
