/**
 * `npm run fluent -- DIR [--edits N] [--seed S] [--json]`: random gestures on the class lists of the pages below DIR, through
 * the interface's own intents, each judged by rules that are independent of the planner (fluent-judge.ts): the list after
 * gives what was asked for and nothing else, no class of it is dead, and no shorter list of named steps gives the same.
 * Exits 1 when a list is wrong or has a dead class, or when 1% are longer than they need be.
 */
import { planIntent, type Intent } from '../src/core/edit'
import { longhandsOf } from '../src/core/css'
import { attribute } from '../src/core/language'
import { readClassList, type UtilityClass, type Vocabulary } from '../src/core/utility'
import { SECTIONS, type Row } from '../src/studio/tune/properties'
import { FluentJudge, type Asked } from './fluent-judge'
import { FluentReading, type ClassSource } from './fluent-reading'
import { folder, flag, option } from './options'
import { openFolder, type ProjectFolder } from './project-vocabularies'
import { Random } from './random'
import { tailwind3 } from './tailwind-3'
import { PROPERTIES } from './values'

const VARIANTS = ['', '', '', '', '', 'md', 'hover', 'lg', 'dark', 'focus-visible']
const ROWS: readonly Row[] = SECTIONS.flatMap((s) => s.rows.filter((r) => !r.when || r.kind !== 'areas'))

interface Gesture {
  readonly intent: Intent
  readonly asked: Asked | null
  readonly added?: string
  readonly kind: string
}
interface Fault {
  readonly step: number
  readonly kind: string
  readonly why: string
  readonly what: string
  readonly before: string
  readonly after: string
  readonly file: string
}

class Fluent {
  readonly faults: Fault[] = []
  readonly refusals: Record<string, number> = {}
  readonly kinds: Record<string, number> = {}
  readonly result = { edits: 0, refused: 0, wrong: 0, longer: 0, dead: 0 }
  private readonly random: Random
  private readonly v: Vocabulary
  private readonly judge: FluentJudge
  private readonly pages: readonly string[]

  constructor(
    private readonly opened: ProjectFolder,
    source: ClassSource | null,
    seed: number,
  ) {
    const { project } = opened
    this.random = new Random(seed)
    this.v = opened.vocabularies[0]
    this.judge = new FluentJudge(
      new FluentReading(
        this.v,
        source,
        project
          .allSheets()
          .filter((s) => s.generated === null)
          .map((s) => s.sheet.text),
      ),
      this.v,
    )
    this.pages = project
      .pages()
      .filter(
        (p) => !project.readOnly(p) && project.tree(p).elements.some((e) => e.startTag && e.attributes.some((a) => a.name === 'class')),
      )
  }

  // What a row of Tune could be given: a step its tape settles on, a word of its choices, or a value typed.
  private valueFor(row: Row): string {
    const r = this.random
    const steps = this.v.steps(longhandsOf(row.property))
    if (row.options && row.kind !== 'functions' && r.below(4)) return r.pick(row.options)
    if (row.kind === 'functions') return r.pick(row.options!)
    if (steps.length && (!this.v.isCompiled || r.below(3))) return r.pick(steps).value
    if (row.keywords && r.below(4) === 0) return r.pick(row.keywords)
    return PROPERTIES[row.property]
      ? PROPERTIES[row.property](r)
      : row.kind === 'length'
        ? r.pick(['3px', '13px', '1.5rem', '40px'])
        : row.kind === 'number'
          ? String(r.below(5))
          : row.options
            ? r.pick(row.options)
            : 'auto'
  }

  private gesture(source: string, names: readonly string[]): Gesture {
    const r = this.random
    const known = names.map((n) => this.v.read(n)).filter((c): c is UtilityClass => c !== null)
    const variant = known.length && r.below(3) === 0 ? r.pick(known).variant : this.v.isCompiled ? r.pick(VARIANTS) : ''
    const own = known.filter((c) => c.variant === variant).flatMap((c) => [...this.v.effect(c).keys()])
    const rows = ROWS.filter((row) => longhandsOf(row.property).some((l) => own.includes(l)))
    const row = rows.length && r.below(2) ? r.pick(rows) : r.pick(ROWS)
    const { property } = row
    const aim = { kind: 'class-list' as const, source, vocabulary: 0, variant, alike: false }
    // A class walked along its scale, or typed, as the list of classes takes them.
    const walked = known.filter((c) => this.v.family(c).length > 1)
    if (walked.length && r.below(10) === 0) {
      const c = r.pick(walked)
      const added = this.v.spell(r.pick(this.v.family(c).filter((b) => b !== c.base)), c.variant, c.important)
      if (added && !names.includes(added))
        return {
          kind: 'walk',
          added,
          intent: {
            kind: 'change-classes',
            sources: [source],
            remove: [c.name],
            add: [{ name: added, instead: c.name }],
          },
          asked: null,
        }
    }
    if (r.below(12) === 0) {
      const added = this.v.spell(r.pick(this.v.all()), '', false)
      if (added && !names.includes(added))
        return {
          kind: 'typed',
          added,
          intent: { kind: 'change-classes', sources: [source], remove: [], add: [{ name: added }] },
          asked: null,
        }
    }
    if (r.below(8) === 0)
      return {
        kind: 'unset',
        intent: { kind: 'unset', aim, name: property },
        asked: { property, value: null, variant },
      }
    const value = this.valueFor(row)
    return { kind: 'set', intent: { kind: 'set', aim, name: property, value }, asked: { property, value, variant } }
  }

  one(step: number): void {
    const { project } = this.opened
    const page = this.random.pick(this.pages)
    const doc = project.tree(page)
    const element = this.random.pick(
      doc.elements.filter((e) => e.startTag && (e.attributes.some((a) => a.name === 'class') || this.random.below(20) === 0)),
    )
    const listOf = () => attribute(project.tree(page).element(element.id), 'class') ?? ''
    const list = listOf()
    const before = readClassList(list).map((c) => c.name)
    const { intent, asked, added, kind } = this.gesture(project.sourceOf(page, element.id), before)
    if (asked && this.judge.isOfOthers(before, asked)) return
    this.result.edits++
    this.kinds[kind] = (this.kinds[kind] ?? 0) + 1
    const plan = planIntent(project, intent)
    if (!plan.ok) {
      this.result.refused++
      const why = `${kind}: ${plan.reason}`
      this.refusals[why] = (this.refusals[why] ?? 0) + 1
      return
    }
    const undo = plan.changes.map((c) => ({ path: c.path, inverse: project.apply(c.path, c.splices).inverse }))
    const now = listOf()
    for (const { path, inverse } of undo.reverse()) project.apply(path, inverse)
    const after = readClassList(now).map((c) => c.name)
    const { wrong, dead, longer } = asked
      ? this.judge.judge(before, after, asked)
      : this.judge.judgeNamed(before, after, [added!], kind === 'walk')
    // What goes along with the edit and was named before it is no surprise.
    const named = new Set('moves' in plan ? plan.moves : [])
    const unnamed = wrong.filter((w) => ![...named].some((m) => w.startsWith(`|${m} `)))
    for (const [kind, list] of [
      ['wrong', unnamed],
      ['dead', dead],
      ['longer', longer],
    ] as const) {
      if (list.length === 0) continue
      this.result[kind]++
      this.faults.push({
        step,
        kind,
        why: list.join('; '),
        what: asked ? `${asked.variant && `${asked.variant}: `}${asked.property}: ${asked.value}` : `${added}`,
        before: before.join(' '),
        after: now,
        file: page,
      })
    }
  }
}

/** Random gestures on the class lists below a folder; null where no vocabulary is found. `names` limits the steps that shorter lists are looked for among. */
export async function runFluent(
  dir: string,
  edits: number,
  seed: number,
  names: (name: string) => boolean = () => true,
): Promise<{ fluent: Fluent; label: string } | null> {
  const { tailwind, version, config, ...opened } = await openFolder(dir)
  if (opened.vocabularies.length === 0) return null
  const source: ClassSource | null =
    tailwind &&
    (version === 3
      ? await tailwind3(config)
      : {
          names: tailwind.listed,
          defaults: new Map(),
          css: (name) => tailwind.cssOf(name),
          order: (list) => tailwind.order(list),
        })
  const fluent = new Fluent({ tailwind, version, config, ...opened }, source && { ...source, names: source.names.filter(names) }, seed)
  for (let step = 1; fluent.result.edits < edits; step++) fluent.one(step)
  return { fluent, label: `${opened.vocabularies[0].label}${tailwind ? ` ${version}` : ''}` }
}

if (process.argv[1]?.endsWith('fluent.ts')) {
  const dir = folder('fluent', '[--edits N]')
  const start = performance.now()
  const done = await runFluent(dir, option('--edits', 1000), option('--seed', 1))
  if (!done) {
    console.error(`${dir}: no utility classes`)
    process.exit(2)
  }
  const {
    fluent: { result, faults, kinds, refusals },
    label,
  } = done
  const shown: Record<string, number> = {}
  for (const f of faults)
    if ((shown[f.kind] = (shown[f.kind] ?? 0) + 1) <= option('--show', 12))
      console.log(
        `\n${f.kind.toUpperCase()} step ${f.step} in ${f.file}\n  ${f.what}\n  ${f.why}\n  before: ${f.before}\n  after:  ${f.after}`,
      )
  console.log(
    `${dir}: ${label}; ${JSON.stringify(kinds)}, refused ${JSON.stringify(refusals)}; ${((performance.now() - start) / 1000).toFixed(1)} s`,
  )
  console.log(
    flag('json')
      ? JSON.stringify(result)
      : Object.entries(result)
          .map(([k, n]) => `${k} ${n}`)
          .join(', '),
  )
  process.exitCode = result.wrong > 0 || result.dead > 0 || result.longer * 100 >= result.edits ? 1 : 0
}
