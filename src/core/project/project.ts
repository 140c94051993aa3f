import { declarationsOf, isRootRule, measureHouseStyle, packedOutline, Sheet, SheetMemo, valueOf, type Declaration, type HouseStyle, type Knowledge, type PackedOutline, type RuleSite } from '../css'
import { HtmlDocument, publishHtml } from '../html'
import { applySplices, decodeSource, encodeSource, EncodingError, LineIndex, normalizeSplices, type Span, type Splices } from '../text'
import { ValueKinds } from './value-kinds'

export type FileKind = 'html' | 'css' | 'text' | 'binary'

/** A file as it was brought in or last saved. */
export interface StoredFile {
  /** Small number that stands for the file in element ids; never reused in its project. */
  readonly key: number
  /** From the project's root, `/` between folders. */
  readonly path: string
  readonly bytes: Uint8Array
}

interface OpenFile {
  readonly key: number
  readonly path: string
  readonly kind: FileKind
  readonly bom: boolean
  /** Why it cannot be edited; null when it can. */
  readonly readOnly: string | null
  readonly original: string
  /** The bytes of a file that cannot be decoded. */
  readonly raw: Uint8Array | null
  /** Read when it is first asked for: most pages of a large site are not, for a long time. */
  doc: HtmlDocument | null
  sheet: Sheet | null
  text: string | null
  style: HouseStyle | null
}

/** A style sheet wherever it stands: a file, or the text of a `<style>` element. */
export interface SheetRef {
  /** The path of its file, `#` and the source of its element, or `=` and the path of a file that another sheet is served in the place of. */
  readonly key: string
  readonly path: string
  readonly sheet: Sheet
  readonly style: HouseStyle
  /** What to add to the sheet's offsets to get offsets of the file. */
  readonly base: number
  /** What the sheet was worked out from, when it is no file of the project and so cannot be edited; else null. */
  readonly generated: string | null
}

export interface TokenDefinition {
  readonly ref: SheetRef
  readonly site: RuleSite
  readonly declaration: Declaration
}

/** What an applied edit changed, for the live page. */
export interface Touched {
  readonly sheets: readonly string[]
  /** Attributes of source elements that have another value now; null when they are gone. */
  readonly attributes: readonly { readonly source: string; readonly name: string; readonly value: string | null }[]
  /** Texts of source elements, by their place among the element's texts. */
  readonly texts: readonly { readonly source: string; readonly index: number; readonly before: string; readonly after: string }[]
  /** The page has to be loaded again: its tree is another, or its text in a way that is not told above. */
  readonly structure: boolean
}

const EXTENSIONS = new Map<string, FileKind>(Object.entries({
  html: 'html', htm: 'html', css: 'css', js: 'text', mjs: 'text', cjs: 'text', jsx: 'text', ts: 'text', tsx: 'text', webmanifest: 'text', json: 'text', svg: 'text', txt: 'text', md: 'text', xml: 'text',
}))

export const kindOf = (path: string): FileKind => EXTENSIONS.get(/\.([^./]+)$/.exec(path)?.[1].toLowerCase() ?? '') ?? 'binary'

/** Whether a sheet is what a compiler of utility classes wrote: its banner says so. The next build writes it again. */
export const isOfUtilities = (sheet: Sheet): boolean => /^\s*\/\*!\s*tailwindcss\b/i.test(sheet.slice(0, 200))

/** Whether a sheet is one where an author writes nothing: in a folder of packages, or compiled. */
export const isVendored = ({ path, sheet }: Pick<SheetRef, 'path' | 'sheet'>): boolean => isOfUtilities(sheet) || /(^|\/)(vendors?|node_modules|bower_components|third-?party)\//i.test(path)

/** Whether a sheet came with what the project uses, and is not written by hand: kept in a folder for such, or made smaller for serving. */
export const isLibrary = ({ path, sheet }: Pick<SheetRef, 'path' | 'sheet'>): boolean => isVendored({ path, sheet }) || /[.-]min\.css$|(^|\/)(normalize|sanitize|bootstrap(-grid|-reboot|-utilities)?|bulma|foundation|font-?awesome|animate|swiper|leaflet)\.css$/i.test(path)

const REPLACED = '='

interface Embedded {
  readonly sheet: Sheet
  readonly style: HouseStyle
  base: number
}

function note<T>(lists: Map<string, T[]>, name: string, ...more: readonly T[]): void {
  const list = lists.get(name)
  if (list) list.push(...more)
  else lists.set(name, [...more])
}

// Where a sheet defines custom properties for the whole document, and which rules use each, once for each declaration.
const TOKENS = new SheetMemo((sheet) => {
  const uses = new Map<string, RuleSite[]>()
  const definitions: { site: RuleSite; declaration: Declaration }[] = []
  for (const site of sheet.rules()) {
    const isRoot = isRootRule(site)
    for (const declaration of declarationsOf(site.rule)) {
      const value = valueOf(site, declaration)
      if (value.includes('--')) for (const [, name] of value.matchAll(/var\(\s*(--[^\s,)]+)/gi)) note(uses, name, site)
      if (isRoot && declaration.name.startsWith('--')) definitions.push({ site, declaration })
    }
  }
  return { uses, definitions }
})

/** The files of a project, read; edits are splices to their text. No storage and no page: those are told what changed. */
export class Project {
  private readonly files = new Map<string, OpenFile>()
  private readonly byKey = new Map<number, OpenFile>()
  private readonly embedded = new Map<string, Embedded>()
  /** Sheets that stand for files which a build would write, by the path they are served at. */
  private readonly generated = new Map<string, { sheet: Sheet; style: HouseStyle; from: string; sources: readonly string[] }>()

  constructor(stored: readonly StoredFile[]) {
    for (const f of stored) {
      const kind = kindOf(f.path)
      if (kind === 'binary') continue
      const file = open(f, kind)
      this.files.set(f.path, file)
      this.byKey.set(f.key, file)
    }
  }

  /** Counts up with each edit: what is derived from rules as objects is stale then. */
  ruleRevision = 0
  /** Counts up with each edit of a page: what is matched against elements is stale then. */
  treeRevision = 0

  /** Declarations, as `name: value`, by whether the engine takes them; filled by who can ask it. */
  readonly taken = new Map<string, boolean>()

  readonly knowledge: Knowledge = {
    takes: (name, value) => this.taken.get(`${name}: ${value}`) ?? true,
    kindOf: (component) => this.kinds.of(component),
  }

  private knownKinds: ValueKinds | null = null

  private get kinds(): ValueKinds {
    return (this.knownKinds ??= new ValueKinds(this.allSheets().flatMap(({ sheet }) => [...sheet.rules()])))
  }

  private tokens: { of: number; uses: Map<string, RuleSite[]>; definitions: Map<string, TokenDefinition[]> } | null = null

  private readTokens(): NonNullable<Project['tokens']> {
    if (this.tokens?.of === this.ruleRevision) return this.tokens
    const uses = new Map<string, RuleSite[]>()
    const definitions = new Map<string, TokenDefinition[]>()
    // What a compiled sheet is made from is in it once more.
    const compiled = new Set(this.generatedSheets().flatMap((g) => g.sources.map((s) => s.key)))
    for (const ref of this.allSheets()) {
      const here = TOKENS.of(ref.sheet)
      if (!compiled.has(ref.key)) for (const [name, sites] of here.uses) note(uses, name, ...sites)
      for (const { site, declaration } of here.definitions) note(definitions, declaration.name, { ref, site, declaration })
    }
    return (this.tokens = { of: this.ruleRevision, uses, definitions })
  }

  /** The rules whose declarations use a custom property, once for each of these. */
  tokenUsers(name: string): readonly RuleSite[] {
    return this.readTokens().uses.get(name) ?? []
  }

  /** Where a custom property is defined for the whole document. */
  tokenDefinitions(name: string): readonly TokenDefinition[] {
    return this.readTokens().definitions.get(name) ?? []
  }

  /** Whether a rule anywhere in the project defines the custom property. */
  definesVariable(name: string): boolean {
    return this.kinds.has(name)
  }

  /** Whether a name stands anywhere in a sheet or page, so that a new class cannot have it. */
  mentions(name: string): boolean {
    for (const f of this.files.values()) if (this.text(f.path).includes(name)) return true
    return false
  }

  /** The project's pages, in order of their paths, `index.html` first. */
  pages(): string[] {
    const rank = (p: string) => (p === 'index.html' ? 0 : 1)
    return [...this.files.values()].filter((f) => f.kind === 'html').map((f) => f.path)
      .sort((a, b) => rank(a) - rank(b) || a.split('/').length - b.split('/').length || a.localeCompare(b))
  }

  /** Puts a sheet in the place of the file that a build would write from `from`, out of the sheets at `sources`. What the rules were is gone with them. */
  setGenerated(path: string, text: string, from: string, sources: readonly string[] = []): void {
    const known = this.generated.get(path)
    if (known?.sheet.text === text) return
    const sheet = new Sheet(text)
    this.generated.set(path, { sheet, style: measureHouseStyle(sheet), from, sources })
    this.ruleRevision++
    this.knownKinds = null
  }

  /** The sheets that stand for files which a build would write, each with those of the project's own that it is compiled from. */
  generatedSheets(): { readonly ref: SheetRef; readonly sources: readonly SheetRef[] }[] {
    return [...this.generated].map(([path, { sources }]) => ({ ref: this.sheet(path)!, sources: sources.flatMap((s) => this.sourceSheet(s) ?? []) }))
  }

  sheetPaths(): string[] {
    return [...this.files.values()].filter((f) => f.kind === 'css').map((f) => f.path)
  }

  /** All that is source text: pages, sheets, and scripts and the like, each kind by its paths. */
  writtenPaths(): string[] {
    return [...this.pages(), ...this.sheetPaths(), ...this.textPaths()]
  }

  /** Source text that is neither page nor sheet. */
  textPaths(): string[] {
    return [...this.files.values()].filter((f) => f.kind === 'text').map((f) => f.path)
  }

  has(path: string): boolean {
    return this.files.has(path)
  }

  private file(path: string): OpenFile {
    const file = this.files.get(path)
    if (!file) throw new RangeError(`The project has no source file ${path}`)
    return file
  }

  /** Why the file cannot be edited; null when it can. */
  readOnly(path: string): string | null {
    const made = this.files.has(path) ? null : this.generated.get(path)
    return made ? `it is compiled from ${made.from}` : this.file(path).readOnly
  }

  /** Whether rules can be added to a sheet and changed in it. */
  isEditable(ref: SheetRef): boolean {
    return ref.generated === null && this.readOnly(ref.path) === null
  }

  text(path: string): string {
    const made = this.files.has(path) ? null : this.generated.get(path)
    if (made) return made.sheet.text
    const f = this.file(path)
    return f.sheet?.text ?? f.doc?.text ?? f.text ?? f.original
  }

  original(path: string): string {
    return this.file(path).original
  }

  /** The file's bytes as they are now. */
  bytes(path: string): Uint8Array {
    const f = this.file(path)
    return f.raw ?? encodeSource({ bom: f.bom, text: this.text(path) })
  }

  hasBom(path: string): boolean {
    return this.file(path).bom
  }

  /** 1-based line of an offset in the file as it is now. */
  lineAt(path: string, offset: number): number {
    const made = this.files.has(path) ? null : this.generated.get(path)
    if (made) return lineIn(made.sheet, offset)
    const f = this.file(path)
    const doc = this.docOf(f)
    if (doc) return doc.lineAt(offset)
    return f.sheet ? lineIn(f.sheet, offset) : new LineIndex(this.text(path)).lineAt(offset)
  }

  /** 1-based line of an offset in a sheet's file. */
  lineIn(ref: SheetRef, offset: number): number {
    return ref.generated === null ? this.lineAt(ref.path, ref.base + offset) : lineIn(ref.sheet, offset)
  }

  private docOf(file: OpenFile): HtmlDocument | null {
    if (file.kind === 'html' && !file.doc && !file.readOnly) {
      file.doc = new HtmlDocument(file.original)
      this.refreshEmbedded(file, null)
    }
    return file.doc
  }

  document(path: string): HtmlDocument {
    const doc = this.docOf(this.file(path))
    if (!doc) throw new RangeError(`${path} is not an HTML file`)
    return doc
  }

  /** The document and element of a source such as `3.17`; null when it is not in the project any more. */
  element(source: string): { path: string; doc: HtmlDocument; element: ReturnType<HtmlDocument['element']> } | null {
    const [key, id] = source.split('.').map(Number)
    const file = this.byKey.get(key)
    const doc = file ? this.docOf(file) : null
    return file && doc?.has(id) ? { path: file.path, doc, element: doc.element(id) } : null
  }

  /** The number that stands for a file in the ids of its elements. */
  keyOf(path: string): number {
    return this.file(path).key
  }

  /** The source of an element of a page, as {@link element} takes it. */
  sourceOf(page: string, id: number): string {
    return `${this.file(page).key}.${id}`
  }

  sheet(key: string): SheetRef | null {
    const made = this.generated.get(key)
    if (made) return { key, path: key, sheet: made.sheet, style: made.style, base: 0, generated: made.from }
    if (key.startsWith(REPLACED)) return this.sourceSheet(key.slice(REPLACED.length))
    if (key.startsWith('#')) {
      const file = this.byKey.get(Number(key.slice(1).split('.')[0]))
      if (file) this.docOf(file)
      const found = this.embedded.get(key)
      return found && file ? { key, path: file.path, generated: null, ...found } : null
    }
    const f = this.files.get(key)
    return f?.sheet ? refOf(key, f, f.sheet) : null
  }

  allSheets(): SheetRef[] {
    for (const f of this.files.values()) if (f.kind === 'html' && !f.doc && /<style/i.test(f.original)) this.docOf(f)
    const replaced = [...this.generated.keys()].filter((path) => this.files.has(path)).map((path) => REPLACED + path)
    return [...new Set([...this.sheetPaths(), ...this.embedded.keys(), ...this.generated.keys(), ...replaced])].flatMap((key) => this.sheet(key) ?? [])
  }

  /** The sheet of a file as its source has it, whatever is served in its place. */
  sourceSheet(path: string): SheetRef | null {
    const f = this.files.get(path)
    return f?.sheet ? refOf(this.generated.has(path) ? REPLACED + path : path, f, f.sheet) : null
  }

  outline(key: string): PackedOutline {
    const ref = this.sheet(key)
    return ref ? packedOutline(ref.sheet) : []
  }

  /** The text a file is published with. `script` is the agent's tag. */
  published(path: string, script: string): string | Uint8Array {
    const made = this.generated.get(path)
    if (made) return made.sheet.text
    const f = this.file(path)
    const doc = this.docOf(f)
    return doc ? publishHtml(doc, f.key, script) : this.bytes(path)
  }

  /** Applies splices to a file. Gives the splices that undo them, and what the page has to take in. */
  apply(path: string, set: Splices): { inverse: Splices; touched: Touched } {
    const file = this.file(path)
    if (file.readOnly) throw new RangeError(`${path} cannot be edited: ${file.readOnly}`)
    const splices = normalizeSplices(set)
    const doc = this.docOf(file)
    let shift = 0
    const inverse = splices.map((s) => {
      const from = s.from + shift
      shift += s.insert.length - (s.to - s.from)
      return { from, to: from + s.insert.length, insert: this.slice(file, s) }
    })
    this.ruleRevision++
    // Only a changed custom property can change what variables hold.
    if (splices.some((s) => /--/.test(this.around(file, s)))) this.knownKinds = null
    if (file.sheet) {
      file.sheet.apply(splices)
      return { inverse, touched: { sheets: [path], attributes: [], texts: [], structure: false } }
    }
    if (doc) {
      this.treeRevision++
      return { inverse, touched: this.applyHtml(file, doc, splices) }
    }
    file.text = applySplices(file.text ?? '', splices)
    return { inverse, touched: { sheets: [], attributes: [], texts: [], structure: true } }
  }

  private around(file: OpenFile, s: { from: number; to: number; insert: string }): string {
    return s.insert + this.slice(file, { from: Math.max(0, s.from - 200), to: s.to })
  }

  private slice(file: OpenFile, span: Span): string {
    return file.sheet ? file.sheet.slice(span.from, span.to) : (file.doc?.text ?? file.text ?? '').slice(span.from, span.to)
  }

  private applyHtml(file: OpenFile, doc: HtmlDocument, splices: Splices): Touched {
    const before = new Map(doc.elements.filter((e) => e.startTag).map((e) => [e.id, e]))
    const styles = doc.embeddedSheets()
    const inStyle = styles.filter((s) => splices.every((x) => x.from >= s.content.from && x.to <= s.content.to))
    const inTag = splices.every((x) => [...before.values()].some((e) => x.from > e.startTag!.from && x.to < e.startTag!.to))
    const done = doc.apply(splices)
    const sheets = this.refreshEmbedded(file, inStyle.length ? { id: inStyle[0].element, splices } : null)
    if (done?.kind === 'tag') return { sheets, attributes: attributeChanges(`${file.key}.${done.id}`, done.attrs, doc.element(done.id).node.attrs), texts: [], structure: false }
    if (done && inStyle.length === 0 && doc.element(done.id).node.tagName !== 'script') return { sheets, attributes: [], texts: [{ source: `${file.key}.${done.id}`, index: done.index, before: done.before, after: done.after }], structure: false }
    const attributes: Touched['attributes'][number][] = []
    let same = doc.elements.filter((e) => e.startTag).length === before.size
    for (const e of doc.elements) {
      if (!e.startTag) continue
      const old = before.get(e.id)
      if (!old || old.node.tagName !== e.node.tagName) {
        same = false
        break
      }
      attributes.push(...attributeChanges(`${file.key}.${e.id}`, old.node.attrs, e.node.attrs))
    }
    return { sheets, attributes, texts: [], structure: !same || !(inTag || inStyle.length > 0) }
  }

  // Sheets in `<style>` elements are kept, with the ids of their rules, while their text is unchanged or edited inside.
  private refreshEmbedded(file: OpenFile, edited: { id: number; splices: Splices } | null): string[] {
    if (!file.doc) return []
    const changed: string[] = []
    const prefix = `#${file.key}.`
    const seen = new Set<string>()
    for (const { element, content } of file.doc.embeddedSheets()) {
      const key = prefix + element
      seen.add(key)
      const text = file.doc.text.slice(content.from, content.to)
      const known = this.embedded.get(key)
      if (known && edited?.id === element) {
        known.sheet.apply(edited.splices.map((s) => ({ ...s, from: s.from - content.from, to: s.to - content.from })))
        changed.push(key)
      }
      if (known && known.sheet.text === text) known.base = content.from
      else {
        const sheet = new Sheet(text)
        this.embedded.set(key, { sheet, style: measureHouseStyle(sheet), base: content.from })
        if (known && !changed.includes(key)) changed.push(key)
      }
    }
    for (const key of this.embedded.keys()) if (key.startsWith(prefix) && !seen.has(key)) this.embedded.delete(key)
    return changed
  }

  /** Files whose bytes differ from those they were brought in with. */
  changedPaths(): string[] {
    return [...this.files.values()].filter((f) => !f.readOnly && this.text(f.path) !== f.original).map((f) => f.path)
  }
}

function lineIn(sheet: Sheet, offset: number): number {
  const statement = sheet.statementAt(offset)
  return statement ? sheet.lineAt(statement, offset - statement.start) : 1
}

type Attributes = readonly { readonly name: string; readonly value: string }[]

function attributeChanges(source: string, before: Attributes, after: Attributes): Touched['attributes'][number][] {
  const valueIn = (list: Attributes, name: string) => list.find((a) => a.name === name)?.value ?? null
  return [...new Set([...before, ...after].map((a) => a.name))]
    .flatMap((name) => (valueIn(before, name) === valueIn(after, name) ? [] : [{ source, name, value: valueIn(after, name) }]))
}

// Its style is measured when it is first asked for, which takes the sheet apart.
const refOf = (key: string, f: OpenFile, sheet: Sheet): SheetRef => ({
  key, path: f.path, sheet, base: 0, generated: null,
  get style() {
    return (f.style ??= measureHouseStyle(sheet))
  },
})

function open(f: StoredFile, kind: Exclude<FileKind, 'binary'>): OpenFile {
  const base = { key: f.key, path: f.path, kind }
  try {
    const { bom, text } = decodeSource(f.bytes)
    const sheet = kind === 'css' ? new Sheet(text) : null
    return {
      ...base, bom, readOnly: null, original: text, raw: null, text: kind === 'text' ? text : null, sheet,
      doc: null, style: null,
    }
  } catch (error) {
    if (!(error instanceof EncodingError)) throw error
    const text = new TextDecoder('windows-1252').decode(f.bytes)
    return { ...base, bom: false, readOnly: error.message, original: text, raw: f.bytes, text, doc: null, sheet: null, style: null }
  }
}
