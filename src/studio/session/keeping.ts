import { type FolderCheck, type Saved, type Written, theDesk } from '../../desk'
import type { Refused } from '../../core/css'
import type { Folder } from '../../folder'
import { getStudio, say, setStudio } from '../store'
import type { Timeline } from './timeline'
import type { Writing } from './writing'

/** How long the window rests between two looks at the folder while it is in front; ms. */
const LOOK = 4000
/** How long edits rest before they are saved by themselves; ms. */
const REST = 700

/** How long edits that are being read back keep a save waiting; ms. */
const LONGEST = 2000

const list = (paths: readonly string[]): string =>
  paths.length > 3 ? `${paths.slice(0, 3).join(', ')} and ${paths.length - 3} more` : paths.join(', ')

/** Says what went wrong, unless what is shown tells of its cause already: a folder that is gone fails at every look, and a save said more of it. */
function sayCause(outcome: string, error: unknown): void {
  const cause = error instanceof Error ? error.message : String(error)
  if (!getStudio().status?.text.includes(cause)) say('error', `${outcome} ${cause}`.trim())
}

/** Saves, the folder that a project is linked to, its history and its takes. */
export class Keeping {
  private timer: ReturnType<typeof setInterval> | undefined
  private unwatch: () => void = () => {}
  private looking: Promise<FolderCheck | null> | null = null
  private readonly onFocus = () => void this.look()

  constructor(
    private readonly writing: Writing,
    private readonly timeline: Timeline,
    private readonly reopen: () => void,
  ) {}

  /** Keeps an eye on the folder: as the browser tells of changes, else when the window comes to the front and now and then. */
  watch(folder: Folder | null): void {
    this.rest()
    if (!folder) return
    addEventListener('focus', this.onFocus)
    this.timer = setInterval(() => document.visibilityState === 'visible' && document.hasFocus() && void this.look(), LOOK)
    this.unwatch = folder.watch(() => {
      void this.look()
      void this.lookAtGit()
    })
    void this.lookAtGit()
    void this.look()
  }

  rest(): void {
    removeEventListener('focus', this.onFocus)
    clearInterval(this.timer)
    clearTimeout(this.soon)
    clearTimeout(this.keeps)
    this.unwatch()
    this.unwatch = () => {}
  }

  /** Looks whether someone else changed the folder, and takes in what they did. */
  look(): Promise<FolderCheck | null> {
    return (this.looking ??= this.lookNow().finally(() => {
      this.looking = null
    }))
  }

  private async lookNow(): Promise<FolderCheck | null> {
    try {
      const check = await theDesk().folder.check()
      if (check) await this.takeIn(check)
      // What could not be saved is tried again, and what keeps it is said again.
      if (check?.access === 'granted' && this.waited === 0) this.saveSoon()
      return check
    } catch (error) {
      sayCause('', error)
      return null
    }
  }

  private async lookAtGit(): Promise<void> {
    const git = await theDesk()
      .git.note()
      .catch(() => undefined)
    if (git !== undefined && JSON.stringify(git) !== JSON.stringify(getStudio().git)) setStudio({ git })
  }

  private async takeIn(check: FolderCheck): Promise<void> {
    const { access } = getStudio()
    if (access !== check.access) setStudio({ access: check.access })
    for (const written of check.written) await this.writing.updates.takeIn(written)
    if (check.written.length)
      say('info', `${list([...new Set(check.written.map((w) => w.path))])}: changed by someone else in the folder, and shown here.`)
    if (check.conflicts.join() !== getStudio().ledger.conflicts.join())
      setStudio({ ledger: { ...getStudio().ledger, conflicts: check.conflicts } })
    this.held = new Set(check.unreadable.map((u) => u.path))
    const [held] = check.unreadable
    if (held) say('error', `${held.why}${check.unreadable.length > 1 ? ` So are ${check.unreadable.length - 1} more.` : ''}`)
    if (check.reopen.length) {
      say('info', `${list(check.reopen)}: came, went or was replaced in the folder.`)
      // The edit under way is written to the project as it is, and its page is there to read it back.
      void this.writing.atRest().then(this.reopen)
    }
  }

  /** Asks the person to let the folder be read and written again; only a press of theirs may. */
  async askAccess(folder: Folder): Promise<void> {
    let access: PermissionState
    try {
      access = await folder.askAccess()
    } catch (error) {
      say('error', error instanceof Error ? error.message : String(error))
      return
    }
    setStudio({ access })
    if (access === 'granted') await this.look()
    else say('error', 'The browser does not let the folder be read. Your edits stay here until it does.')
  }

  private soon: ReturnType<typeof setTimeout> | undefined
  /** Files that the last look could not read: no save writes them. */
  private held: ReadonlySet<string> = new Set()
  /** How long a save has waited for edits to be read back; ms. */
  private waited = 0

  /** Where the person has each edit saved: saves once edits rest, all but those still being read back. */
  saveSoon(): void {
    clearTimeout(this.soon)
    const { preferences, ledger } = getStudio()
    if (
      preferences.save !== 'after each edit' ||
      ledger.folder === null ||
      ledger.readOnly ||
      ledger.conflicts.length ||
      ledger.changed.every((path) => this.held.has(path))
    )
      return
    this.soon = setTimeout(() => {
      const waits = getStudio().pulling !== null || getStudio().ledger.rows.some((r) => r.verdict.state === 'pending')
      // What is never read back does not keep the others from being saved.
      this.waited = waits ? this.waited + REST : 0
      if (waits && this.waited < LONGEST) this.saveSoon()
      else {
        this.waited = 0
        void this.saveByItself()
      }
    }, REST)
  }

  private keeps: ReturnType<typeof setTimeout> | undefined

  /** Keeps unsaved edits in the linked folder, once they rest, so that they are there if the browser clears its storage. */
  keepSoon(): void {
    clearTimeout(this.keeps)
    const { ledger, access } = getStudio()
    if (ledger.folder === null || ledger.readOnly || access !== 'granted') return
    this.keeps = setTimeout(() => {
      theDesk()
        .saving.keepUnsaved(getStudio().preferences.unsaved === 'in their folder too')
        .catch((error: unknown) => sayCause('Unsaved edits are in the browser alone.', error))
    }, REST)
  }

  /** Saves to the folder, but for the edits and other changes left out. Whether it was done. */
  async save(leave: readonly number[], leaveOthers: readonly string[] = []): Promise<boolean> {
    return (await this.trySave(leave, leaveOthers)).ok
  }

  /** Saves to the folder and commits; whether both were done. */
  async commit(leave: readonly number[], leaveOthers: readonly string[], message: string, branch: string | null): Promise<boolean> {
    const { saved, committed } = await theDesk().git.saveAndCommit(leave, leaveOthers, message, branch)
    await this.takeInSaved(saved)
    if (!saved.ok || committed === null) return false
    if (!committed.ok) {
      say('error', `${saved.files ? 'Saved, but not committed. ' : ''}${committed.why}`)
      return false
    }
    void this.lookAtGit()
    say(
      'info',
      `Committed ${committed.commit} on ${committed.branch}: ${list(committed.files)}.${committed.told ? ` Git said: ${committed.told}` : ''}`,
    )
    return true
  }

  private async saveByItself(): Promise<Saved> {
    const saved = await this.trySave([], [])
    // Held up only by a change of the folder that is in the project by now.
    return !saved.ok && saved.check?.written.length ? this.trySave([], []) : saved
  }

  /** Saves, which is said, where these files, which the page shows only as the folder has them, are not as they are there. */
  async writeAtOnce(paths: readonly string[]): Promise<void> {
    // The window may not have been brought to it yet. What another program changed is in the folder.
    const { changed } = await theDesk().current.state()
    if (!paths.some((path) => changed.includes(path))) return
    const saved = await this.saveByItself()
    if (saved.ok && saved.files > 0)
      say('info', `Written to the folder at once: a server that was running already shows what is there. Undo writes it back.`)
  }

  private async trySave(leave: readonly number[], leaveOthers: readonly string[]): Promise<Saved> {
    const saved = await theDesk().saving.save(leave, leaveOthers)
    await this.takeInSaved(saved)
    return saved
  }

  private async takeInSaved(saved: Saved): Promise<void> {
    if (!saved.ok) {
      say('error', saved.why)
      if (saved.check) await this.takeIn(saved.check)
      return
    }
    this.held = new Set(saved.held.map((h) => h.path))
    setStudio({ ledger: saved.state })
    void this.lookAtGit()
    const held = saved.held.length ? ` Not written: ${list(saved.held.map((h) => h.path))}, which cannot be read in the folder.` : ''
    say(
      held ? 'error' : 'info',
      (saved.files === 0
        ? 'There was nothing to save: the folder has all of it.'
        : `Saved: ${saved.files} ${saved.files === 1 ? 'file' : 'files'} written and read back.`) + held,
    )
  }

  /** Shows what an edit of the history or the takes did; why it was none. Whether it was done. */
  async show(work: () => Promise<Written | Refused | null>): Promise<boolean> {
    try {
      const done = await work()
      if (done && 'ok' in done) {
        say('error', done.why)
        return false
      }
      if (done) await this.timeline.showWritten(done)
      return true
    } catch (error) {
      say('error', error instanceof Error ? error.message : String(error))
      return false
    }
  }

  /** Switches to the next take; to the first after the last. */
  async nextTake(): Promise<void> {
    const { current, list: all } = await theDesk().takes.all()
    if (all.length < 2) {
      say('info', 'There is one take. Name another one in Takes, and this key switches between them.')
      return
    }
    const next = all[(all.findIndex((t) => t.id === current) + 1) % all.length]
    if (await this.switchTo(next.id)) say('info', `Current take: ${next.name}.`)
  }

  /** Switches to another take. Whether it was done. */
  async switchTo(id: string): Promise<boolean> {
    const done = await this.show(() => theDesk().takes.switchTake(id))
    // What someone else changed may meet the edits of this one.
    if (done) await this.look()
    return done
  }
}
