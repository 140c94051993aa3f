/**
 * `npm run corpus -- DIR [--edits N] [--seed S] [--json]`: random edits of the HTML and CSS files below DIR, each held
 * against an independent reading of the file. Exits 1 when any edit did more, less or other than was asked.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join, relative, sep } from 'node:path'
import { Project } from '../src/core/project'
import { applySplices, normalizeSplices, type Splices } from '../src/core/text'
import { attemptCss, attemptHtml, type Attempt } from './corpus-edits'
import { checkCss, checkHtml, readCss } from './corpus-check'
import { folder, option } from './options'
import { Random } from './random'

export interface CorpusResult {
  readonly files: number
  readonly edits: number
  readonly refused: number
  readonly violations: number
  readonly seconds: number
  readonly kinds: Record<string, { made: number; refused: number }>
  readonly reasons: Record<string, number>
  readonly cases: Violation[]
}

interface Violation {
  readonly seed: number
  readonly step: number
  readonly file: string
  readonly kind: string
  readonly what: string
  readonly why: string
  readonly before: string
  readonly after: string
}

/** Whole-file readings are slow on large sheets, so most edits are checked in the statements they touch. */
const WHOLE_EVERY = 50
const CHAIN = 200

function sourceFiles(dir: string): string[] {
  return readdirSync(dir, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile() && /\.(html?|css)$/i.test(e.name))
    .map((e) => relative(dir, join(e.parentPath, e.name)).split(sep).join('/'))
    .filter((p) => !p.split('/').includes('node_modules'))
    .sort()
}

class Corpus {
  private readonly random: Random
  private readonly project: Project
  private readonly paths: string[]
  readonly kinds: CorpusResult['kinds'] = {}
  readonly reasons: CorpusResult['reasons'] = {}
  readonly violations: Violation[] = []
  edits = 0
  refused = 0
  private step = 0

  constructor(
    dir: string,
    private readonly seed: number,
  ) {
    this.random = new Random(seed)
    const files = sourceFiles(dir)
    this.project = new Project(files.map((path, i) => ({ key: i + 1, path, bytes: new Uint8Array(readFileSync(join(dir, path))) })))
    this.paths = files.filter((p) => !this.project.readOnly(p))
  }

  get files(): number {
    return this.paths.length
  }

  private attempt(path: string): { made: Attempt; base: number; sheet: string | null } | null {
    if (/\.css$/i.test(path)) {
      const ref = this.project.sheet(path)!
      const made = attemptCss(ref.sheet, ref.style, this.random)
      return made && { made, base: 0, sheet: path }
    }
    const embedded = this.project.allSheets().filter((s) => s.key !== s.path && s.path === path)
    if (embedded.length && this.random.below(4) === 0) {
      const ref = this.random.pick(embedded)
      const made = attemptCss(ref.sheet, ref.style, this.random)
      return made && { made, base: ref.base, sheet: ref.key }
    }
    const made = attemptHtml(this.project.tree(path), this.random)
    return made && { made, base: 0, sheet: null }
  }

  /** One edit, checked; `keep` leaves it in place and gives what undoes it. */
  one(path: string, keep: boolean): Splices | null {
    this.step++
    const tried = this.attempt(path)
    if (!tried) return null
    const { made, base, sheet } = tried
    const count = (this.kinds[made.kind] ??= { made: 0, refused: 0 })
    this.edits++
    count.made++
    if (!made.plan.ok) {
      this.refused++
      count.refused++
      const reason = `${made.kind}: ${made.plan.reason}`
      this.reasons[reason] = (this.reasons[reason] ?? 0) + 1
      return null
    }
    const before = this.project.text(path)
    const region = sheet ? this.regionOf(sheet, made.plan.splices, made) : null
    const splices = normalizeSplices(made.plan.splices.map((s) => ({ ...s, from: s.from + base, to: s.to + base })))
    const { inverse } = this.project.apply(path, splices)
    const after = this.project.text(path)
    const fail = (why: string) =>
      this.violations.push({
        seed: this.seed,
        step: this.step,
        file: path,
        kind: made.kind,
        what: made.what,
        why,
        before: excerpt(before, splices),
        after: excerpt(after, inverse),
      })
    if (after !== applySplices(before, splices)) fail('bytes outside the plan changed')
    if (before.includes('\r\n') && !/[^\r]\n/.test(before) && splices.some((s) => /(^|[^\r])\n/.test(s.insert)))
      fail('a bare LF went into a CRLF file')
    const why = region ? this.checkSheet(region, sheet!, made) : checkHtml(before, after, made.expect)
    if (why) fail(why)
    if (keep) return inverse
    this.project.apply(path, inverse)
    if (this.project.text(path) !== before) fail('undo does not give the bytes back')
    return null
  }

  private regionOf(key: string, splices: Splices, made: Attempt) {
    const { sheet } = this.project.sheet(key)!
    const whole = this.step % WHOLE_EVERY === 0 || made.expect.of === 'class' || splices.length === 0
    const from = whole ? 0 : sheet.statementAt(Math.max(0, splices[0].from - 1))!.start
    const last = whole ? null : sheet.statementAt(splices.at(-1)!.to)!
    const to = last ? last.start + last.text.length : sheet.length
    const text = sheet.slice(from, to)
    const growth = splices.reduce((n, s) => n + s.insert.length - (s.to - s.from), 0)
    const expect = made.expect
    let at = -1
    if ('rule' in expect) {
      let n = 0
      for (const statement of sheet.statements) {
        if (statement.start + statement.text.length <= from) continue
        for (const site of sheet.rulesOf(statement)) {
          if (site.rule.id === expect.rule) at = n
          n++
        }
        if (at >= 0) break
      }
    }
    return { from, to: to + growth, text, at }
  }

  private checkSheet(region: { from: number; to: number; text: string; at: number }, key: string, made: Attempt): string | null {
    const old = readCss(region.text)
    // Broken before: the other reader gives up, and there is nothing to compare with.
    if (!old) return null
    const now = readCss(this.project.sheet(key)!.sheet.slice(region.from, region.to))
    return now ? checkCss(old, now, region.at, made.expect) : 'the other reader cannot read it any more'
  }

  run(edits: number): void {
    while (this.edits < edits && this.paths.length) {
      const path = this.random.pick(this.paths)
      if (this.random.below(400) === 0) this.chain(path)
      else this.one(path, false)
      if (this.step > edits * 20) break
    }
  }

  // Edits on top of one another, undone in a row.
  private chain(path: string): void {
    const before = this.project.text(path)
    const undo: Splices[] = []
    for (let i = 0; i < CHAIN; i++) {
      const inverse = this.one(path, true)
      if (inverse) undo.push(inverse)
    }
    for (const inverse of undo.reverse()) this.project.apply(path, inverse)
    if (this.project.text(path) !== before)
      this.violations.push({
        seed: this.seed,
        step: this.step,
        file: path,
        kind: 'chain',
        what: `${undo.length} edits`,
        why: 'undoing them in a row does not give the bytes back',
        before: '',
        after: '',
      })
  }
}

function excerpt(text: string, splices: Splices): string {
  if (!splices.length) return ''
  return text.slice(Math.max(0, splices[0].from - 120), splices.at(-1)!.to + 120)
}

export function runCorpus(dir: string, edits: number, seed: number): CorpusResult {
  const start = performance.now()
  const corpus = new Corpus(dir, seed)
  corpus.run(edits)
  return {
    files: corpus.files,
    edits: corpus.edits,
    refused: corpus.refused,
    violations: corpus.violations.length,
    seconds: Number(((performance.now() - start) / 1000).toFixed(1)),
    kinds: corpus.kinds,
    reasons: corpus.reasons,
    cases: corpus.violations,
  }
}

if (process.argv[1]?.endsWith('corpus.ts')) {
  const dir = folder('corpus', '[--edits N]')
  const result = runCorpus(dir, option('--edits', 2000), option('--seed', 1))
  for (const [kind, { made, refused }] of Object.entries(result.kinds).sort())
    console.log(`${kind.padEnd(18)} ${made} made, ${refused} refused`)
  for (const [reason, n] of Object.entries(result.reasons).sort()) console.log(`refused ${n} times: ${reason}`)
  for (const v of [...result.cases].sort((a, b) => a.before.length - b.before.length).slice(0, 12)) {
    console.log(
      `\nVIOLATION seed ${v.seed} step ${v.step} in ${v.file}\n  ${v.kind}: ${v.what}\n  ${v.why}\n  before: ${JSON.stringify(v.before)}\n  after:  ${JSON.stringify(v.after)}`,
    )
  }
  const { files, edits, refused, violations, seconds } = result
  console.log(
    `${files} files, ${edits} edits, ${refused} refused (${((100 * refused) / Math.max(1, edits)).toFixed(2)}%), ${violations} violations, ${seconds} s`,
  )
  if (process.argv.includes('--json'))
    console.log(JSON.stringify({ files, edits, refused, violations, seconds, kinds: result.kinds, reasons: result.reasons }))
  process.exitCode = violations ? 1 : 0
}
