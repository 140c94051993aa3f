import { proxy, type ProxyMarked } from 'comlink'
import { Changes } from './changes'
import { Commits } from './commits'
import { Editing } from './editing'
import { Exports } from './exports'
import { FolderChanges } from './folder-changes'
import { Handing } from './handing'
import { EditHistory } from './history'
import { OpenProject } from './open-project'
import { Opening } from './opening'
import { PageSync } from './page-sync'
import { Places } from './places'
import { Points } from './points'
import { Publishing } from './publishing'
import { Reading } from './reading'
import { Saving } from './saving'
import { SinceLastCommit } from './since-commit'
import { Takes } from './takes'
import { whenWhole } from './when-whole'

/** The worker's services, put together around one open project. Each is called by its own name from the window. */
export class Desk {
  readonly current = proxy(new OpenProject())
  readonly publishing = proxy(new Publishing(this.current))
  readonly pageSync = proxy(
    new PageSync(
      () => this.current.project,
      (path) => this.current.savedText(path),
    ),
  )
  readonly changes = proxy(new Changes(this.current, this.publishing, this.pageSync))
  readonly opening = proxy(new Opening(this.current, this.publishing, this.changes))
  readonly editing = this.service(new Editing(this.current, this.publishing, this.changes))
  readonly places = this.service(new Places(this.current))
  readonly reading = this.service(new Reading(this.current, this.places))
  readonly history = this.service(new EditHistory(this.current, this.changes))
  readonly points = this.service(new Points(this.current, this.publishing))
  readonly takes = this.service(new Takes(this.current, this.changes, this.points))
  readonly folder = proxy(new FolderChanges(this.current, this.changes))
  readonly saving = this.service(new Saving(this.current, this.pageSync, this.takes, this.folder))
  readonly exports = this.service(new Exports(this.current, this.saving, this.places))

  readonly sinceCommit = this.service(new SinceLastCommit(this.current, this.saving))

  // What it says and changes is not to be of a part of the project.
  private service<T extends object>(service: T): T & ProxyMarked {
    return proxy(whenWhole(service, () => this.current.whole))
  }

  /** The repository of the folder. */
  readonly git = proxy(
    new Commits({
      folder: () => this.current.folder,
      opened: () => this.current.project,
      inForce: () => this.current.inForce,
      without: (leave) => this.current.without(leave),
      bytes: (path) => this.current.bytes(path),
      save: (leave, leaveOthers) => this.saving.save(leave, leaveOthers),
      alone: (work) => this.folder.alone(work),
      noteBranch: async (branch) => void (await this.current.db.folders.update(this.current.id, { branch })),
    }),
  )

  /** What is wished for, and what assistants and colleagues are told. */
  readonly handing = proxy(
    new Handing({
      folder: () => this.current.folder,
      opened: () => this.current.project,
      unsaved: () => this.current.unsaved().map((edit) => ({ edit, row: this.current.rowOf(edit) })),
      row: async () => ({ id: this.current.id, ...(await this.current.db.projects.get(this.current.id)) }),
      keep: async (wishes) => void (await this.current.db.projects.update(this.current.id, { wishes })),
    }),
  )
}
