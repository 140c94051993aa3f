import {
  isPreprocessed,
  measureHouseStyle,
  packedOutline,
  preprocessedLine,
  resolvedSelectors,
  Sheet,
  type HouseStyle,
  type Knowledge,
  type PackedOutline,
  type RuleSite,
} from '../css'
import {
  languageNameOf,
  languageOf,
  lineInSheet,
  roleOf,
  type Applied,
  type ElementTree,
  type Role,
  type SheetPart,
  type SourceElement,
  type SourceFile,
  type SourceLanguage,
} from '../language'
import { styleBlockKey } from '../sfc'
import { decodeSource, encodeSource, EncodingError, LineIndex, normalizeSplices, type Splices } from '../text'
import { Imports } from './imports'
import type { SheetRef } from './sheet-ref'
import { readTokens, type TokenDefinition, type Tokens } from './tokens'
import { ValueKinds } from './value-kinds'

/** A file as it was brought in or last saved. */
export interface StoredFile {
  /** Small number that stands for the file in element ids; never reused in its project. */
  readonly key: number
  /** From the project's root, `/` between folders. */
  readonly path: string
  /** Null of a file that is still to be read. */
  readonly bytes: Uint8Array | null
}

interface OpenFile {
  readonly key: number
  readonly path: string
  readonly language: SourceLanguage
  readonly bom: boolean
  /** Why it cannot be edited; null when it can. */
  readonly readOnly: string | null
  readonly original: string
  /** The bytes of a file that cannot be decoded. */
  readonly raw: Uint8Array | null
  /** Read when it is first asked for: most pages of a large site are not, for a long time. Null in a file that cannot be edited, too. */
  source: SourceFile | null
}

/** What an applied edit changed, for the live page. */
export interface Touched {
  readonly sheets: readonly string[]
  /** Attributes of source elements that have another value now; null when they are gone. */
  readonly attributes: readonly { readonly source: string; readonly name: string; readonly value: string | null }[]
  /** Texts of source elements, by their place among the element's texts. */
  readonly texts: readonly {
    readonly source: string
    readonly index: number
    readonly before: string
    readonly after: string
  }[]
  /** The page has to be loaded again: its tree is another, or its text in a way that is not listed above. */
  readonly structure: boolean
}

const REPLACED = '='

const STYLE_BLOCK = /^(.+)\?style=(\d+)$/
const BY_NAME = new Intl.Collator()

/** Byte order mark, which tells a browser the encoding (Encoding §6). */
const BOM = '\ufeff'

/** An element with the file that it is written in. */
export interface FoundElement {
  readonly path: string
  readonly tree: ElementTree
  readonly element: SourceElement
}

/** The files of a project, read; edits are splices to their text. No storage and no page: those are notified of what changed. */
export class Project {
  private readonly files = new Map<string, OpenFile>()
  private readonly byKey = new Map<number, OpenFile>()
  private readonly imports = new Imports(this)
  /** Sheets that stand for files which a build would write, by the path they are served at. */
  private readonly generated = new Map<string, { sheet: Sheet; style: HouseStyle; from: string; sources: readonly string[] }>()

  constructor(stored: readonly StoredFile[]) {
    this.fill(stored)
  }

  /** Takes in files that were read. What stands in one that is still to be read is not known before: it counts as empty. */
  fill(stored: readonly StoredFile[]): void {
    for (const f of stored) {
      const language = languageOf(f.path)
      if (!language) continue
      const file = open(f, language)
      this.files.set(f.path, file)
      this.byKey.set(f.key, file)
    }
    this.textRevision = this.ruleRevision = this.treeRevision = ++this.lastRevision
    this.knownKinds = null
    this.knownPages = null
    this.imports.forget()
  }

  /** Takes a file away that is gone before it was read. */
  drop(path: string): void {
    const file = this.files.get(path)
    if (file && this.files.delete(path)) this.byKey.delete(file.key)
    this.knownPages = null
    this.imports.forget()
  }

  private lastRevision = 0
  /** Another with each edit of a text: what was planned on it is stale then. */
  textRevision = 0
  /** Another with each edit: what is derived from rules as objects is stale then. */
  ruleRevision = 0
  /** Another with each edit of a page: what is matched against elements is stale then. */
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

  private tokens: { readonly of: number; readonly read: Tokens } | null = null

  private readTokens(): Tokens {
    if (this.tokens?.of === this.ruleRevision) return this.tokens.read
    const compiled = new Set(this.generatedSheets().flatMap((g) => g.sources.map((s) => s.key)))
    const read = readTokens(this.allSheets(), compiled)
    this.tokens = { of: this.ruleRevision, read }
    return read
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
  pages(): readonly string[] {
    return (this.knownPages ??= this.pathsOf('page')
      .map((path) => ({ path, rank: path === 'index.html' ? 0 : path.split('/').length }))
      .sort((a, b) => a.rank - b.rank || BY_NAME.compare(a.path, b.path))
      .map(({ path }) => path))
  }

  private knownPages: readonly string[] | null = null

  /** Puts a sheet in the place of the file that a build would write from `from`, out of the sheets at `sources`. What the rules were is gone with them. */
  setGenerated(path: string, text: string, from: string, sources: readonly string[] = []): void {
    const known = this.generated.get(path)
    if (known?.sheet.text === text) return
    const sheet = new Sheet(text)
    this.generated.set(path, { sheet, style: measureHouseStyle(sheet), from, sources })
    this.ruleRevision = ++this.lastRevision
    this.knownKinds = null
  }

  /** Takes away what was put in the place of a file. */
  dropGenerated(path: string): void {
    if (!this.generated.delete(path)) return
    this.ruleRevision = ++this.lastRevision
    this.knownKinds = null
  }

  /** The sheets that stand for files which a build would write, each with those of the project's own that it is compiled from. */
  generatedSheets(): { readonly ref: SheetRef; readonly sources: readonly SheetRef[] }[] {
    return [...this.generated].map(([path, { sources }]) => ({
      ref: this.sheet(path)!,
      sources: sources.flatMap((s) => this.sourceSheet(s) ?? []),
    }))
  }

  private pathsOf(role: Role): string[] {
    return [...this.files.values()].filter((f) => roleOf(f.path) === role).map((f) => f.path)
  }

  sheetPaths(): string[] {
    return this.pathsOf('sheet')
  }

  /** All that is source text: pages, sheets, and scripts and the like, each kind by its paths. */
  writtenPaths(): string[] {
    return [...this.pages(), ...this.sheetPaths(), ...this.textPaths()]
  }

  /** Source text that is neither page nor sheet. */
  textPaths(): string[] {
    return this.pathsOf('text')
  }

  /** The files of components that say a name somewhere. */
  componentPaths(name: string): string[] {
    return this.textPaths().filter((path) => languageNameOf(path) === 'jsx' && this.text(path).includes(name))
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
    return f.source?.text ?? f.original
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
    if (made) return lineInSheet(made.sheet, offset)
    const f = this.file(path)
    return this.sourceOfFile(f)?.lineAt(offset) ?? new LineIndex(f.original).lineAt(offset)
  }

  /** 1-based line of an offset in a sheet's file; 0 where that is compiled from a line that is not known. */
  lineIn(ref: SheetRef, offset: number): number {
    if (ref.generated === null) return this.lineAt(ref.path, ref.base + offset)
    if (!isPreprocessed(ref.path) || !this.files.has(ref.path)) return lineInSheet(ref.sheet, offset)
    const at = [...ref.sheet.rules()].findLast(
      ({ rule, statement }) =>
        rule.kind === 'style' && statement.start + rule.span.from <= offset && offset <= statement.start + rule.span.to,
    )
    return (at && preprocessedLine(this.text(ref.path), resolvedSelectors(at))) ?? 0
  }

  private sourceOfFile(file: OpenFile): SourceFile | null {
    return file.readOnly ? null : (file.source ??= this.read(file))
  }

  private read({ language, original, path }: OpenFile): SourceFile {
    const source = language.read(original, path)
    source.useImports?.((module) => this.imports.find(module, path))
    return source
  }

  /** The elements of a page. @throws RangeError when the file has none. */
  tree(path: string): ElementTree {
    const tree = this.sourceOfFile(this.file(path))?.tree
    if (!tree) throw new RangeError(`${path} has no elements`)
    return tree
  }

  /** The tree and element of a source such as `3.17`; null when it is not in the project any more. */
  element(source: string): FoundElement | null {
    const [key, id] = source.split('.').map(Number)
    const file = this.byKey.get(key)
    const tree = file && this.sourceOfFile(file)?.tree
    return file && tree?.has(id) ? { path: file.path, tree, element: tree.element(id) } : null
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
    const embedded = /^#(\d+)\.(\d+)$/.exec(key)
    const block = embedded ? null : STYLE_BLOCK.exec(key)
    const file = embedded ? this.byKey.get(Number(embedded[1])) : this.files.get(block ? block[1] : key)
    const nth = embedded?.[2] ?? block?.[2]
    const part = file && this.partsOf(file).find((p) => p.element === (nth === undefined ? null : Number(nth)))
    return part ? refOf(key, file, part) : null
  }

  private partsOf(file: OpenFile): readonly SheetPart[] {
    // No file is read to find that it holds none.
    return file.source || file.language.mayHoldSheets(file.original) ? (this.sourceOfFile(file)?.sheets() ?? []) : []
  }

  /** Sheets that are files, then those that stand in files, then what a build would write. */
  allSheets(): SheetRef[] {
    const embedded = [...this.files.values()].flatMap((f) =>
      roleOf(f.path) === 'sheet' ? [] : this.partsOf(f).map((part) => keyOfPart(f, part.element)),
    )
    const replaced = [...this.generated.keys()].filter((path) => this.files.has(path)).map((path) => REPLACED + path)
    return [...new Set([...this.sheetPaths(), ...embedded, ...this.generated.keys(), ...replaced])].flatMap((key) => this.sheet(key) ?? [])
  }

  /** The sheets that a file is or holds, in the order of its text, as its source has them. */
  sheetsIn(path: string): SheetRef[] {
    const file = this.file(path)
    if (roleOf(path) === 'sheet') return [this.sourceSheet(path) ?? []].flat()
    return this.partsOf(file).map((part) => refOf(keyOfPart(file, part.element), file, part))
  }

  /** What a sheet was in another text of its file: what stands in the same place of that; null where nothing does. */
  sheetTextIn({ key, path }: SheetRef, text: string): string | null {
    if (key === path) return text
    const at = this.sheetsIn(path).findIndex((s) => s.key === key)
    return this.file(path).language.read(text, path).sheets()[at]?.sheet.text ?? null
  }

  /** The sheet of a file as its source has it, whatever is served in its place. */
  sourceSheet(path: string): SheetRef | null {
    const f = this.files.get(path)
    const part = f && roleOf(path) === 'sheet' ? this.partsOf(f)[0] : undefined
    return f && part ? refOf(this.generated.has(path) ? REPLACED + path : path, f, part) : null
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
    return this.sourceOfFile(f)?.published(f.key, script) ?? f.raw ?? (f.bom ? BOM : '') + this.text(path)
  }

  /** What `work` gives, which may apply splices by `apply` to see what they lead to; afterwards text, ids and revisions are as they were. */
  trial<T>(work: (apply: Project['apply']) => T): T {
    const { textRevision, ruleRevision, treeRevision, knownKinds, tokens } = this
    const taken: (() => void)[] = []
    try {
      return work((path, set) =>
        this.applyBy(path, set, (source, splices) => {
          const { applied, takeBack } = source.applyForNow(splices)
          taken.push(takeBack)
          return applied
        }),
      )
    } finally {
      for (const takeBack of taken.reverse()) takeBack()
      Object.assign(this, { textRevision, ruleRevision, treeRevision, knownKinds, tokens })
    }
  }

  /** Applies splices to a file. Gives the splices that undo them, and what the page has to take in. */
  apply(path: string, set: Splices): { inverse: Splices; touched: Touched } {
    return this.applyBy(path, set, (source, splices) => source.apply(splices))
  }

  private applyBy(
    path: string,
    set: Splices,
    apply: (source: SourceFile, splices: Splices) => Applied,
  ): { inverse: Splices; touched: Touched } {
    const file = this.file(path)
    if (file.readOnly) throw new RangeError(`${path} cannot be edited: ${file.readOnly}`)
    const splices = normalizeSplices(set)
    const source = this.sourceOfFile(file)!
    let shift = 0
    const inverse = splices.map((s) => {
      const from = s.from + shift
      shift += s.insert.length - (s.to - s.from)
      return { from, to: from + s.insert.length, insert: source.slice(s) }
    })
    this.textRevision = this.ruleRevision = ++this.lastRevision
    if (source.tree) this.treeRevision = this.lastRevision
    // Only a changed custom property can change what variables hold.
    if (splices.some((s) => (s.insert + source.slice({ from: Math.max(0, s.from - 200), to: s.to })).includes('--'))) this.knownKinds = null
    const { sheets, attributes, texts, structure } = apply(source, splices)
    const sourceOf = (element: number) => `${file.key}.${element}`
    return {
      inverse,
      touched: {
        sheets: sheets.map((element) => keyOfPart(file, element)),
        structure,
        attributes: attributes.map(({ element, ...rest }) => ({ source: sourceOf(element), ...rest })),
        texts: texts.map(({ element, ...rest }) => ({ source: sourceOf(element), ...rest })),
      },
    }
  }

  /** Files whose bytes differ from those they were brought in with. */
  changedPaths(): string[] {
    return [...this.files.values()].filter((f) => !f.readOnly && this.text(f.path) !== f.original).map((f) => f.path)
  }
}

// The element of a page is known by its id; a style block of a component by its place, as its compiler names it.
const keyOfPart = (file: OpenFile, element: number | null): string =>
  element === null ? file.path : roleOf(file.path) === 'page' ? `#${file.key}.${element}` : styleBlockKey(file.path, element)

// Its style is measured when it is first asked for.
const refOf = (key: string, { path }: OpenFile, part: SheetPart): SheetRef => ({
  key,
  path,
  sheet: part.sheet,
  base: part.base,
  generated: null,
  get style() {
    return part.style
  },
})

function open(f: StoredFile, language: SourceLanguage): OpenFile {
  const { key, path } = f
  try {
    const { bom, text } = decodeSource(f.bytes ?? new Uint8Array())
    return { key, path, language, bom, readOnly: null, original: text, raw: null, source: null }
  } catch (error) {
    if (!(error instanceof EncodingError)) throw error
    return {
      key,
      path,
      language,
      bom: false,
      readOnly: error.message,
      original: new TextDecoder('windows-1252').decode(f.bytes!),
      raw: f.bytes,
      source: null,
    }
  }
}
