/**
 * `npm run corpus:classes -- DIR [--edits N] [--seed S] [--json]`: random edits of class lists in the pages below DIR, by
 * property and by name, each held against an independent reading of the page: only the list changes, what stays keeps its
 * order, nothing is set twice, and undo gives the bytes back. What the lists say is judged by `fluent`. Exits 1 on any
 * violation.
 */
import { parse } from 'postcss'
import { planIntent, type Intent } from '../src/core/edit'
import { longhandsOf } from '../src/core/css'
import { attribute } from '../src/core/language'
import { applySplices } from '../src/core/text'
import { readClassList, sameVariant, segments, type UtilityClass, type Vocabulary } from '../src/core/utility'
import { checkHtml } from './corpus-check'
import { folder, flag, option } from './options'
import { openFolder, type ProjectFolder } from './project-vocabularies'
import { Random } from './random'
import { PROPERTIES } from './values'

interface Violation {
  readonly step: number
  readonly file: string
  readonly what: string
  readonly why: string
  readonly before: string
  readonly after: string
}

const VARIANTS = ['', '', '', '', 'md', 'hover', 'lg', 'md:hover', 'dark', 'focus-visible']

/** Declarations of a class that a reader of ours did not read: from the package's own text, or the sheet's. */
type Witness = (name: string) => readonly (readonly [property: string, value: string])[]

class ClassCorpus {
  readonly violations: Violation[] = []
  readonly reasons: Record<string, number> = {}
  edits = 0
  refused = 0
  private readonly random: Random
  private readonly pages: readonly string[]

  constructor(
    private readonly opened: ProjectFolder,
    seed: number,
  ) {
    this.random = new Random(seed)
    this.pages = opened.project
      .pages()
      .filter(
        (p) =>
          !opened.project.readOnly(p) &&
          opened.project.tree(p).elements.some((e) => e.startTag && e.attributes.some((a) => a.name === 'class')),
      )
  }

  private readonly witness: Witness = (name) => {
    const { tailwind } = this.opened
    const css = tailwind?.read(name) ? tailwind.cssOf(name) : null
    const out: [string, string][] = []
    // What stands outside the class's own rule, or in one nested in it, is on other elements or is a newer notation.
    if (css)
      parse(css).walkDecls((d) => {
        if (
          d.parent?.type === 'rule' &&
          (d.parent as { selector: string }).selector.startsWith('.') &&
          !/^@supports|^@property/.test(`@${(d.parent.parent as { name?: string } | undefined)?.name}`)
        )
          out.push([d.prop, d.value])
        // What it says at some widths alone is another thing than what it says at all.
        const around = d.parent as { readonly type: string; readonly name?: string; readonly params?: string } | undefined
        if (around?.type === 'atrule' && around.name === 'media') out.push([`${d.prop} ${around.params}`, d.value])
      })
    return out
  }

  private value(v: Vocabulary, property: string): string {
    const r = this.random
    const steps = v.steps(longhandsOf(property))
    return steps.length && (r.below(3) || !v.isCompiled) ? r.pick(steps).value : PROPERTIES[property](r)
  }

  private intent(
    source: string,
    names: readonly string[],
  ): { intent: Intent; kind: string; property: string | null; value: string; variant: string; v: Vocabulary } | null {
    const r = this.random
    const vocabulary = r.below(this.opened.vocabularies.length)
    const v = this.opened.vocabularies[vocabulary]
    const known = names.map((n) => v.read(n)).filter((c): c is UtilityClass => c !== null)
    const variant = known.length && r.below(3) === 0 ? r.pick(known).variant : v.isCompiled ? r.pick(VARIANTS) : ''
    const own = known.flatMap((c) => c.declared.filter((d) => d.on === '' && PROPERTIES[d.name]).map((d) => d.name))
    const property = own.length && r.below(2) ? r.pick(own) : r.pick(Object.keys(PROPERTIES).filter((p) => !p.startsWith('--')))
    const aim = { kind: 'class-list' as const, source, vocabulary, variant, alike: r.below(12) === 0 }
    switch (r.below(8)) {
      case 0:
        return { intent: { kind: 'unset', aim, name: property }, kind: 'unset', property, value: '', variant, v }
      case 1: {
        const base = v.spell(r.pick(v.all()), '', false)
        const add = base && r.below(3) ? [{ name: base, ...(names.length && { instead: r.pick(names) }) }] : []
        return {
          intent: { kind: 'change-classes', sources: [source], remove: names.length ? [r.pick(names)] : [], add },
          kind: 'by name',
          property: null,
          value: '',
          variant,
          v,
        }
      }
      default: {
        const value = this.value(v, property)
        return {
          intent: {
            kind: 'set',
            aim,
            name: property,
            value,
            ...(v.isCompiled && r.below(10) === 0 && { important: true }),
          },
          kind: 'set',
          property,
          value,
          variant,
          v,
        }
      }
    }
  }

  one(step: number): void {
    const { project } = this.opened
    const page = this.random.pick(this.pages)
    const doc = project.tree(page)
    const element = this.random.pick(doc.elements.filter((e) => e.startTag))
    const source = project.sourceOf(page, element.id)
    const list = attribute(element, 'class') ?? ''
    const names = readClassList(list).map((c) => c.name)
    const asked = this.intent(source, names)
    if (!asked) return
    this.edits++
    const plan = planIntent(project, asked.intent)
    if (!plan.ok) {
      this.refused++
      const reason = `${asked.kind}: ${plan.reason}`
      this.reasons[reason] = (this.reasons[reason] ?? 0) + 1
      return
    }
    const before = new Map(plan.changes.map((c) => [c.path, project.text(c.path)]))
    const undo = plan.changes.map((c) => ({ path: c.path, inverse: project.apply(c.path, c.splices).inverse }))
    const now = attribute(project.tree(page).element(element.id), 'class') ?? ''
    const fail = (why: string) =>
      this.violations.push({ step, file: page, what: JSON.stringify(asked.intent), why, before: list, after: now })
    for (const { path, splices } of plan.changes)
      if (project.text(path) !== applySplices(before.get(path)!, splices)) fail('bytes outside the plan changed')
    const shown = plan.preview.find((p) => p.op === 'classes' && p.source === source)
    if (plan.changes.length === 1 && plan.preview.length === 1 && shown?.op === 'classes') {
      const why = checkHtml(before.get(page)!, project.text(page), {
        of: 'attribute',
        element: doc.elements.filter((e) => e.startTag).findIndex((e) => e.id === element.id),
        name: 'class',
        value: shown.value,
      })
      if (why && plan.changes[0].splices.length) fail(why)
    }
    for (const why of this.check(
      asked,
      names,
      readClassList(now).map((c) => c.name),
    ))
      fail(why)
    for (const { path, inverse } of undo.reverse()) project.apply(path, inverse)
    for (const [path, text] of before) if (project.text(path) !== text) fail('undo does not give the bytes back')
  }

  private *check(
    { kind, property, variant, v }: NonNullable<ReturnType<ClassCorpus['intent']>>,
    before: readonly string[],
    after: readonly string[],
  ): Generator<string> {
    const kept = before.filter((n) => after.includes(n))
    if (after.filter((n) => kept.includes(n)).join(' ') !== kept.join(' ')) yield 'classes that stay changed their order'
    if (new Set(after).size < after.length && new Set(before).size === before.length) yield 'a class stands twice'
    if (kind === 'by name' || property === null) return
    const inVariant = (names: readonly string[]) =>
      names.map((n) => v.read(n)).filter((c): c is UtilityClass => c !== null && sameVariant(c.variant, variant))
    const clashes = (names: readonly string[]) =>
      new Set(inVariant(names).flatMap((a, i, all) => all.slice(i + 1).flatMap((b) => this.clash(a, b))))
    const old = clashes(before)
    for (const c of clashes(after)) if (!old.has(c)) yield `two classes set ${c} under ${variant || 'no variant'}`
    const touched = after.filter((n) => !before.includes(n))
    for (const n of touched)
      if (segments(n).slice(0, -1).join(':') !== variant && v.isCompiled && !inVariant([n]).length) yield `${n} is under another variant`
  }

  // By the package's own text: both declare a property with other values, and neither leaves it to a variable of the other.
  private clash(a: UtilityClass, b: UtilityClass): string[] {
    if (a.important !== b.important) return []
    const [x, y] = [this.witness(a.name), this.witness(b.name)]
    if (!this.opened.tailwind?.read(a.name)) return []
    const longhands = (list: ReturnType<Witness>) =>
      new Map(list.filter(([p]) => !p.startsWith('--')).flatMap(([p, value]) => longhandsOf(p).map((l) => [l, value] as const)))
    const [lx, ly] = [longhands(x), longhands(y)]
    // One over another that still says the rest, as `p-4 pl-5`, is how it is written; one that leaves the other nothing is not.
    const order = this.opened.tailwind.order([a.name, b.name])
    const [under, over] = (order.get(a.name) ?? 0) < (order.get(b.name) ?? 0) ? [lx, ly] : [ly, lx]
    if ([...under.keys()].some((l) => !over.has(l))) return []
    return [...lx].flatMap(([l, value]) => {
      const other = ly.get(l)
      return other === undefined || other === value || value.includes('var(--tw-') || other.includes('var(--tw-') ? [] : [l]
    })
  }
}

export interface ClassCorpusResult {
  readonly vocabularies: readonly string[]
  readonly edits: number
  readonly refused: number
  readonly violations: readonly Violation[]
  readonly reasons: Readonly<Record<string, number>>
  readonly notes: readonly string[]
  readonly seconds: number
}

/** Random edits of the class lists below a folder. Makes none where no vocabulary is found. */
export async function runClassCorpus(dir: string, edits: number, seed: number): Promise<ClassCorpusResult> {
  const opened = await openFolder(dir)
  const corpus = new ClassCorpus(opened, seed)
  const start = performance.now()
  for (let step = 1; corpus.edits < edits && opened.vocabularies.length > 0; step++) corpus.one(step)
  return {
    vocabularies: opened.vocabularies.map((v) => v.label),
    edits: corpus.edits,
    refused: corpus.refused,
    violations: corpus.violations,
    reasons: corpus.reasons,
    notes: opened.notes,
    seconds: Number(((performance.now() - start) / 1000).toFixed(1)),
  }
}

if (process.argv[1]?.endsWith('corpus-classes.ts')) {
  const dir = folder('corpus:classes', '[--edits N]')
  const wanted = option('--edits', 1000)
  const { violations, ...result } = await runClassCorpus(dir, wanted, option('--seed', 1))
  for (const v of violations.slice(0, 15))
    console.log(`\nVIOLATION step ${v.step} in ${v.file}\n  ${v.what}\n  ${v.why}\n  before: ${v.before}\n  after:  ${v.after}`)
  if (flag('json')) console.log(JSON.stringify({ ...result, violations: violations.length }))
  else {
    for (const note of result.notes) console.log(`not read: ${note}`)
    console.log(
      `${dir}: ${result.vocabularies.join(' and ') || 'no utility classes'}; ${result.edits} edits, ${result.refused} refused, ${violations.length} violations, ${result.seconds} s ${JSON.stringify(result.reasons)}`,
    )
  }
  process.exitCode = violations.length || result.edits < wanted ? 1 : 0
}
