/**
 * `npm run corpus:components -- DIR [--edits N] [--seed S] [--json]`: random edits of class lists, styles, texts, attributes,
 * tag names and of where tags stand in every JSX and TSX file below DIR. After each, an independent reading of the file (`components-witness.ts`) has
 * what was asked for and differs in nothing else, our own reading gives the value back, and undo gives the bytes back. Prints
 * the share of class lists that can be edited where they are written, too. Exits 1 on any violation.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { planIntent, type Intent, type PlannedEdit } from '../src/core/edit'
import { isJsxPath, JsxDocument } from '../src/core/jsx'
import { attribute, loadLanguages, type SourceElement } from '../src/core/language'
import { Project } from '../src/core/project'
import { applySplices } from '../src/core/text'
import {
  classesIn,
  compiled,
  keyOf,
  propertiesOf,
  randomState,
  skeleton,
  textsOf,
  type Compiled,
  type State,
  type TreeNode,
} from './components-witness'
import { flag, folder, option } from './options'
import { Random } from './random'
import { lostImport, saidAfter, saidBy, type StructureEdit } from './structure-witness'

interface Violation {
  readonly step: number
  readonly file: string
  readonly what: string
  readonly why: string
  readonly before: string
  readonly after: string
}

/** An edit with what is to be asked of the file after it: a fault, or null. */
interface Asked {
  readonly kind: string
  readonly intent: Intent
  /** `nth` is the tag's place in the file. */
  check(before: Compiled, after: Compiled, nth: number): string | null
  /** What of the two programs may differ. */
  leave(node: TreeNode, file: Compiled, nth: number): boolean
  /** Whether the tags of the file are others after it: {@link check} holds the whole of it then. */
  readonly isOfTags?: boolean
}

const NAMES = [
  'p-4',
  'md:hover:bg-teal-700/50',
  "content-['x']",
  'before:content-["y"]',
  '[&>svg]:w-4',
  'is-open',
  'w-[calc(100%-2rem)]',
  'a&amp;b',
]
const TEXTS = [
  'Last crossing at six',
  'Fares < 4 & "more"',
  '{braces} stay',
  'Ångström – 5 > 4',
  "It's two lines' worth of text that goes on",
  'x',
]
const STYLES: readonly (readonly [property: string, value: string])[] = [
  ['padding-top', '12px'],
  ['color', '#0f5b66'],
  ['margin', '0'],
  ['line-height', '1.4'],
  ['width', 'calc(100% - 2rem)'],
  ['font-family', '"Source Sans 3", serif'],
  ['--gap', '4px'],
  ['z-index', '3'],
  ['gap', '0.5rem'],
]
const ATTRIBUTES: readonly (readonly [name: string, value: string])[] = [
  ['id', 'crossing-2'],
  ['title', 'A "quoted" title'],
  ['aria-label', 'Close & return'],
  ['tabindex', '0'],
  ['hidden', ''],
  ['data-kind', "it's"],
]

/** Pieces of HTML, each with what it is in JSX. */
const PIECES: readonly (readonly [html: string, jsx: string])[] = [
  ['<p class="note">Mind the <b>tide</b></p>', '<p className="note">Mind the <b>tide</b></p>'],
  ['<span>Berth 2</span>', '<span>Berth 2</span>'],
  ['<img src="quay.png" alt="{A} > B">', '<img src="quay.png" alt="{A} > B" />'],
  [
    '<ul>\n  <li tabindex="0">One</li>\n  <li style="padding-top: 4px; color: red">Two</li>\n</ul>',
    "<ul><li tabIndex={0}>One</li><li style={{ paddingTop: '4px', color: 'red' }}>Two</li></ul>",
  ],
  ['<label for="berth">Berth</label>', '<label htmlFor="berth">Berth</label>'],
]

class ComponentCorpus {
  readonly violations: Violation[] = []
  readonly reasons: Record<string, number> = {}
  readonly kinds: Record<string, number> = {}
  readonly unread: string[] = []
  edits = 0
  refused = 0
  private readonly random: Random
  readonly project: Project
  readonly paths: readonly string[]

  constructor(dir: string, seed: number) {
    this.random = new Random(seed)
    const files = readdirSync(dir, { recursive: true, withFileTypes: true })
      .filter((e) => e.isFile() && isJsxPath(e.name) && !/(^|\/)(node_modules|\.git)(\/|$)/.test(e.parentPath))
      .map((e) => join(e.parentPath, e.name))
      .sort()
    this.project = new Project(files.map((file, i) => ({ key: i + 1, path: relative(dir, file), bytes: readFileSync(file) })))
    this.paths = this.project.textPaths().filter((path) => {
      if (this.project.readOnly(path)) return false
      const text = this.project.text(path)
      const { fault, elements } = new JsxDocument(text, path)
      const witness = compiled(text, path)
      if (fault !== null || !witness) this.unread.push(`${path}: ${fault ?? 'esbuild cannot read it'}`)
      return fault === null && witness !== null && elements.length > 0
    })
  }

  private asked(element: SourceElement, source: string, state: State, file: Compiled, nth: number): Asked | null {
    const r = this.random
    switch (r.below(11)) {
      case 8:
      case 9:
      case 10:
        return this.structureEdit(element, source, nth)
      case 0:
      case 1:
      case 2:
        return this.classEdit(element, source, state, file, nth)
      case 3:
        return this.textEdit(element, source)
      case 4:
        return this.attributeEdit(element, source)
      case 5:
      case 6:
        return this.styleEdit(element, source)
      default:
        return element.isHtml ? this.tagEdit(element, source) : null
    }
  }

  private classEdit(element: SourceElement, source: string, state: State, file: Compiled, nth: number): Asked | null {
    const r = this.random
    const shown = classesIn(file, nth, state)
    if (shown === null) return null
    const tree = this.project.tree(this.project.element(source)!.path)
    tree.noteShown?.(element, shown)
    const now = (attribute(element, 'class') ?? '').split(/\s+/).filter(Boolean)
    const fresh = r.pick(NAMES)
    const own = now.length && r.below(4) ? r.pick(now) : null
    const isRemoval = own !== null && r.below(3) === 0
    if (now.includes(fresh) || shown.includes(fresh)) return null
    const kind = isRemoval ? 'class out' : own !== null ? 'class for another' : 'class in'
    return {
      kind,
      intent: {
        kind: 'change-classes',
        sources: [source],
        remove: own === null ? [] : [own],
        add: isRemoval ? [] : [{ name: fresh, ...(own !== null && { instead: own }) }],
      },
      check: (before, after) => {
        const isHere = (list: readonly string[], there: readonly string[], isShown: boolean): string | null => {
          const rest = (names: readonly string[]) => names.filter((n) => n !== own && n !== fresh).join(' ')
          if (rest(list) !== rest(there)) return `“${there.join(' ')}” became “${list.join(' ')}”`
          if (!isShown) return null
          if (!isRemoval && !list.includes(fresh)) return `${fresh} is not in “${list.join(' ')}”`
          if (own !== null && list.includes(own) && count(there, own) <= count(list, own)) return `${own} is still in “${list.join(' ')}”`
          return null
        }
        for (let i = -1; i < 6; i++) {
          const at = i < 0 ? state : randomState(this.random)
          const [was, is] = [classesIn(before, nth, at), classesIn(after, nth, at)]
          if (!is || !was) return is || !was ? null : 'the class list cannot be worked out any more'
          const fault = isHere(is, was, i < 0)
          if (fault) return `${i < 0 ? 'as shown' : 'in another state'}: ${fault}`
        }
        return null
      },
      leave: (node, f, n) => node === propertiesOf(f.calls[n]).findLast((p) => /^class(Name)?$/.test(keyOf(p) ?? '')),
    }
  }

  private textEdit(element: SourceElement, source: string): Asked | null {
    if (element.texts.length === 0) return null
    const index = this.random.below(element.texts.length)
    const was = element.texts[index]
    // White space at the ends is part of what shows.
    const text = /^\s*/.exec(was)![0] + this.random.pick(TEXTS) + /\s*$/.exec(was)![0]
    if (text === was) return null
    return {
      kind: 'text',
      intent: { kind: 'set-text', source, index, text },
      check: (before, after, nth) => {
        const [old, now] = [textsOf(before.calls[nth]), textsOf(after.calls[nth])]
        const wanted = old.map((t, i) => (i === index ? text : t))
        return JSON.stringify(now) === JSON.stringify(wanted) ? null : `texts ${JSON.stringify(now)} in place of ${JSON.stringify(wanted)}`
      },
      leave: (node, file, nth) => (file.calls[nth].arguments as TreeNode[]).slice(2).includes(node) && /Literal/.test(node.type),
    }
  }

  private attributeEdit(element: SourceElement, source: string): Asked | null {
    const r = this.random
    const own = element.attributes.filter((a) => !/^(class|style|key|ref)$/.test(a.name))
    const isRemoval = own.length > 0 && r.below(4) === 0
    const [name, value] = isRemoval || (own.length > 0 && r.below(2)) ? [r.pick(own).name, r.pick(TEXTS)] : r.pick(ATTRIBUTES)
    if (attribute(element, name) === value || /^\d/.test(attribute(element, name) ?? '')) return null
    const key = { tabindex: 'tabIndex', for: 'htmlFor' }[name] ?? name
    const find = (file: Compiled, nth: number) =>
      propertiesOf(file.calls[nth]).findLast((p) => keyOf(p)?.toLowerCase() === key.toLowerCase() || dashed(keyOf(p)) === key)
    return {
      kind: isRemoval ? 'attribute out' : 'attribute',
      intent: { kind: 'set-attribute', source, name, value: isRemoval ? null : value },
      check: (_, after, nth) => {
        const given = find(after, nth)?.value as TreeNode | undefined
        if (isRemoval) return given ? `${name} is still there` : null
        const is = given?.type === 'TemplateLiteral' ? ((given.quasis as TreeNode[])[0].value as { cooked: string }).cooked : given?.value
        return String(is) === value || (value === '' && is === true)
          ? null
          : `${name} is ${JSON.stringify(is)} in place of ${JSON.stringify(value)}`
      },
      leave: (node, file, nth) => node === find(file, nth),
    }
  }

  private styleEdit(element: SourceElement, source: string): Asked | null {
    const r = this.random
    const own = (attribute(element, 'style') ?? '').split(/;\s*/).flatMap((d) => /^([\w-]+):/.exec(d)?.[1] ?? [])
    const isRemoval = own.length > 0 && r.below(3) === 0
    const [property, value] = isRemoval ? [r.pick(own), ''] : r.pick(STYLES)
    const key = property.startsWith('--') ? property : property.replace(/-([a-z])/g, (_, c: string) => c.toUpperCase())
    const objectOf = (file: Compiled, nth: number): TreeNode | null => {
      const given = propertiesOf(file.calls[nth]).findLast((p) => keyOf(p) === 'style')?.value as TreeNode | undefined
      return given?.type === 'ObjectExpression' ? given : null
    }
    return {
      kind: isRemoval ? 'style out' : 'style',
      intent: isRemoval
        ? { kind: 'remove', aim: { kind: 'inline', source }, name: property }
        : { kind: 'set', aim: { kind: 'inline', source }, name: property, value },
      check: (before, after, nth) => {
        const object = objectOf(after, nth)
        // A constant elsewhere gives it.
        if (!object) return objectOf(before, nth) && !isRemoval ? 'the style is gone' : null
        const list = (object.properties as TreeNode[]).filter((p) => keyOf(p) === key)
        if (isRemoval)
          return list.length < (objectOf(before, nth)!.properties as TreeNode[]).filter((p) => keyOf(p) === key).length
            ? null
            : `${key} is still there`
        const given = list.at(-1)?.value as TreeNode | undefined
        const says =
          typeof given?.value === 'number'
            ? given.value === 0 || /^(line-height|z-index)$/.test(property)
              ? String(given.value)
              : `${given.value}px`
            : given?.value
        return says === value ? null : `${key} is ${JSON.stringify(says)} in place of ${value}`
      },
      leave: (node, file, nth) =>
        (node.type === 'Property' && keyOf(node) === key) ||
        (node === propertiesOf(file.calls[nth]).findLast((p) => keyOf(p) === 'style') &&
          (objectOf(file, nth)?.properties as TreeNode[] | undefined)?.every((p) => keyOf(p) === key) === true),
    }
  }

  private structureEdit(element: SourceElement, source: string, nth: number): Asked | null {
    const r = this.random
    const { path, tree } = this.project.element(source)!
    const other = r.pick(tree.elements)
    const place = { source: this.project.sourceOf(path, other.id), where: r.pick(['before', 'after', 'first', 'last'] as const) }
    const anchor = tree.elements.indexOf(other)
    const [html, jsx] = r.pick(PIECES)
    const kinds: [Intent, StructureEdit][] = [
      [
        { kind: 'delete', sources: [source] },
        { kind: 'delete', nth },
      ],
      [
        { kind: 'duplicate', sources: [source] },
        { kind: 'duplicate', nth },
      ],
      [
        { kind: 'move', sources: [source], place },
        { kind: 'move', nth, anchor, where: place.where },
      ],
      [
        { kind: 'insert-html', place, html, what: 'a piece' },
        { kind: 'insert-html', anchor, where: place.where, jsx },
      ],
      [
        { kind: 'wrap', sources: [source], tag: 'div', className: 'row tight' },
        { kind: 'wrap', nth, tag: 'div', className: 'row tight' },
      ],
      ...(element.isHtml
        ? [
            [
              { kind: 'unwrap', sources: [source] },
              { kind: 'unwrap', nth },
            ] as [Intent, StructureEdit],
          ]
        : []),
    ]
    const [intent, edit] = r.pick(kinds)
    return {
      kind: intent.kind,
      intent,
      isOfTags: true,
      check: (before, after) => {
        const wanted = saidAfter(before, edit, path)
        const lost = lostImport(before, after)
        if (lost !== null) return `${lost} is used and not imported any more`
        return wanted === null
          ? 'the witness knows of no such edit'
          : wanted === saidBy(after)
            ? null
            : `it says ${firstOther(saidBy(after), wanted)}`
      },
      leave: () => false,
    }
  }

  private tagEdit(element: SourceElement, source: string): Asked | null {
    const tag = this.random.pick(['section', 'p', 'span', 'h3'])
    if (tag === element.tag) return null
    return {
      kind: 'tag',
      intent: { kind: 'set-tag', source, tag },
      check: (_, after, nth) => {
        const [type] = after.calls[nth].arguments as TreeNode[]
        return type.value === tag ? null : `it is ${JSON.stringify(type.value)}`
      },
      leave: (node, file, nth) => node === (file.calls[nth].arguments as TreeNode[])[0],
    }
  }

  one(step: number): void {
    const { project, random: r } = this
    const path = r.pick(this.paths)
    const tree = project.tree(path)
    // Those that say something of what is edited are looked for first.
    const telling = tree.elements.filter((e) => e.texts.length > 0 || e.attributes.some((a) => /^(class|style)$/.test(a.name)))
    const element = r.pick(telling.length && r.below(4) ? telling : tree.elements)
    const nth = tree.elements.indexOf(element)
    const source = project.sourceOf(path, element.id)
    const text = project.text(path)
    const before = compiled(text, path)!
    if (before.calls.length !== tree.elements.length) {
      this.violations.push({
        step,
        file: path,
        what: 'tags',
        why: `${tree.elements.length} tags, ${before.calls.length} by the witness`,
        before: '',
        after: '',
      })
      this.edits++
      return
    }
    const asked = this.asked(element, source, randomState(r), before, nth)
    if (!asked) return
    this.edits++
    this.kinds[asked.kind] = (this.kinds[asked.kind] ?? 0) + 1
    const plan = planIntent(project, asked.intent)
    if (!plan.ok) {
      this.refused++
      const reason = `${asked.kind}: ${plan.why}`
      this.reasons[reason] = (this.reasons[reason] ?? 0) + 1
      return
    }
    this.hold(step, path, nth, asked, plan, text, before)
  }

  private hold(step: number, path: string, nth: number, asked: Asked, plan: PlannedEdit, text: string, before: Compiled): void {
    const { project } = this
    const undo = plan.changes.map((c) => ({ path: c.path, inverse: project.apply(c.path, c.splices).inverse }))
    const now = project.text(path)
    const shownAt = (t: string) => {
      const from = plan.changes[0].splices[0]?.from ?? 0
      return t.slice(Math.max(0, t.lastIndexOf('\n', from - 1) - 80), from + 160)
    }
    const fail = (why: string) =>
      this.violations.push({ step, file: path, what: JSON.stringify(asked.intent), why, before: shownAt(text), after: shownAt(now) })
    if (plan.changes.some((c) => c.path === path && applySplices(text, c.splices) !== now)) fail('bytes outside the plan changed')
    const after = compiled(now, path)
    if (!after || (!asked.isOfTags && after.calls.length !== before.calls.length))
      fail('the file cannot be read any more, or has other tags')
    else if (asked.isOfTags) {
      const why = asked.check(before, after, nth)
      if (why) fail(why)
    } else {
      const why = asked.check(before, after, nth)
      if (why) fail(why)
      const same = (file: Compiled) => skeleton(file.program, (node) => asked.leave(node, file, nth))
      // Classes of a constant, or of variants, stand elsewhere in the file.
      const [splice] = plan.changes[0].splices
      const tag = project.tree(path).elements[nth].startTag!
      const isInTag = !asked.kind.startsWith('class') || (splice && splice.from >= tag.from && splice.from <= tag.to)
      if (isInTag && same(before) !== same(after)) fail('something else of the file changed')
      const read = project.tree(path).elements[nth]
      if (asked.intent.kind === 'set-text' && !read.texts.includes(asked.intent.text))
        fail(`the text is read back as ${JSON.stringify(read.texts)}`)
      if (asked.intent.kind === 'set-attribute' && attribute(read, asked.intent.name) !== asked.intent.value)
        fail('the attribute is not read back')
    }
    for (const { path: p, inverse } of undo.reverse()) project.apply(p, inverse)
    if (project.text(path) !== text) fail('undo does not give the bytes back')
  }

  /** How many class lists can be edited where they are written, and why the rest cannot. */
  lists(): { readonly all: number; readonly editable: number; readonly rest: Readonly<Record<string, number>> } {
    let [all, editable] = [0, 0]
    const rest: Record<string, number> = {}
    for (const path of this.paths)
      for (const element of new JsxDocument(this.project.text(path), path).elements) {
        if (!element.isHtml || !element.attribute('class')) continue
        all++
        const { pieces, unknown } = element.classValue
        const isModule = unknown.length > 0 && unknown.every((n) => n.type === 'MemberExpression')
        if (pieces.length > 0 || isModule || unknown.length === 0) editable++
        else rest[unknown[0].type] = (rest[unknown[0].type] ?? 0) + 1
      }
    return { all, editable, rest }
  }
}

// Where two texts begin to differ.
function firstOther(is: string, wanted: string): string {
  let at = 0
  while (is[at] === wanted[at]) at++
  const around = (text: string) => text.slice(Math.max(0, at - 60), at + 120)
  return `…${around(is)}… in place of …${around(wanted)}…`
}

const count = (list: readonly string[], name: string): number => list.filter((n) => n === name).length

const dashed = (key: string | null): string | null => key && key.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)

export interface ComponentCorpusResult {
  readonly files: number
  readonly unread: readonly string[]
  readonly edits: number
  readonly refused: number
  readonly violations: readonly Violation[]
  readonly kinds: Readonly<Record<string, number>>
  readonly reasons: Readonly<Record<string, number>>
  readonly lists: ReturnType<ComponentCorpus['lists']>
  readonly seconds: number
}

/** Random edits of the components below a folder. Makes none where no file of it has a tag. */
export function runComponentCorpus(dir: string, edits: number, seed: number): ComponentCorpusResult {
  const corpus = new ComponentCorpus(dir, seed)
  const start = performance.now()
  for (let step = 1; corpus.edits < edits && corpus.paths.length > 0; step++) corpus.one(step)
  return {
    files: corpus.paths.length,
    unread: corpus.unread,
    edits: corpus.edits,
    refused: corpus.refused,
    violations: corpus.violations,
    kinds: corpus.kinds,
    reasons: corpus.reasons,
    lists: corpus.lists(),
    seconds: Number(((performance.now() - start) / 1000).toFixed(1)),
  }
}

if (process.argv[1]?.endsWith('corpus-components.ts')) {
  await loadLanguages(['.tsx'])
  const dir = folder('corpus:components', '[--edits N]')
  const wanted = option('--edits', 1000)
  const { violations, unread, ...result } = runComponentCorpus(dir, wanted, option('--seed', 1))
  for (const v of violations.slice(0, 15))
    console.log(`\nVIOLATION step ${v.step} in ${v.file}\n  ${v.what}\n  ${v.why}\n  before: ${v.before}\n  after:  ${v.after}`)
  for (const file of unread.slice(0, 10)) console.log(`not read: ${file}`)
  if (flag('json')) console.log(JSON.stringify({ ...result, unread: unread.length, violations: violations.length }))
  else {
    const { all, editable, rest } = result.lists
    console.log(
      `${dir}: ${result.files} files, ${result.edits} edits, ${result.refused} refused, ${violations.length} violations, ${result.seconds} s ${JSON.stringify(result.kinds)} ${JSON.stringify(result.reasons)}`,
    )
    console.log(`${editable} of ${all} class lists can be edited where they are written; the rest: ${JSON.stringify(rest)}`)
  }
  process.exitCode = violations.length || result.edits < wanted ? 1 : 0
}
