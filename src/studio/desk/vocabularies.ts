import type { Project } from '../../core/project'
import { readClassList } from '../../core/utility/class-list'
import { LearnedVocabulary } from '../../core/utility/learned'
import { setVocabularies } from '../../core/utility/of-project'
import { resolvePath, tailwindInput, type TailwindInput } from '../../core/utility/tailwind-project'
import type { Tailwind, TailwindIndex } from '../../core/utility'
import type { Database } from '../../storage/db'

/** How far the reading of a vocabulary is, and what of its set-up could not be read. */
export interface VocabularyState {
  readonly label: string
  /** 0 to 1; 1 when it can be used. */
  readonly share: number
  readonly notes: readonly string[]
}

/** How many indexes are kept in the browser. */
const KEPT = 6
/** How long after an edit of a sheet its classes are learned anew; ms. */
const LEARN_REST = 1500

/** What stands between white space and quotes in a source could be a class. */
const TOKENS = /[^\s"'`<>={}]+/g

/** The utility classes of the open project: found, compiled for the page, and their inverse index kept. */
export class Vocabularies {
  private tailwind: Tailwind | null = null
  private input: TailwindInput | null = null
  private notes: string[] = []
  private learned: LearnedVocabulary | null = null
  private reading = 0
  /** The last index worked out or read, and what it is of. */
  private index: { readonly signature: string; readonly index: TailwindIndex } | null = null
  private learning: ReturnType<typeof setTimeout> | undefined

  /** `readText` gives the text of any file of the project; null when it has none. */
  constructor(
    private readonly db: Database, private readonly project: Project, private readonly paths: () => readonly string[],
    private readonly readText: (path: string) => string | null, private readonly report: (state: VocabularyState) => void,
  ) {}

  /** Loads what the project is styled with and puts the compiled sheet in its place. */
  async open(): Promise<void> {
    this.input = tailwindInput(this.project, this.paths())
    this.learned = LearnedVocabulary.of(this.project)
    this.show()
    if (this.input) await this.load(this.input)
    else if (this.learned) this.report({ label: this.learned.label, share: 1, notes: [] })
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
    const { loadTailwind } = await import('../../core/utility/tailwind')
    this.notes = []
    try {
      this.tailwind = await loadTailwind({
        css: input.css, base: input.path?.split('/').slice(0, -1).join('/') ?? '',
        loadStylesheet: (id, base) => this.stylesheet(id, base),
        loadModule: async (id, base, hint) => ({ path: id, base, module: (await this.module(id, base, hint)) as never }),
      })
    } catch (error) {
      this.tailwind = null
      this.notes.push(`${input.path ?? 'Tailwind CSS'} cannot be compiled: ${error instanceof Error ? error.message : String(error)}`)
      this.report({ label: 'Tailwind CSS', share: 1, notes: this.notes })
      return
    }
    this.compile(this.everyToken())
    // What the classes of the project's own utilities say is in the input alone.
    const signature = this.tailwind.signature + (input.css.match(/@utility[^{]*\{[^@]*\}/g) ?? []).join('')
    if (this.index?.signature === signature) {
      this.tailwind.useIndex(this.index.index)
      this.ready(this.tailwind)
    } else void this.readIndex(this.tailwind, signature)
  }

  private ready(tailwind: Tailwind): void {
    this.show()
    this.report({ label: tailwind.label, share: 1, notes: this.notes })
  }

  private async stylesheet(id: string, base: string): Promise<{ path: string; base: string; content: string }> {
    const own = /^tailwindcss(?:\/(index|theme|preflight|utilities)(?:\.css)?)?$/.exec(id)
    if (own) {
      const name = `${own[1] ?? 'index'}.css`
      const answer = await fetch(`/vocabulary/${name}`)
      if (!answer.ok) throw new Error(`${name} of Tailwind CSS could not be read`)
      return { path: name, base, content: await answer.text() }
    }
    const path = resolvePath(base, id)
    const content = this.readText(path) ?? this.readText(`${path}.css`)
    if (content !== null) return { path, base: path.split('/').slice(0, -1).join('/'), content }
    // A sheet of a package that was not brought in: what it gives is missing, the rest is not.
    this.notes.push(`${id} is imported and not in the project`)
    return { path: id, base, content: '' }
  }

  private async module(id: string, base: string, hint: 'plugin' | 'config'): Promise<unknown> {
    const path = resolvePath(base, id)
    const text = this.readText(path)
    if (hint === 'plugin') {
      this.notes.push(`The plugin ${id} is not run, so its classes are not known`)
      return () => {}
    }
    if (text === null) {
      this.notes.push(`${id} is not in the project`)
      return {}
    }
    const { readConfig } = await import('../../core/utility/config')
    const { config, unread } = readConfig(text)
    for (const { path: at, line } of unread) this.notes.push(`${path}:${line} ${at || 'the config'} is not written out, so it is not read`)
    return config
  }

  private async readIndex(tailwind: Tailwind, signature: string): Promise<void> {
    const turn = ++this.reading
    const digest = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(signature))
    const key = `tailwind ${[...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join('')}`
    const kept = await this.db.vocabularies.get(key)
    if (kept) {
      tailwind.useIndex(kept.index)
      this.index = { signature, index: kept.index }
    } else {
      let shown = performance.now()
      const index = await tailwind.buildIndex(async (done, of) => {
        if (turn === this.reading && performance.now() - shown > 120) {
          shown = performance.now()
          this.report({ label: tailwind.label, share: Math.min(0.99, done / of), notes: this.notes })
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

  private everyToken(): Set<string> {
    const out = new Set<string>()
    for (const path of this.paths()) {
      if (!/\.(html?|m?js|jsx|tsx?|vue|svelte|astro|php|md)$/i.test(path)) continue
      const text = this.readText(path) ?? ''
      for (const [token] of text.matchAll(TOKENS)) out.add(token)
      // A list may hold what ends a token elsewhere, in references too.
      for (const [, a, b] of text.matchAll(/\sclass\s*=\s*(?:"([^"]*)"|'([^']*)')/gi)) for (const { name } of readClassList((a ?? b).replaceAll('&amp;', '&').replaceAll('&gt;', '>').replaceAll('&quot;', '"'))) out.add(name)
    }
    return out
  }

  /** Has the compiled sheet give these classes; whether it is another now. */
  compile(classes: Iterable<string>): boolean {
    const { tailwind, input } = this
    if (!tailwind || !input) return false
    const before = this.project.sheet(input.target)?.sheet.text
    this.project.setGenerated(input.target, tailwind.compile(classes), input.path ?? 'the classes in use')
    return this.project.sheet(input.target)?.sheet.text !== before
  }

  /** Takes in that files changed: a theme is read anew, and what was learned from sheets too. Whether the compiled sheet is another. */
  async changed(paths: readonly string[]): Promise<boolean> {
    // All sheets are read for it, so a run of edits is waited for.
    if (paths.some((p) => p.endsWith('.css'))) {
      clearTimeout(this.learning)
      this.learning = setTimeout(() => {
        this.learned = LearnedVocabulary.of(this.project)
        this.show()
      }, LEARN_REST)
    }
    const next = this.input && tailwindInput(this.project, this.paths())
    if (!this.input || !next || next.css === this.input.css) {
      this.show()
      return false
    }
    const before = this.target && this.project.sheet(this.target)?.sheet.text
    this.input = next
    await this.load(next)
    this.show()
    return this.target !== null && this.project.sheet(this.target)?.sheet.text !== before
  }
}
