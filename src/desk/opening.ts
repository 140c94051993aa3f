import { Journal, type JournalEdit, applicable } from '../core/edit'
import { loadLanguages, roleOf } from '../core/language'
import { Project, routesOf, type Scale, scaleOf } from '../core/project'
import { toolOf } from '../folder'
import { mimeType } from '../live/mime'
import { loadProject, storeWhole, type UnreadFile } from '../storage/projects'
import type { Changes } from './changes'
import { LinkedFolder } from './linked-folder'
import type { OpenProject } from './open-project'
import type { Publishing } from './publishing'
import type { OpenedProject, RestRead } from './types'
import { UnreadFiles } from './unread-files'
import { Vocabularies, type VocabularyState } from './vocabularies'

/** How long reading ahead works at a time; ms. */
const SLICE = 30

/** Files that say what a project is made with. */
const SETTINGS = /(^|\/)(package\.json|[\w-]+\.config\.\w+)$/
/** What sheets may weigh that are read before the page is shown; bytes. */
const FIRST_SHEETS = 4 * 1024 * 1024

/** Opens a project, and reads what was too long to be waited for. */
export class Opening {
  constructor(
    private readonly current: OpenProject,
    private readonly publishing: Publishing,
    private readonly changes: Changes,
  ) {}

  vocabularyState: VocabularyState | null = null
  private isPartial = false

  tellVocabulary: (state: VocabularyState) => void = () => {}

  /** Opens a project and replays its journal; null when there is none of that id. */
  open(id: string, agentScript: string): Promise<OpenedProject | null> {
    return this.current.inTurn(() => this.openNow(id, agentScript))
  }

  private async openNow(id: string, agentScript: string): Promise<OpenedProject | null> {
    const loaded = await loadProject(this.current.db, id)
    if (!loaded) return null
    await loadLanguages([...loaded.files, ...loaded.unread].map((f) => f.path))
    this.current.id = id
    this.publishing.script = agentScript
    this.current.project = new Project(
      [...loaded.files, ...loaded.unread.map((f) => ({ ...f, bytes: null }))].sort((a, b) => a.key - b.key),
    )
    this.current.unread.stop()
    this.current.others = new Map(loaded.files.filter((f) => !this.current.project.has(f.path)).map((f) => [f.path, f.bytes]))
    // Nobody reads it back any more.
    const edits = loaded.edits.map((e): JournalEdit =>
      e.verdict.state === 'pending' ? { ...e, verdict: { state: 'unread', why: 'the page was left before it could be' } } : e,
    )
    // What was not made on these files is not applied to them.
    const good = applicable(edits, (path) =>
      this.current.project.has(path) && this.current.project.readOnly(path) === null ? this.current.project.original(path) : null,
    )
    const lost = edits.length - good
    this.current.journal = new Journal(edits.slice(0, good), Math.min(loaded.row.done, good))
    for (const edit of edits.slice(0, this.current.journal.done)) {
      this.changes.applyAll(edit.changes)
      this.current.bringIn(edit.adds)
    }
    this.current.saved = loaded.row.saved ?? 0
    this.current.leftOut = new Set(loaded.row.leftOut)
    this.current.deleted = new Set(loaded.row.deleted)
    this.current.conflicts.clear()
    this.current.outdated = false
    this.current.originals = new Map(loaded.files.map((f) => [f.path, f.bytes]))
    this.current.folder =
      loaded.folder &&
      new LinkedFolder(this.current.db, id, loaded.folder, loaded.onDisk, (path) => this.current.originals.get(path) ?? null)
    if (
      this.current.folder &&
      loaded.saving &&
      (await this.current.folder.access()) === 'granted' &&
      (await this.current.folder.recover(loaded.saving))
    ) {
      this.current.saved = loaded.saving.done
      this.current.leftOut = new Set(loaded.saving.leftOut)
    }
    this.isPartial = loaded.folder?.isPartial ?? false
    await this.readFirst(loaded.unread)
    this.vocabularyState = null
    this.current.vocabularies = new Vocabularies(
      this.current.db,
      this.current.project,
      () => [...this.current.project.writtenPaths(), ...this.current.others.keys()],
      (path) => this.current.readText(path),
      (state) => {
        this.vocabularyState = state
        this.tellVocabulary(state)
      },
    )
    await this.current.vocabularies.open()
    await this.current.db.projects.update(id, { opened: Date.now() })
    const paths = [...loaded.files, ...loaded.unread].map((f) => f.path)
    const scale = scaleOf(this.current.project, (sheet) => !sheet.isLong)
    return {
      id,
      name: loaded.row.name,
      pages: this.current.project.pages(),
      routes: /^(next|astro)$/.test(toolOf(this.current.readText('package.json') ?? '')?.tool ?? '') ? routesOf(paths) : [],
      sheets: this.current.project.sheetPaths(),
      written: this.current.project.writtenPaths(),
      readOnly: this.readOnly(),
      images: [...paths, ...(this.current.folder?.media ?? [])].filter((p) => mimeType(p).startsWith('image/')),
      scale,
      view: loaded.view,
      state: this.current.state(),
      lost,
    }
  }

  // What a page is styled with, and what says how, is there from the start; other files are read when they are asked for.
  private async readFirst(unread: readonly UnreadFile[]): Promise<void> {
    const { folder, project } = this.current
    this.current.unread = new UnreadFiles(unread, {
      read: async (paths) => folder!.readMany(paths),
      take: (read) => this.current.takeRead(read),
    })
    if (!folder || unread.length === 0) return
    if ((await folder.access()) !== 'granted') throw new Error(`Not all of its files are read yet. ${folder.howToOpen}`)
    let weight = 0
    const first = unread.filter(({ path, size }) => SETTINGS.test(path) || (roleOf(path) === 'sheet' && (weight += size) < FIRST_SHEETS))
    const [page] = project.pages()
    await this.current.unread.readNow([...first.map((f) => f.path), ...(page === undefined ? [] : [page])])
  }

  /** Reads what it was opened without; null where that is nothing. */
  async readRest(tell: (done: number, of: number) => void): Promise<RestRead | null> {
    const { project, unread, id, db } = this.current
    const wasWhole = unread.isWhole
    await unread.readAll(tell)
    if (this.current.project !== project) return null
    if (this.isPartial) await storeWhole(db, id, this.current.folder?.gone ?? new Set())
    this.isPartial = false
    if (wasWhole) return null
    const compiled = () => this.current.text(this.current.vocabularies?.target ?? '')
    const before = compiled()
    await this.current.vocabularies?.readMore()
    const target = this.current.vocabularies?.target
    const isOther = target && compiled() !== before
    return {
      scale: this.current.scale(),
      readOnly: this.readOnly(),
      sync: isOther ? this.publishing.compiledSheet() : [],
      files: isOther ? [this.publishing.publishedFile(target)] : [],
    }
  }

  private readOnly(): OpenedProject['readOnly'] {
    const { project } = this.current
    return project.writtenPaths().flatMap((path) => {
      const why = project.readOnly(path)
      return why ? [{ path, why }] : []
    })
  }

  private isReading = false

  /**
   * Reads the sheets that are too long to be waited for at the start, a part at a time. Gives what the project measures
   * with then; null when there are none, or it was stopped.
   */
  async readAhead(tell: (path: string, share: number) => void): Promise<Scale | null> {
    const { project } = this.current
    const long = project.allSheets().filter((ref) => ref.sheet.isLong)
    if (long.length === 0) return null
    this.isReading = true
    for (const ref of long) {
      for (const share of ref.sheet.readAhead(SLICE)) {
        if (!this.isReading || this.current.project !== project) return null
        tell(ref.path, share)
        // What is asked for meanwhile goes first.
        await new Promise((done) => setTimeout(done))
      }
    }
    this.current.vocabularies?.learn()
    return this.current.scale()
  }

  /** Lets the rest of long sheets be read when it is needed. */
  stopReading(): void {
    this.isReading = false
  }

  /** Has `tell` hear how far the vocabulary of utility classes is read, now and whenever that changes. */
  onVocabulary(tell: (state: VocabularyState) => void): void {
    this.tellVocabulary = tell
    if (this.vocabularyState) tell(this.vocabularyState)
  }
}
