import type { Changes } from './changes'
import { Commits } from './commits'
import { Exports } from './exports'
import { FolderChanges } from './folder-changes'
import { Handing } from './handing'
import { EditHistory } from './history'
import type { OpenProject } from './open-project'
import { withoutOurs } from './own-edits'
import type { PageSync } from './page-sync'
import { Places } from './places'
import { Points } from './points'
import type { Publishing } from './publishing'
import { Reading } from './reading'
import { Saving } from './saving'
import { SinceLastCommit } from './since-commit'
import { Takes } from './takes'
import { Themes } from './themes'
import { Weights } from './weights'

/** The services that no page needs in order to show, put together around the open project. */
export function laterServices(current: OpenProject, publishing: Publishing, pageSync: PageSync, changes: Changes) {
  const places = new Places(current)
  const points = new Points(current, publishing)
  const takes = new Takes(current, changes, points)
  const folder = new FolderChanges(current, changes)
  const saving = new Saving(current, pageSync, takes, folder)
  return {
    places,
    reading: new Reading(current, places),
    themes: new Themes(current),
    weights: new Weights(current),
    history: new EditHistory(current, changes),
    points,
    takes,
    folder,
    saving,
    exports: new Exports(current, saving, places),
    sinceCommit: new SinceLastCommit(current, saving),
    /** The repository of the folder. */
    git: new Commits({
      folder: () => current.folder,
      opened: () => current.project,
      inForce: () => current.inForce,
      withoutOurs: () => withoutOurs(current),
      bytes: (path) => current.bytes(path),
      async save(leave, leaveOthers) {
        await current.whole
        return saving.save(leave, leaveOthers)
      },
      alone: (work) => folder.alone(work),
      noteBranch: async (branch) => void (await current.db.folders.update(current.id, { branch })),
    }),
    /** Wishes, and what assistants and colleagues get to see. */
    handing: new Handing({
      folder: () => current.folder,
      opened: () => current.project,
      unsaved: () => current.unsaved().map((edit) => ({ edit, row: current.rowOf(edit) })),
      row: async () => ({ id: current.id, ...(await current.db.projects.get(current.id)) }),
      keep: async (wishes) => void (await current.db.projects.update(current.id, { wishes })),
    }),
  }
}

export type LaterServices = ReturnType<typeof laterServices>
