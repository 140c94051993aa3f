import { expose, transfer } from 'comlink'
import { ElementCascade, unknownDeclarations, type Evidence, type NewRuleRef, type PropertyAim } from '../../core/aim'
import { declarationsOf, resolvedSelectors, textOf, type OutlineRule, type Refused } from '../../core/css'
import { blockOutIntent, classForLayout, headIntent, htmlOf, nameOf, type BlockOut, Journal, readHead, type Head, type HeadField, planIntent, tellDrop, tellInsert, type NewFile, type SourcePlace, type PlannedEdit, type FileChange, type FileSplices, type Intent, type JournalEdit, type Verdict } from '../../core/edit'
import { changedByTag, Project, projectReach, rulesWithId, sourceOfRule, type MatchChange, type RuleNote, type SheetRef, type Touched } from '../../core/project'
import { scaleOf, type Scale } from '../../core/project/scale'
import { applySplices, createPatch, diffSplice, gitPath, LineFeeds, lineEndOf, type Span } from '../../core/text'
import { attribute, classesOf, spanOf } from '../../core/html'
import type { SyncOp } from '../../agent/protocol'
import { mimeType } from '../../live/mime'
import type { PublishedFile } from '../../live/protocol'
import { Database, type ViewRow } from '../../storage/db'
import { loadProject, storeDone, storeEdit, storeVerdict } from '../../storage/projects'
import { zipOf } from '../../storage/archive'
import { newFilePatch } from '../../storage/binary-patch'
import { readClassList } from '../../core/utility/class-list'
import { PageClient } from '../live/page-client'
import { completions, familyOf, readClassRows, type ClassRow, type Completion } from './class-rows'
import { Vocabularies, type VocabularyState } from './vocabularies'

/** An edit as the ledger shows it. */
export interface LedgerRow {
  readonly seq: number
  readonly path: string
  /** 1-based line in the file as it is now. */
  readonly line: number
  readonly name: string
  readonly before: string | null
  readonly after: string
  readonly label: string
  readonly element: string | null
  readonly reach: number
  readonly verdict: Verdict
}

export interface DeskState {
  readonly rows: readonly LedgerRow[]
  readonly changed: readonly string[]
  readonly canUndo: boolean
  readonly canRedo: boolean
  readonly done: number
}

export interface OpenedProject {
  readonly id: string
  readonly name: string
  readonly pages: readonly string[]
  /** Paths of its style sheets. */
  readonly sheets: readonly string[]
  /** Paths of all that is source text, scripts and the like too. */
  readonly written: readonly string[]
  /** Source files that stay as they are, with why. */
  readonly readOnly: readonly { readonly path: string; readonly why: string }[]
  readonly scale: Scale
  /** Paths of its pictures. */
  readonly images: readonly string[]
  readonly view: ViewRow | null
  readonly state: DeskState
}

/** An element as its file says it. */
export interface ElementSource {
  readonly tag: string
  readonly attributes: readonly { readonly name: string; readonly value: string }[]
  /** Its own texts in order, white space and all. */
  readonly texts: readonly string[]
  /** The sources of the elements in it. */
  readonly children: readonly string[]
  readonly parent: string | null
}

/** What an edit, undo or redo means for the live page and the screen. */
export interface Written {
  readonly state: DeskState
  readonly sync: readonly SyncOp[]
  readonly files: readonly PublishedFile[]
  readonly path: string
  readonly edit: JournalEdit
  /** Source of the element that is the one in hand after it; null where that stays. */
  readonly chosen: string | null
  readonly scale: Scale
}

/** A page as it was published and as it is now. */
interface PageTree {
  readonly file: number
  readonly before: string
  readonly after: string
}

const BATCH = 4 * 1024 * 1024

/** The open project, away from the interface's thread: reads, plans, writes to the journal and to IndexedDB. */
class Desk {
  private readonly db = new Database()
  private project: Project | null = null
  private journal = new Journal()
  private id = ''
  private script = ''
  private others = new Map<string, Uint8Array>()
  private vocabularies: Vocabularies | null = null
  private vocabularyState: VocabularyState | null = null
  private tellVocabulary: (state: VocabularyState) => void = () => {}
  /** Whether the live origin has an older compiled sheet. */
  private compiledAnew = false

  private get opened(): Project {
    if (!this.project) throw new RangeError('No project is open')
    return this.project
  }

  /** Opens a project and replays its journal; null when there is none of that id. */
  async open(id: string, agentScript: string): Promise<OpenedProject | null> {
    const loaded = await loadProject(this.db, id)
    if (!loaded) return null
    this.id = id
    this.script = agentScript
    this.project = new Project(loaded.files)
    this.others = new Map(loaded.files.filter((f) => !this.project!.has(f.path)).map((f) => [f.path, f.bytes]))
    this.journal = new Journal(loaded.edits, Math.min(loaded.row.done, loaded.edits.length))
    for (const edit of loaded.edits.slice(0, this.journal.done)) {
      this.applyAll(edit.changes)
      this.bringIn(edit.adds)
    }
    this.vocabularyState = null
    this.vocabularies = new Vocabularies(this.db, this.project, () => [...this.opened.writtenPaths(), ...this.others.keys()], (path) => this.readText(path), (state) => {
      this.vocabularyState = state
      this.tellVocabulary(state)
    })
    await this.vocabularies.open()
    await this.db.projects.update(id, { opened: Date.now() })
    const paths = loaded.files.map((f) => f.path)
    const scale = scaleOf(this.project)
    return {
      id, name: loaded.row.name, pages: this.project.pages(), sheets: this.project.sheetPaths(), written: this.project.writtenPaths(),
      readOnly: paths.flatMap((path) => {
        const why = this.project!.has(path) ? this.project!.readOnly(path) : null
        return why ? [{ path, why }] : []
      }),
      images: paths.filter((p) => mimeType(p).startsWith('image/')), scale, view: loaded.view, state: this.state(),
    }
  }

  private readText(path: string): string | null {
    if (this.opened.has(path)) return this.opened.text(path)
    const bytes = this.others.get(path)
    return bytes ? new TextDecoder().decode(bytes) : null
  }

  /** Has `tell` hear how far the vocabulary of utility classes is read, now and whenever that changes. */
  onVocabulary(tell: (state: VocabularyState) => void): void {
    this.tellVocabulary = tell
    if (this.vocabularyState) tell(this.vocabularyState)
  }

  private state(): DeskState {
    const { edits, done } = this.journal
    return {
      done,
      rows: edits.slice(0, done).map((e) => ({
        seq: e.seq, path: e.path, line: this.opened.lineAt(e.path, this.journal.offsetNow(e.seq)),
        name: e.name, before: e.before, after: e.after, label: e.label, element: e.element ?? null, reach: e.reach, verdict: e.verdict,
      })),
      changed: [...this.opened.changedPaths(), ...this.added.map((f) => f.path)],
      canUndo: this.journal.undoable !== null,
      canRedo: this.journal.redoable !== null,
    }
  }

  /** Files that edits in force brought in. */
  private get added(): readonly NewFile[] {
    return this.journal.edits.slice(0, this.journal.done).flatMap((e) => e.adds ?? [])
  }

  private bringIn(files: readonly NewFile[] = []): void {
    for (const f of files) this.others.set(f.path, f.bytes)
  }

  private takeOut(files: readonly NewFile[] = []): void {
    for (const f of files) this.others.delete(f.path)
  }

  /** What an edit brings in that is not there yet; null where another file has the name. */
  private newFiles(plan: PlannedEdit): NewFile[] | null {
    const same = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((x, i) => x === b[i])
    const there = (f: NewFile) => this.others.get(f.path)
    const all = plan.adds ?? []
    return all.some((f) => there(f) && !same(there(f)!, f.bytes)) ? null : all.filter((f) => !there(f))
  }

  private publishedFile(path: string): PublishedFile {
    const body = this.project!.has(path) || path === this.vocabularies?.target ? this.opened.published(path, this.script + (this.vocabularies?.head ?? '')) : this.others.get(path)!
    return { path, type: mimeType(path), body: typeof body === 'string' ? body : (body.slice().buffer as ArrayBuffer) }
  }

  /**
   * Files for the live origin, in batches that a message can carry: first the page that is to be shown and all that
   * pages ask for, or, as `rest`, the other pages.
   */
  async publish(shown: string, rest: boolean, each: (files: PublishedFile[], done: number, of: number) => Promise<void>): Promise<void> {
    const pages = this.opened.pages()
    // Pages that the shown one names may stand in its frames, so they cannot wait.
    const text = pages.includes(shown) ? this.opened.text(shown) : ''
    const first = new Set(pages.filter((p) => p === shown || text.includes(p.split('/').at(-1)!)))
    const paths = rest ? pages.filter((p) => !first.has(p)) : [...new Set([...first, ...this.opened.sheetPaths(), ...this.opened.textPaths(), ...this.others.keys(), ...(this.vocabularies?.target ? [this.vocabularies.target] : [])])]
    let batch: PublishedFile[] = []
    let size = 0
    for (const [i, path] of paths.entries()) {
      const file = this.publishedFile(path)
      batch.push(file)
      size += typeof file.body === 'string' ? file.body.length : file.body.byteLength
      if (size > BATCH || batch.length >= (rest ? 10 : 200) || i === paths.length - 1) {
        await each(batch, i + 1, paths.length)
        batch = []
        size = 0
      }
    }
  }

  /** How many elements the selectors match in the whole project, and on how many of its pages; null when that cannot be told. */
  projectReach(selectors: readonly string[]): { elements: number; pages: number } | null {
    return projectReach(this.opened, selectors)
  }

  outlines(keys: readonly string[]): Record<string, OutlineRule[]> {
    return Object.fromEntries(keys.filter((k) => this.opened.sheet(k)).map((k) => [k, this.opened.outline(k)]))
  }

  /** Declarations of rules that match, as `name: value`, that the engine has yet to be asked about. */
  unknown(evidence: Evidence): string[] {
    return unknownDeclarations(this.opened, evidence)
  }

  learn(answers: Readonly<Record<string, boolean>>): void {
    for (const [text, taken] of Object.entries(answers)) this.opened.taken.set(text, taken)
  }

  aims(evidence: Evidence, properties: readonly string[]): PropertyAim[] {
    const cascade = new ElementCascade(this.opened, evidence)
    return properties.map((p) => cascade.aim(p))
  }

  /** For each longhand, the declaration that decides it on the element itself: its line and value; null where none does. */
  winners(evidence: Evidence, longhands: readonly string[]): ({ line: number; value: string; level: number } | null)[] {
    const cascade = new ElementCascade(this.opened, evidence)
    return longhands.map((l) => cascade.winner(l))
  }

  private page: PageClient | null = null

  /** The port to the live page's agent that previews go through, past the interface's own thread. */
  usePage(port: MessagePort): void {
    this.page?.close()
    this.page = new PageClient(port, () => {}, () => {})
  }

  /** Plans an intent and shows it on the page; nothing is written. `exact` for the last step, which is read back. */
  async show(intent: Intent, exact: boolean): Promise<{ ok: true; before: string | null; after: string } | 'busy' | Refused> {
    const plan = planIntent(this.opened, intent)
    if (!plan.ok) return plan
    try {
      // The rules of new classes come to the page for good: without an element that has the class they do nothing.
      const lists = plan.preview.filter((op) => op.op === 'classes')
      if (exact && lists.length && this.compile(lists.map((op) => op.value ?? ''))) await this.page?.ask('sync', { ops: this.compiledSheet() })
      await this.page?.ask('preview', { ops: plan.preview, clear: false, exact })
      return { ok: true, before: plan.before, after: plan.after }
    } catch {
      return 'busy'
    }
  }

  /** Writes an edit: to the text, the journal and IndexedDB, in that order; a failed store takes the rest back. */
  async commit(intent: Intent, reach: number): Promise<Written | Refused> {
    const plan = planIntent(this.opened, intent)
    if (!plan.ok) return plan
    const adds = this.newFiles(plan)
    if (!adds) return { ok: false, reason: 'bad-name', why: `The project has another file of the name ${plan.adds!.map((f) => f.path).join(' or ')}.` }
    const trees: PageTree[] = []
    const { changes, touched } = this.applyAll(plan.changes, trees)
    const edit: JournalEdit = {
      ...(adds.length > 0 && { adds }),
      seq: this.journal.done + 1, changes, path: plan.path, name: plan.name, before: plan.before, after: plan.after,
      at: plan.at, label: plan.label, element: plan.element, reach, made: Date.now(), verdict: { state: 'pending' },
    }
    try {
      await storeEdit(this.db, this.id, edit)
    } catch (error) {
      this.takeBack(changes)
      throw new Error(`The edit could not be stored, so it was not made: ${String(error)}`, { cause: error })
    }
    this.journal.add(edit)
    this.bringIn(adds)
    return this.written(edit, touched, trees, await this.takeInClasses(plan.changes.map((c) => c.path), touched), plan.isElement ? this.elementAt(plan.path, plan.at) : null)
  }

  private compile(lists: readonly string[]): boolean {
    const anew = this.vocabularies?.compile(lists.flatMap((list) => readClassList(list).map((c) => c.name))) ?? false
    this.compiledAnew ||= anew
    return anew
  }

  private compiledSheet(): SyncOp[] {
    const key = this.vocabularies?.target
    return key ? [{ op: 'sheet', sheet: key, text: this.opened.sheet(key)!.sheet.text, outline: this.opened.outline(key) }] : []
  }

  private applyAll(changes: readonly FileSplices[], trees: PageTree[] | null = null): { changes: FileChange[]; touched: Touched[] } {
    const made: FileChange[] = []
    const touched: Touched[] = []
    try {
      for (const { path, splices } of changes) {
        const before = trees && this.mayRestructure(path, splices) ? this.published(path) : null
        const done = this.opened.apply(path, splices)
        if (trees && done.touched.structure && before !== null) trees.push({ file: this.opened.keyOf(path), before, after: this.published(path) })
        made.push({ path, splices, inverse: done.inverse })
        touched.push(done.touched)
      }
    } catch (error) {
      // One file that cannot be changed leaves none of them changed.
      this.takeBack(made)
      throw error
    }
    return { changes: made, touched }
  }

  // Whether tags come or go, so that the page has to be told its tree anew.
  private mayRestructure(path: string, splices: FileSplices['splices']): boolean {
    return /\.html?$/i.test(path) && splices.some((s) => s.insert.includes('<') || this.opened.text(path).slice(s.from, s.to).includes('<'))
  }

  private published(path: string): string {
    const { body } = this.publishedFile(path)
    return typeof body === 'string' ? body : new TextDecoder().decode(body)
  }

  private takeBack(changes: readonly FileChange[]): void {
    for (const c of [...changes].reverse()) this.opened.apply(c.path, c.inverse)
  }

  async step(by: 'undo' | 'redo'): Promise<Written | null> {
    const edit = by === 'undo' ? this.journal.undoable : this.journal.redoable
    if (!edit) return null
    const wanted = by === 'undo' ? [...edit.changes].reverse().map((c) => ({ path: c.path, splices: c.inverse })) : edit.changes
    const trees: PageTree[] = []
    const { changes, touched } = this.applyAll(wanted, trees)
    try {
      await storeDone(this.db, this.id, this.journal.done + (by === 'undo' ? -1 : 1))
    } catch (error) {
      this.takeBack(changes)
      throw new Error(`The step could not be stored, so it was not made: ${String(error)}`, { cause: error })
    }
    this.journal.moved(by === 'undo' ? -1 : 1)
    if (by === 'undo') this.takeOut(edit.adds)
    else this.bringIn(edit.adds)
    return this.written(edit, touched, trees, await this.takeInClasses(changes.map((c) => c.path), touched), null)
  }

  /** Has the compiled sheet follow an edit of class lists or of the theme; whether it is another. */
  private async takeInClasses(paths: readonly string[], touched: readonly Touched[]): Promise<boolean> {
    const lists = touched.flatMap((t) => t.attributes.flatMap((a) => (a.name === 'class' && a.value !== null ? [a.value] : [])))
    const more = touched.some((t) => t.structure) ? paths.filter((p) => /\.html?$/i.test(p)).map((p) => this.opened.text(p).replace(/["'<>=]/g, ' ')) : []
    const compiled = this.compile([...lists, ...more])
    const themed = (await this.vocabularies?.changed(paths)) ?? false
    this.compiledAnew ||= themed
    return compiled || themed
  }

  /** The element whose start tag stands at an offset. */
  private elementAt(path: string, at: number): string | null {
    const found = this.opened.document(path).elements.find((e) => e.startTag?.from === at)
    return found ? this.opened.sourceOf(path, found.id) : null
  }

  private written(edit: JournalEdit, touched: readonly Touched[], trees: readonly PageTree[], compiled: boolean, chosen: string | null): Written {
    const anew = touched.filter((t) => t.structure)
    // A tree says attributes and texts too.
    const sync: SyncOp[] = anew.length > trees.length
      ? [{ op: 'reload' }]
      : [...(compiled ? this.compiledSheet() : []), ...trees.map((t): SyncOp => ({ op: 'tree', ...t })), ...this.syncOf(touched.filter((t) => !t.structure))]
    const stale = this.compiledAnew && this.vocabularies?.target ? [this.vocabularies.target] : []
    this.compiledAnew = false
    const added = (edit.adds ?? []).filter((f) => this.others.has(f.path))
    const files = [...new Set([...edit.changes, ...added].map((f) => f.path).concat(stale))].map((path) => this.publishedFile(path))
    return { state: this.state(), sync, files, path: edit.path, edit, chosen, scale: scaleOf(this.opened) }
  }

  /** What a rule's declarations apply to, without nesting; empty when the rule is gone. */
  selectors(sheet: string, rule: number): string[] {
    const ref = this.opened.sheet(sheet)
    return ref?.sheet.hasRule(rule) ? resolvedSelectors(ref.sheet.site(rule)) : []
  }

  /** What a rule that is not there yet would apply to, without nesting. */
  newSelectors(ref: NewRuleRef): readonly string[] {
    const plan = planIntent(this.opened, { kind: 'set', aim: ref, name: '--reach', value: '0' })
    return plan.ok ? plan.selectors : [ref.selector]
  }

  /** A selector of the elements that have just the class list of this one. */
  listSelector(source: string): string[] {
    const value = this.opened.element(source)?.element.node.attrs.find((a) => a.name === 'class')?.value
    return value ? [`[class=${JSON.stringify(value).replace(/\\n/g, '\\a ')}]`] : []
  }

  /** The selectors that an edit would reach, empty where it reaches single elements only or is refused, and what it says of properties. */
  reachOf(intent: Intent): { selectors: readonly string[]; props: readonly string[] } {
    const plan = planIntent(this.opened, intent)
    return plan.ok ? { selectors: plan.selectors, props: plan.props ?? [] } : { selectors: [], props: [] }
  }

  /** Where elements would land if they were put at a place, in words, or why they cannot be. */
  tellDrop(sources: readonly string[], place: SourcePlace): { readonly ok: boolean; readonly words: string } {
    return tellDrop(this.opened, sources, place)
  }

  /** The same for HTML that is not there yet. */
  tellInsert(place: SourcePlace, html: string): { readonly ok: boolean; readonly words: string } {
    return tellInsert(this.opened, place, html)
  }

  /** What puts HTML at an offset of a page's file, told with line feeds alone: between elements as a place of its own, within a text as it is typed; or why not. */
  insertAt(path: string, offset: number, html: string, what: string): { readonly ok: boolean; readonly words: string; readonly intent: Extract<Intent, { kind: 'insert-html' | 'typed' }> | null } {
    const at = new LineFeeds(this.opened.text(path)).toFile(offset)
    const around = this.elementAround(path, at)
    if (around === null) return { ok: false, words: 'The caret stands in no element.', intent: null }
    const { doc, element } = this.opened.element(around)!
    const before = doc.elements.findLast((e) => e.parent === element && e.startTag && spanOf(doc, e)!.to <= at)
    const from = before ? spanOf(doc, before)!.to : element.startTag!.to
    const next = doc.elements.find((e) => e.parent === element && e.startTag && e.startTag.from >= at)?.startTag?.from ?? element.endTag?.from ?? at
    const place: SourcePlace = before ? { source: this.opened.sourceOf(path, before.id), where: 'after' } : { source: around, where: 'first' }
    const told = tellInsert(this.opened, place, html)
    if (!told.ok || doc.text.slice(from, next).trim() === '') return { ...told, intent: told.ok ? { kind: 'insert-html', place, html, what } : null }
    if (at < element.startTag!.to || (element.endTag && at > element.endTag.from)) return { ok: false, words: 'The caret stands in a tag.', intent: null }
    return { ok: true, words: `in the text of ${nameOf(element)}, where the caret stands`, intent: { kind: 'typed', path, splices: [{ from: at, to: at, insert: html }] } }
  }

  /** A class that the project does not have, and the last sheet of a page that a rule for it can stand in; null where there is none. */
  newRuleHome(stem: string, pageSheets: readonly string[]): { readonly className: string; readonly sheet: string } | null {
    const sheet = this.ownSheets(pageSheets).at(-1)
    const { classes } = this.names()
    let className = stem
    for (let n = 2; classes.includes(className); n++) className = `${stem}-${n}`
    return sheet ? { className, sheet: sheet.key } : null
  }

  private ownSheets(pageSheets: readonly string[]): SheetRef[] {
    return pageSheets.flatMap((key) => this.opened.sheet(key) ?? []).filter((ref) => this.opened.isEditable(ref))
  }

  /** What a layout over an element can be made of: its children, a class for it, and the sheets its rule can stand in, those of the page first. */
  blockOutOf(source: string, pageSheets: readonly string[]): { readonly className: string; readonly children: readonly { readonly source: string; readonly name: string; readonly tag: string }[]; readonly sheets: readonly { readonly key: string; readonly path: string }[]; readonly hasMain: boolean } {
    const found = this.opened.element(source)!
    const children = found.doc.elements.filter((e) => e.parent === found.element && e.startTag)
    const own = this.ownSheets(pageSheets)
    return {
      className: classForLayout(this.opened, source), hasMain: found.doc.elements.some((e) => e.node.tagName === 'main'),
      children: children.map((e) => ({ source: this.opened.sourceOf(found.path, e.id), name: nameOf(e), tag: e.node.tagName })),
      sheets: [...new Map(own.map((ref) => [ref.key, { key: ref.key, path: ref.path }])).values()],
    }
  }

  /** A drawn layout as an edit, or why it is none. */
  blockOut(drawn: BlockOut): Intent | Refused {
    return blockOutIntent(this.opened, drawn)
  }

  /** The rules that a drawn layout would bring, as the sheet will have them; or why it cannot be written. */
  blockOutText(drawn: BlockOut): { readonly ok: boolean; readonly text: string } {
    const intent = blockOutIntent(this.opened, drawn)
    const plan = 'ok' in intent ? intent : planIntent(this.opened, intent)
    if (!plan.ok) return { ok: false, text: plan.why }
    const lines = plan.changes.map(({ path, splices }) => {
      const before = this.opened.text(path)
      const added = createPatch([{ path, before, after: applySplices(before, splices), bom: false }]).split('\n').filter((l) => /^\+(?!\+\+ )/.test(l))
      return [path, ...added.map((l) => l.slice(1).trimEnd())].join('\n')
    })
    return { ok: true, text: lines.join('\n\n') }
  }

  /** The elements as their file has them, one after the other. */
  html(sources: readonly string[]): string {
    const found = sources.flatMap((s) => this.opened.element(s) ?? [])
    return found.map((f) => htmlOf(f.doc, [f.element])).join('\n')
  }

  /** The classes of an element, each with what it does and whether it counts. `evidence` is of the element itself; null for one around it. */
  classList(source: string, evidence: Evidence | null): ClassRow[] {
    return readClassRows(this.opened, source, evidence)
  }

  /** The classes that could stand in a class's place, in order. */
  familyOf(name: string): string[] {
    return familyOf(this.opened, name)
  }

  /** Classes that answer what was typed, the best first. */
  completions(typed: string): Completion[] {
    return completions(this.opened, typed)
  }

  /** What makes the page show the files as saved, or as they are now again; `whole` when styles and attributes are all of it. */
  asSaved(saved: boolean): { ops: SyncOp[]; whole: boolean } {
    const edits = this.journal.edits.slice(0, this.journal.done)
    const back: Touched[] = []
    for (const edit of [...edits].reverse()) for (const c of [...edit.changes].reverse()) back.push(this.opened.apply(c.path, c.inverse).touched)
    const then = saved ? this.syncOf(back) : []
    const forth = edits.flatMap((edit) => edit.changes.map((c) => this.opened.apply(c.path, c.splices).touched))
    const now = saved ? [] : this.syncOf(forth)
    return { ops: saved ? then : now, whole: !back.some((t) => t.structure) }
  }

  // Each sheet once, as it is at this moment; attributes in the order they changed.
  private syncOf(touched: readonly Touched[]): SyncOp[] {
    const keys = [...new Set(touched.flatMap((t) => t.sheets))].filter((key) => this.opened.sheet(key))
    return [
      ...keys.map((sheet): SyncOp => ({ op: 'sheet', sheet, text: this.opened.sheet(sheet)!.sheet.text, outline: this.opened.outline(sheet) })),
      ...touched.flatMap((t): SyncOp[] => [...t.attributes.map((a): SyncOp => ({ op: 'attribute', ...a })), ...t.texts.map((x): SyncOp => ({ op: 'text', ...x }))]),
    ]
  }

  /** The font files that `@font-face` rules name, with what they are (CSS Fonts 4 §4). */
  faces(): { family: string; weight: string; style: string; bytes: Uint8Array }[] {
    const out: { family: string; weight: string; style: string; bytes: Uint8Array }[] = []
    for (const ref of this.opened.allSheets()) {
      for (const site of ref.sheet.rules()) {
        if (site.rule.kind !== 'at' || site.rule.name !== 'font-face') continue
        const of = (name: string) => declarationsOf(site.rule).filter((d) => d.name === name).map((d) => textOf(site, d.value)).at(-1) ?? ''
        const url = /url\(\s*["']?([^"')]+)/i.exec(of('src'))?.[1]
        const path = url && decodeURIComponent(new URL(url, `http://x/${ref.path}`).pathname.slice(1))
        const bytes = path ? this.others.get(path) : undefined
        if (bytes) out.push({ family: of('font-family').replace(/^["']|["']$/g, ''), weight: of('font-weight') || 'normal', style: of('font-style') || 'normal', bytes: bytes.slice() })
      }
    }
    return out
  }

  /** Where a face would come into the project: the first sheet of the page that has one, else its first; and the folder of its fonts. */
  faceHome(sheets: readonly string[]): { sheet: string; folder: string } | null {
    const own = this.ownSheets(sheets)
    const home = own.find((ref) => [...ref.sheet.rules()].some((s) => s.rule.kind === 'at' && s.rule.name === 'font-face')) ?? own[0]
    const font = [...this.others.keys()].find((path) => /\.(woff2?|ttf|otf)$/i.test(path))
    return home ? { sheet: home.key, folder: font ? font.split('/').slice(0, -1).join('/') : 'fonts' } : null
  }

  lineAt(path: string, offset: number): number {
    return this.opened.lineAt(path, offset)
  }

  async judge(seq: number, verdict: Verdict): Promise<DeskState> {
    const edit = this.journal.judge(seq, verdict)
    if (edit) await storeVerdict(this.db, this.id, edit)
    return this.state()
  }

  text(path: string): string | null {
    return this.opened.has(path) || path === this.vocabularies?.target ? this.opened.text(path) : null
  }

  /** Where an element stands in its file; null when it is gone. */
  place(source: string): { path: string; line: number } | null {
    const found = this.opened.element(source)
    return found?.element.startTag ? { path: found.path, line: found.doc.lineAt(found.element.startTag.from) } : null
  }

  elementOf(source: string): ElementSource | null {
    const found = this.opened.element(source)
    const node = found?.element.node
    const sourceOf = (e: { readonly id: number; readonly startTag: unknown }) => (e.startTag ? [this.opened.sourceOf(found!.path, e.id)] : [])
    return node ? {
      children: found.doc.elements.filter((e) => e.parent === found.element).flatMap(sourceOf), parent: found.element.parent ? (sourceOf(found.element.parent)[0] ?? null) : null,
      tag: node.tagName, attributes: node.attrs.map(({ prefix, name, value }) => ({ name: prefix ? `${prefix}:${name}` : name, value })),
      texts: node.childNodes.flatMap((c) => ('value' in c && c.nodeName === '#text' ? [c.value] : [])),
    } : null
  }

  /** Writes what was typed into a file, from `base` to `text`, both with line feeds alone; other edits made since `base` stay. Null where there is nothing to write. */
  async typed(path: string, base: string, text: string): Promise<Written | Refused | null> {
    const now = this.opened.text(path)
    const feeds = new LineFeeds(now)
    const typed = diffSplice(base, text)
    if (!typed) return null
    const other = diffSplice(base, feeds.text)
    const isBefore = !other || typed.to <= other.from
    if (!isBefore && typed.from < other.to) return { ok: false, reason: 'bad-value', why: 'Another edit changed the file in the same place. Undo it, or take back what was typed.' }
    const by = isBefore ? 0 : other.insert.length - (other.to - other.from)
    const change = { from: typed.from + by, to: typed.to + by, insert: typed.insert }
    const insert = lineEndOf(now) === '\n' ? change.insert : change.insert.replace(/\n/g, lineEndOf(now))
    return this.commit({ kind: 'typed', path, splices: [{ from: feeds.toFile(change.from), to: feeds.toFile(change.to), insert }] }, 0)
  }

  /** What stands at an offset of a file, with line feeds alone: an element, or the rule's selectors. */
  standsAt(path: string, offset: number): { readonly source: string } | { readonly sheet: string; readonly rule: number; readonly selectors: readonly string[] } | null {
    const at = new LineFeeds(this.opened.text(path)).toFile(offset)
    if (!/\.html?$/i.test(path)) return this.ruleAt(this.opened.sourceSheet(path), at)
    const doc = this.opened.document(path)
    const style = doc.embeddedSheets().find((s) => at >= s.content.from && at <= s.content.to)
    if (style) return this.ruleAt(this.opened.sheet(`#${this.opened.sourceOf(path, style.element)}`), at - style.content.from)
    const source = this.elementAround(path, at)
    return source === null ? null : { source }
  }

  private ruleAt(ref: SheetRef | null, at: number): { sheet: string; rule: number; selectors: string[] } | null {
    const statement = ref?.sheet.statementAt(at)
    const site = statement && [...ref!.sheet.rulesOf(statement)].findLast((s) => s.rule.kind === 'style' && at >= s.statement.start + s.rule.span.from && at <= s.statement.start + s.rule.span.to)
    return site ? { sheet: ref!.key, rule: site.rule.id, selectors: resolvedSelectors(site) } : null
  }

  /** The innermost element that an offset of a page's file stands in. */
  elementAround(path: string, at: number): string | null {
    const doc = this.opened.document(path)
    const found = doc.elements.findLast((e) => {
      const span = spanOf(doc, e)
      return span !== null && at >= span.from && at <= span.to
    })
    return found ? this.opened.sourceOf(path, found.id) : null
  }

  /** Where the tags of an element, and the selectors of rules, stand in a file; offsets with line feeds alone. */
  marks(path: string, source: string | null, rules: readonly { readonly sheet: string; readonly rule: number }[]): Span[] {
    if (!this.opened.has(path)) return []
    const feeds = new LineFeeds(this.opened.text(path))
    const spans: Span[] = []
    const found = source ? this.opened.element(source) : null
    if (found?.path === path) for (const s of [found.element.startTag, found.element.endTag]) if (s) spans.push(s)
    for (const r of rules) {
      const ref = this.opened.sheet(r.sheet)
      if (!ref?.sheet.hasRule(r.rule)) continue
      const own = ref.sheet.site(r.rule)
      const place = ref.generated === null ? { ref, site: own } : sourceOfRule(this.opened, ref, own)
      if (place?.ref.path !== path) continue
      const start = place.ref.base + place.site.statement.start
      spans.push({ from: start + place.site.rule.prelude.from, to: start + place.site.rule.prelude.to })
    }
    return spans.filter((s) => s.to > s.from).sort((a, b) => a.from - b.from).map((s) => ({ from: feeds.fromFile(s.from), to: feeds.fromFile(s.to) }))
  }

  /** Names that the project has, for completion: classes, ids, custom properties. */
  names(): { readonly classes: readonly string[]; readonly ids: readonly string[]; readonly tokens: readonly string[] } {
    const classes = new Set<string>()
    const ids = new Set<string>()
    for (const page of this.opened.pages()) {
      if (this.opened.readOnly(page)) continue
      for (const e of this.opened.document(page).elements) {
        for (const c of classesOf(e.node)) classes.add(c)
        const id = attribute(e.node, 'id')
        if (id) ids.add(id)
      }
    }
    for (const ref of this.opened.allSheets()) if (ref.generated === null) for (const [, name] of ref.sheet.text.matchAll(/\.(-?[a-z_][\w-]*)(?=[^{}]*\{)/gi)) classes.add(name)
    return { classes: [...classes], ids: [...ids], tokens: scaleOf(this.opened).tokens.map((t) => t.name) }
  }

  /** The ids of the page that an element is on. */
  idsBeside(source: string): string[] {
    const found = this.opened.element(source)
    return found ? found.doc.elements.flatMap((e) => attribute(e.node, 'id') ?? []) : []
  }

  head(page: string): Head | null {
    return this.opened.has(page) && this.opened.readOnly(page) === null ? readHead(this.opened, page) : null
  }

  /** What gives a field of a page's head a value, or takes it away with null. */
  headIntent(page: string, field: HeadField, value: string | null): Intent | Refused {
    return headIntent(this.opened, page, field, value)
  }

  /** What another tag name would change: the rules that would match other elements, or why it cannot be. */
  retag(source: string, tag: string): { readonly why: string | null; readonly changes: readonly MatchChange[] } {
    const plan = planIntent(this.opened, { kind: 'set-tag', source, tag })
    return { why: plan.ok ? null : plan.why, changes: plan.ok ? changedByTag(this.opened, source, tag.toLowerCase()) : [] }
  }

  rulesWithId(id: string): readonly RuleNote[] {
    return rulesWithId(this.opened, id)
  }

  async saveView(view: Omit<ViewRow, 'project'>): Promise<void> {
    if (this.id) await this.db.views.put({ ...view, project: this.id })
  }

  private bytes(path: string): Uint8Array {
    return this.opened.has(path) ? this.opened.bytes(path) : this.others.get(path)!
  }

  async zip(): Promise<Uint8Array> {
    const paths = [...this.opened.writtenPaths(), ...this.others.keys()]
    const out = await zipOf(paths.map((path) => ({ path, bytes: this.bytes(path) })))
    return transfer(out, [out.buffer as ArrayBuffer])
  }

  file(path: string): Uint8Array {
    return this.bytes(path)
  }

  async patch(): Promise<string> {
    const added = await Promise.all(this.added.map((f) => newFilePatch((prefix) => gitPath(prefix, f.path), f.bytes)))
    return added.join('') + createPatch(this.opened.changedPaths().map((path) => ({
      path, before: this.opened.original(path), after: this.opened.text(path), bom: this.opened.hasBom(path),
    })))
  }
}

export type DeskApi = Desk

expose(new Desk())
