import type { Project } from '../core/project'
import {
  LearnedVocabulary,
  setVocabularies,
  type Tailwind,
  type TailwindIndex,
  tailwindInput,
  type TailwindInput,
  withClasses,
} from '../core/utility'
import type { Database } from '../storage/db'

/** How far the reading of a vocabulary is, and what of its set-up could not be read. */
export interface VocabularyState {
  readonly label: string
  /** Of a framework whose classes are known, or learned from the sheets of the project. */
  readonly isOfFramework: boolean
  /** 0 to 1; 1 when it can be used. */
  readonly share: number
  readonly notes: readonly string[]
  /** What an element stands in where the dark scheme is shown, as `.dark`; null where a media query says it. */
  readonly darkAround?: string | null
}

/** How many indexes are kept in the browser. */
const KEPT = 6
/** How long after an edit of a sheet its classes are learned again; ms. */
const LEARN_REST = 1500

/** Files in which class names stand. */
const SOURCES = /\.(html?|m?js|jsx|tsx?|vue|svelte|astro|php|md)$/i

async function librarySheet(name: string): Promise<string> {
  const answer = await fetch(`/vocabulary/${name}`)
  if (!answer.ok) throw new Error(`${name} of Tailwind CSS could not be read`)
  return answer.text()
}

/** The utility classes of the open project: found, compiled for the page, and their inverse index kept. */
export class Vocabularies {
  private tailwind: Tailwind | null = null
  private input: TailwindInput | null = null
  private notes: readonly string[] = []
  /** Files of the project that the input reads in. */
  private named: ReadonlySet<string> = new Set()
  private learned: LearnedVocabulary | null = null
  private reading = 0
  /** The last index worked out or read, and what it is of. */
  private index: { readonly signature: string; readonly index: TailwindIndex } | null = null
  private learning: ReturnType<typeof setTimeout> | undefined

  /** `readText` gives the text of any file of the project; null when it has none. */
  constructor(
    private readonly db: Database,
    private readonly project: Project,
    private readonly paths: () => readonly string[],
    private readonly readText: (path: string) => string | null,
    private readonly report: (state: VocabularyState) => void,
  ) {}

  /** Loads what the project is styled with and puts the compiled sheet in its place. */
  async open(): Promise<void> {
    this.input = tailwindInput(this.project, this.paths())
    this.learned = LearnedVocabulary.of(this.project)
    this.show()
    if (this.input) await this.load(this.input)
    else if (this.learned) this.report({ label: this.learned.label, isOfFramework: false, share: 1, notes: [] })
  }

  /** Takes in files that were read since. */
  async readMore(): Promise<void> {
    const next = tailwindInput(this.project, this.paths())
    if (next?.path !== this.input?.path || (next?.css !== this.input?.css && !this.isServed)) return this.open()
    if (this.tailwind) this.compile(await this.everyToken())
    this.learn()
    if (!this.input && this.learned) this.report({ label: this.learned.label, isOfFramework: false, share: 1, notes: [] })
  }

  /** What pages have to name besides what they do, as markup for their head. */
  get head(): string {
    return this.input && !this.input.linked ? `<link rel="stylesheet" href="/${this.input.target}">` : ''
  }

  /** The path of the compiled sheet; null where there is none. */
  get target(): string | null {
    return this.tailwind && this.input ? this.input.target : null
  }

  private show(): void {
    setVocabularies(this.project, [...(this.tailwind?.ready ? [this.tailwind] : []), ...(this.learned ? [this.learned] : [])])
  }

  private async load(input: TailwindInput): Promise<void> {
    // It is large, and most projects have no use for it.
    const { openTailwind } = await import('../core/utility/load')
    const named = new Set<string>()
    const own = (path: string) => {
      named.add(path)
      return this.readText(path)
    }
    const { tailwind, notes } = await openTailwind(input, { own, library: librarySheet })
    this.named = named
    this.tailwind = tailwind
    this.notes = notes
    if (!tailwind) {
      this.report({ label: 'Tailwind CSS', isOfFramework: true, share: 1, notes })
      return
    }
    this.compile(await this.everyToken())
    // The package's version is in its banner; what the classes of the project's own utilities say is in the input alone.
    const banner = /^\/\*![^*]*\*\//.exec(this.project.sheet(input.target)?.sheet.text ?? '')?.[0] ?? ''
    const signature = banner + input.version + tailwind.signature + (input.css.match(/@utility[^{]*\{[^@]*\}/g) ?? []).join('')
    if (this.index?.signature === signature) {
      tailwind.useIndex(this.index.index)
      this.ready(tailwind)
    } else void this.readIndex(tailwind, signature)
  }

  private ready(tailwind: Tailwind): void {
    this.show()
    this.report({
      label: tailwind.label,
      isOfFramework: true,
      share: 1,
      notes: this.notes,
      darkAround: tailwind.darkAround,
    })
  }

  private async readIndex(tailwind: Tailwind, signature: string): Promise<void> {
    const turn = ++this.reading
    const digest = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(signature))
    const key = `tailwind ${[...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join('')}`
    // One that cannot be read is worked out again.
    const kept = await this.db.vocabularies.get(key).catch(() => undefined)
    if (kept) {
      tailwind.useIndex(kept.index)
      this.index = { signature, index: kept.index }
    } else {
      let shown = performance.now()
      const index = await tailwind.buildIndex(async (done, of) => {
        if (turn === this.reading && performance.now() - shown > 120) {
          shown = performance.now()
          this.report({
            label: tailwind.label,
            isOfFramework: true,
            share: Math.min(0.99, done / of),
            notes: this.notes,
          })
        }
        // What the interface asks of the desk meanwhile goes first.
        await new Promise((go) => setTimeout(go))
      })
      this.index = { signature, index }
      // Without room to keep it, it is worked out again next time.
      await this.keep(key, index).catch(() => {})
    }
    if (turn !== this.reading || tailwind !== this.tailwind) return
    this.ready(tailwind)
  }

  private async keep(key: string, index: TailwindIndex): Promise<void> {
    await this.db.vocabularies.put({ key, made: Date.now(), index })
    const old = await this.db.vocabularies.orderBy('made').reverse().offset(KEPT).primaryKeys()
    await this.db.vocabularies.bulkDelete(old)
  }

  private async everyToken(): Promise<Set<string>> {
    const { classTokens } = await import('../core/utility/load')
    const sources = this.paths().filter((p) => SOURCES.test(p))
    return new Set(sources.flatMap((path) => [...classTokens(this.readText(path) ?? '')]))
  }

  /** Whether the page has what the project's own server compiled of the input, and not what is compiled here. */
  isServed = false

  /** Takes the sheet that the project's own server compiled from a file for what the page has. */
  useServed(path: string, text: string): void {
    const { input } = this
    if (!this.tailwind || input?.path !== path) return
    // What stood for it elsewhere is on no page.
    if (input.target !== path) this.project.dropGenerated(input.target)
    this.input = { ...input, target: path, linked: true }
    this.isServed = true
    this.place(text)
  }

  /** Has the compiled sheet give these classes; whether it is another now. */
  compile(classes: Iterable<string>): boolean {
    const { tailwind, input } = this
    if (!tailwind || !input) return false
    const before = this.project.sheet(input.target)?.sheet.text
    const now = this.isServed && before !== undefined ? withClasses(before, tailwind, [...classes]) : tailwind.compile(classes)
    this.place(now)
    return now !== before
  }

  private place(text: string): void {
    const { target, path } = this.input!
    this.project.setGenerated(target, text, path ?? 'the classes in use', [...(path ? [path] : []), ...this.named])
  }

  /** Learns from the project's sheets as they are read by now. */
  learn(): void {
    this.learned = LearnedVocabulary.of(this.project)
    this.show()
  }

  /** Takes in that files changed: a theme is read again, and what was learned from sheets too. Whether the compiled sheet is another. */
  async changed(paths: readonly string[]): Promise<boolean> {
    // All sheets are read for it, so a run of edits is waited for.
    if (!paths.some((p) => p.endsWith('.css'))) return false
    clearTimeout(this.learning)
    this.learning = setTimeout(() => this.learn(), LEARN_REST)
    const next = this.input && tailwindInput(this.project, this.paths())
    if (!this.input || !next || (next.css === this.input.css && !paths.some((p) => this.named.has(p)))) return false
    const before = this.target && this.project.sheet(this.target)?.sheet.text
    this.input = this.isServed ? { ...next, target: this.input.target, linked: true } : next
    await this.load(next)
    this.show()
    return this.target !== null && this.project.sheet(this.target)?.sheet.text !== before
  }
}
