import { parse, type AtRule, type ChildNode, type Container, type Rule } from 'postcss'
import { compareSpecificity, longhandsOf, specificityOf, splitSelectors, type Specificity } from '../src/core/css'
import { resolveVariables, type Vocabulary } from '../src/core/utility'

/** A rule of one class, as the package or the project's sheet has it: read with postcss, and nothing of ours. */
export interface ClassRule {
  readonly name: string
  /** All that has to hold, sorted: media queries, states and what it stands in, with `&` for the element. */
  readonly conditions: readonly string[]
  /** `''` for the element itself, else a selector with `&` of what it is about. */
  readonly on: string
  readonly declarations: readonly { readonly name: string; readonly value: string; readonly important: boolean }[]
  readonly specificity: Specificity
  readonly at: number
}

/** Classes that a package compiles one by one. */
export interface ClassSource {
  readonly names: readonly string[]
  /** What variables are that no class of a list sets. */
  readonly defaults: ReadonlyMap<string, string>
  readonly css: (name: string) => string | null
  /** For each class its place in the sheet. */
  readonly order: (names: readonly string[]) => ReadonlyMap<string, number>
}

/** Where a page is looked at: its width in px, and the other conditions that hold. */
export interface World {
  readonly width: number
  readonly held: ReadonlySet<string>
}

const REM = 16
const CLASS = /\.((?:[\w-]|\\[0-9a-f]{1,6}\s?|\\.|[^\x00-\x7f])+)/gi
const unescape = (name: string): string =>
  name.replace(/\\([0-9a-f]{1,6})\s?|\\(.)/gi, (_, hex: string | undefined, ch: string) =>
    hex ? String.fromCodePoint(parseInt(hex, 16)) : ch,
  )

// What an element has to be, one by one: `&:is(.dark *):hover` is `&:is(.dark *)` and `&:hover`.
function statesOf(selector: string): string[] {
  if (!selector.startsWith('&')) return [selector]
  const out: string[] = []
  let depth = 0
  for (const ch of selector.slice(1)) {
    if (depth === 0 && /[:.[]/.test(ch)) out.push('&')
    if (ch === '(' || ch === '[') depth++
    if (ch === ')' || ch === ']') depth--
    out[out.length - 1] += ch
  }
  return out
}

/** The widths in px that a media query asks for; null when it asks for anything else. */
function widthsOf(condition: string): { readonly min: number; readonly max: number } | null {
  const px = (n: string, unit: string) => Number(n) * (unit === 'px' ? 1 : REM)
  const parts = condition.split(/\s+and\s+/)
  let [min, max] = [0, Infinity]
  for (const part of parts) {
    const least = /^\((?:min-width\s*:|width\s*>=)\s*([\d.]+)(px|r?em)\)$/.exec(part)
    const most = /^\((?:max-width\s*:|width\s*<=?)\s*([\d.]+)(px|r?em)\)$/.exec(part)
    if (least) min = Math.max(min, px(least[1], least[2]))
    else if (most) max = Math.min(max, px(most[1], most[2]) - (part.includes('<=') || part.includes('max-width') ? 0 : 0.02))
    else return null
  }
  return { min, max }
}

export const holds = (world: World, condition: string): boolean => {
  const widths = widthsOf(condition)
  return widths ? world.width >= widths.min && world.width <= widths.max : world.held.has(condition)
}

/** A page on which just these conditions hold. */
export function worldOf(conditions: readonly string[]): World {
  const widths = conditions.map(widthsOf).filter((w) => w !== null)
  const least = Math.max(0, ...widths.map((w) => w.min))
  return { width: Math.min(least || 1, ...widths.map((w) => w.max)), held: new Set(conditions) }
}

function flatten(css: string, wanted: (name: string) => boolean, take: (rule: Omit<ClassRule, 'at'>) => void): void {
  const walk = (node: Container<ChildNode>, selectors: readonly string[], conditions: readonly string[]) => {
    const declarations =
      node.nodes?.flatMap((n) => (n.type === 'decl' ? [{ name: n.prop, value: n.value, important: n.important === true }] : [])) ?? []
    if (declarations.length > 0) {
      for (const selector of selectors) {
        for (const found of selector.matchAll(CLASS)) {
          const name = unescape(found[1])
          if (!wanted(name)) continue
          const rest = selector.slice(0, found.index) + '&' + selector.slice(found.index + found[0].length)
          const isElsewhere = /::|&[^\s>+~]*\s*[>+~]|& \S|\(& /.test(
            rest.replace(/:(?:where|is)\([^()]*(?:\([^()]*\)[^()]*)*\)/g, (m) => (/\(&|& /.test(m) ? m : ':x')),
          )
          const state = isElsewhere ? [] : statesOf(rest)
          take({
            name,
            conditions: [...new Set([...conditions, ...state])].sort(),
            on: isElsewhere ? rest : '',
            declarations,
            specificity: specificityOf(selector) ?? [0, 1, 0],
          })
        }
      }
    }
    for (const child of node.nodes ?? []) {
      if (child.type === 'rule') {
        const own = splitSelectors((child as Rule).selector).map((s) => s.trim())
        walk(
          child,
          selectors.length
            ? selectors.flatMap((outer) => own.map((s) => (s.includes('&') ? s.replaceAll('&', outer) : `${outer} ${s}`)))
            : own,
          conditions,
        )
      } else if (child.type === 'atrule') {
        const { name, params } = child as AtRule
        // What repeats a value in a newer notation, and that the pointer can hover at all, are no conditions of their own.
        if (name === 'supports' || name === 'property' || name === 'keyframes' || name === 'font-face' || !child.nodes) continue
        walk(
          child,
          selectors,
          name === 'layer' || (name === 'media' && params === '(hover: hover)')
            ? conditions
            : [...conditions, name === 'media' ? params : `@${name} ${params}`],
        )
      }
    }
  }
  walk(parse(css), [], [])
}

/** The properties that transform an element, in the order in which they apply (CSS Transforms 2 §6). */
export const TRANSFORMS: readonly string[] = ['translate', 'rotate', 'scale', 'transform']

/** The functions that an element is transformed by, in order (CSS Transforms 2 §6), each in one notation. */
export function composedTransform(value: (property: string) => string | undefined): string {
  const out: string[] = []
  const take = (name: string, x: string, y: string | undefined) => {
    const [a, b] = name === 'translate' ? [x, y ?? '0'] : [x, y ?? x]
    // Moved along one axis and then the other is moved along both.
    const moved = /^translate\((.*),(.*)\)$/.exec(out.at(-1) ?? '')
    if (
      name === 'translate' &&
      moved &&
      [
        [moved[1], a],
        [moved[2], b],
      ].every((p) => p.includes('0'))
    )
      return void out.splice(-1, 1, `translate(${moved[1] === '0' ? a : moved[1]},${moved[2] === '0' ? b : moved[2]})`)
    // Version 3 scales one axis after the other.
    const last = /^scale\((.*),1\)$/.exec(out.at(-1) ?? '')
    if (name === 'scale' && a === '1' && last) return void out.splice(-1, 1, `scale(${last[1]},${b})`)
    if (name === 'translate' ? a === '0' && b === '0' : name === 'scale' ? a === '1' && b === '1' : a === '0' || a === '0deg') return
    const text = name === 'rotate' ? `rotate(${a})` : `${name}(${a},${b})`
    // A turn and an even scale give the same in either order.
    const before = out.at(-1)
    if (name === 'rotate' && before && /^scale\(([^,]*),\1\)$/.test(before)) out.splice(-1, 0, text)
    else out.push(text)
  }
  for (const name of TRANSFORMS.slice(0, 3)) {
    const said = value(name)
    if (said && said !== 'none') take(name, said.split(' ')[0], said.split(' ')[1])
  }
  for (const [whole, name, args] of (value('transform') ?? '').matchAll(/([\w]+)\(([^()]*(?:\([^()]*\)[^()]*)*)\)/g)) {
    const [x, y] = args.split(',').map((a) => a.trim())
    const axis = /^(translate|scale)(x|y)$/i.exec(name)
    const none = axis?.[1].toLowerCase() === 'scale' ? '1' : '0'
    if (axis) take(axis[1].toLowerCase(), axis[2].toLowerCase() === 'x' ? x : none, axis[2].toLowerCase() === 'x' ? none : x)
    else if (/^(translate|rotate|scale)$/.test(name)) take(name, x, y ?? (name === 'translate' ? '0' : undefined))
    else if (!/^skew[xy]?$/i.test(name) || !/^0(deg)?$/.test(args)) out.push(whole.toLowerCase())
  }
  return out.join(' ') || 'none'
}

/** The same properties with another value for one of them. Version 3 writes all of them as one `transform`. */
export function transformWith(
  own: (property: string) => string | undefined,
  property: string,
  value: string,
): (property: string) => string | undefined {
  if (property === 'transform') return (p) => (p === 'transform' ? value : own(p))
  const functions = [...(own('transform') ?? '').matchAll(/([\w]+)\(([^()]*(?:\([^()]*\)[^()]*)*)\)/g)]
  const isOf = (name: string, p: string) => new RegExp(`^${p}[xy]?$`, 'i').test(name)
  if (functions.length === 0) return (p) => (p === property ? value : own(p))
  // In their order, whichever of them was there.
  const at = TRANSFORMS.indexOf(property)
  const before = functions.filter(([, name]) => TRANSFORMS.slice(0, at).some((p) => isOf(name, p))).map(([whole]) => whole)
  const after = functions
    .filter(([, name]) => !isOf(name, property) && !TRANSFORMS.slice(0, at).some((p) => isOf(name, p)))
    .map(([whole]) => whole)
  const as = value === 'none' ? '' : `${property}(${value.split(' ').join(',')})`
  return (p) => (p === 'transform' ? [...before, as, ...after].join(' ') : own(p))
}

/** What classes say: each compiled alone by the real package, or as the project's own sheets have it. */
export class FluentReading {
  private readonly known = new Map<string, readonly ClassRule[]>()
  private readonly inSheets = new Map<string, ClassRule[]>()

  constructor(
    private readonly v: Vocabulary,
    private readonly source: ClassSource | null,
    sheets: readonly string[],
  ) {
    let at = 0
    if (!source)
      for (const css of sheets)
        flatten(
          css,
          () => true,
          (rule) => this.inSheets.set(rule.name, [...(this.inSheets.get(rule.name) ?? []), { ...rule, at: at++ }]),
        )
  }

  /** The rules of a class; empty when nothing gives it any. */
  rules(name: string): readonly ClassRule[] {
    if (!this.source) return this.inSheets.get(name) ?? []
    let found = this.known.get(name)
    if (!found) {
      const out: ClassRule[] = []
      const css = this.source.css(name)
      if (css)
        flatten(
          css,
          (n) => n === name,
          (rule) => out.push({ ...rule, at: out.length }),
        )
      this.known.set(name, (found = out))
    }
    return found
  }

  /** Names that the package lists, or that the sheets define. */
  get names(): readonly string[] {
    return this.source?.names ?? [...this.inSheets.keys()]
  }

  /** What an element with these classes has on a page: by `on|longhand`, in normal form. */
  meaning(names: readonly string[], world: World): Map<string, string> {
    return new Map([...this.decided(names, world)].map(([key, { value }]) => [key, value]))
  }

  /** The same, with the class that decides. */
  decided(names: readonly string[], world: World): Map<string, { readonly value: string; readonly by: string }> {
    const out = this.longhands(names, world)
    // What an element is transformed by is one thing, by whichever properties it is said.
    const of = (name: string) => out.get(`|${name}`)
    const last = TRANSFORMS.map(of).findLast((d) => d !== undefined)
    if (!last) return out
    const value = composedTransform((name) => of(name)?.value)
    for (const name of TRANSFORMS) out.delete(`|${name}`)
    return out.set('|transform', { value, by: last.by })
  }

  /** The same, with each property that transforms by itself. */
  longhands(names: readonly string[], world: World): Map<string, { readonly value: string; readonly by: string }> {
    const order = this.source?.order(names)
    const active = names.flatMap((name) =>
      this.rules(name)
        .filter((r) => r.conditions.every((c) => holds(world, c)))
        .map((rule) => ({ rule, order: (order?.get(name) ?? 0) * 1000 + rule.at })),
    )
    active.sort((a, b) => compareSpecificity(a.rule.specificity, b.rule.specificity) || a.order - b.order)
    const decided = new Map<string, { by: string; name: string; property: string; value: string; important: boolean }>()
    for (const { rule } of active) {
      for (const d of rule.declarations) {
        for (const longhand of d.name.startsWith('--') ? [d.name] : longhandsOf(d.name)) {
          const key = `${rule.on}|${longhand}`
          if (!decided.get(key)?.important || d.important)
            decided.set(key, {
              by: rule.name,
              name: longhand,
              property: d.name,
              value: d.value,
              important: d.important,
            })
        }
      }
    }
    const out = new Map<string, { value: string; by: string }>()
    for (const [key, d] of decided) {
      const on = key.slice(0, key.lastIndexOf('|'))
      const variable = (name: string) =>
        name.startsWith('--tw-') ? (decided.get(`${on}|${name}`)?.value ?? this.source?.defaults.get(name) ?? null) : null
      if (d.name.startsWith('--')) continue
      out.set(key, { value: this.v.normal(d.property, resolveVariables(d.value, variable), d.name), by: d.by })
    }
    return out
  }
}
