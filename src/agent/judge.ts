import { longhandsOf } from '../core/css'
import type { Asked, Missed } from './protocol'

/** Elements that are asked for more than whether they show the value, and those that are reported as not showing it. */
const MOST_LOOKED_INTO = 40
const MOST_TOLD = 20

/** What an element's computed value depends on besides the text of the declaration. */
const DEPENDS =
  /%|\d(?:em|ex|ch|lh|cap|ic|cq\w+|cqi|cqb|rem|rlh|v\w+|sv\w+|lv\w+|dv\w+)\b|\(|auto|inherit|unset|revert|initial|currentcolor|content|larger|smaller|bolder|lighter|stretch/i

const COLOR = /(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\([^()]*\)/gi

/** Values that a property gives by what is set for others, too: they are asked of each element. */
const DEPENDING = /^(display|line-height|float|border-.*-width|outline-width|column-rule-width|width|height|(inline|block)-size)$/

const OF_SIZE = /^(width|height|inline-size|block-size)$/

/** A number as it was asked for, and as the engine gives it back; null for what is no plain number or length in px. */
function plain(text: string): { readonly number: number; readonly unit: string } | null {
  const m = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)(px)?$/i.exec(text.trim())
  return m && { number: Number(m[1]), unit: m[2] ? 'px' : '' }
}

/** A shadow that draws nothing, as classes that make up a list of shadows leave it in the place of each that is not set. */
const NO_SHADOW = /rgba\(0, 0, 0, 0\) 0px 0px 0px 0px(?:, )?/g

/** How far the 8-bit channels of what is one colour in two colour spaces can be apart. */
const NEAR_COLOR = 1

const drawn = new Map<string, readonly number[]>()

// A colour as it is drawn: red, green, blue and alpha, each 0 to 255.
function asDrawn(color: string): readonly number[] {
  let known = drawn.get(color)
  if (!known) {
    const context = new OffscreenCanvas(1, 1).getContext('2d')!
    context.fillStyle = color
    context.fillRect(0, 0, 1, 1)
    drawn.set(color, (known = [...context.getImageData(0, 0, 1, 1).data]))
  }
  return known
}

// Without what draws nothing or goes without saying: empty shadows, and that stops go from end to end (CSS Images 3 §3.4.3).
const plainly = (value: string): string => {
  const text = value.replace(NO_SHADOW, '')
  return text.includes('-gradient(')
    ? text.replace(/((?:rgba?|color|lab|lch|oklab|oklch)\([^()]*\)|transparent) 0%(?=,)/, '$1').replace(/ 100%\)$/, ')')
    : text
}

/** Whether two computed values look the same: colours by what is drawn, whatever colour space they are said in. */
function looksSame(a: string, b: string): boolean {
  if (a === b) return true
  const [one, other] = [plainly(a), plainly(b)]
  if (one.replace(COLOR, '#') !== other.replace(COLOR, '#')) return false
  const colors = other.match(COLOR) ?? []
  return (one.match(COLOR) ?? []).every((c, i) => asDrawn(c).every((n, k) => Math.abs(n - asDrawn(colors[i])[k]) <= NEAR_COLOR))
}

/** Layout works in 1/64 px, and borders are whole device pixels. */
const NEAR = 0.06

type Held = readonly (readonly [name: string, value: string])[]

/**
 * What each of some declarations would compute to on elements if it won over all others: they are given it for a moment in
 * their `style` attributes, or, for a pseudo-element, by an animation (CSS Cascade 5 §6.1), and are then as they were.
 */
function asThoughItWon(elements: readonly Element[], part: string, declarations: Held, reads: readonly string[]): string[][] {
  if (part) {
    return elements.map((e) => {
      const frames = Object.fromEntries(
        declarations.map(([name, value]) => [
          name.startsWith('--') ? name : name.replace(/-(\w)/g, (_, c: string) => c.toUpperCase()),
          [value, value],
        ]),
      )
      const animation = e.animate(frames, { duration: 1e9, fill: 'both', pseudoElement: part })
      animation.pause()
      const style = getComputedStyle(e, part)
      const out = reads.map((r) => style.getPropertyValue(r))
      animation.cancel()
      return out
    })
  }
  const styled = elements.filter((e): e is HTMLElement => 'style' in e)
  const before = styled.map((e) => e.getAttribute('style'))
  for (const e of styled) {
    e.style.setProperty('transition', 'none', 'important')
    for (const [name, value] of declarations) e.style.setProperty(name, value, 'important')
  }
  const out = elements.map((e) => {
    const style = getComputedStyle(e)
    return reads.map((r) => style.getPropertyValue(r))
  })
  styled.forEach((e, i) => {
    const text = before[i]
    if (text === null) e.removeAttribute('style')
    else e.setAttribute('style', text)
  })
  return out
}

// A size can be kept from what was asked by others: the first that lets it be, alone or with those before it.
function heldBy(element: Element, part: string, name: string, value: string, now: string): string | null {
  const axis = /height|block/.test(name) ? 'height' : 'width'
  const tries: readonly (readonly [by: string, free: Held])[] = [
    [`max-${axis}`, [[`max-${axis}`, 'none']]],
    [`min-${axis}`, [[`min-${axis}`, '0']]],
    ['flex-shrink', [['flex-shrink', '0']]],
    ['flex-grow', [['flex-grow', '0']]],
    ['flex-basis', [['flex-basis', 'auto']]],
  ]
  const free = (held: Held) => asThoughItWon([element], part, [[name, value], ...held], [name])[0][0]
  const all = free(tries.flatMap(([, held]) => held))
  if (all === now) return null
  return tries.find(([, held]) => free(held) === all)?.[0] ?? tries.find(([, held]) => free(held) !== now)?.[0] ?? null
}

function undefinedVariable(value: string, style: CSSStyleDeclaration): string | null {
  for (const [, name, after] of value.matchAll(/var\(\s*(--[^\s,)]+)\s*(,|\))/gi))
    if (after === ')' && style.getPropertyValue(name).trim() === '') return name
  return null
}

/** Whether elements show what was asked for; of those that do not, why the first few do not. Elements are given by their places in the list. */
export function judge(
  elements: readonly Element[],
  part: string,
  asked: readonly Asked[],
): { readonly shows: number; readonly misses: readonly (readonly [at: number, why: Missed])[] }[] {
  return asked.map(({ name, value }) => {
    const reads = name.startsWith('--') ? [name] : longhandsOf(name)
    const now = elements.map((e) => {
      const style = getComputedStyle(e, part || null)
      return reads.map((r) => style.getPropertyValue(r))
    })
    const meant = meantOn(elements, part, { name, value }, reads, now)
    const misses: [number, Missed][] = []
    let shows = 0
    elements.forEach((e, at) => {
      // What else could keep a value from being what it says is looked into for the first few.
      const isOther = now[at].some((v, k) => !looksSame(v, meant[at][k]))
      const why = at < MOST_LOOKED_INTO || isOther ? missOf(e, part, { name, value }, reads, now[at], meant[at]) : null
      if (!why) shows++
      else if (misses.length < MOST_TOLD) misses.push([at, why])
    })
    return { shows, misses }
  })
}

// Where the text alone says it, the first element's answer is good for those that show the same.
function meantOn(
  elements: readonly Element[],
  part: string,
  { name, value }: Asked,
  reads: readonly string[],
  now: readonly (readonly string[])[],
): (readonly string[])[] {
  const [first] = elements
  if (!first) return []
  const isSame = !DEPENDS.test(value.replace(COLOR, '')) && !reads.some((r) => DEPENDING.test(r))
  if (!isSame) return asThoughItWon(elements, part, [[name, value]], reads)
  const [one] = asThoughItWon([first], part, [[name, value]], reads)
  const others = elements.filter((_, i) => now[i].some((v, k) => v !== one[k]))
  const asked = new Map(asThoughItWon(others, part, [[name, value]], reads).map((meant, i) => [others[i], meant]))
  return elements.map((e) => asked.get(e) ?? one)
}

function missOf(
  e: Element,
  part: string,
  { name, value }: Asked,
  reads: readonly string[],
  now: readonly string[],
  meant: readonly string[],
): Missed | null {
  const at = now.findIndex((v, k) => !looksSame(v, meant[k]))
  if (at >= 0) return { reason: 'stronger', property: reads[at], shown: now[at], meant: meant[at], by: null }
  const style = getComputedStyle(e, part || null)
  const variable = undefinedVariable(value, style)
  const said = { property: reads[0], shown: now[0], meant: value, by: null }
  if (variable) return { ...said, reason: 'undefined-variable', by: variable }
  if (
    reads.length === 1 &&
    OF_SIZE.test(name) &&
    !/^(auto|(min|max|fit)-content|stretch|inherit|initial|unset|revert)/i.test(value) &&
    style.display !== 'inline'
  ) {
    const exact = plain(value)
    if (exact && plain(now[0]) && Math.abs(exact.number - plain(now[0])!.number) <= NEAR) return null
    const by = heldBy(e, part, name, value, now[0])
    if (by) return { ...said, reason: 'held', by }
    return exact?.unit === 'px' && plain(now[0]) ? { ...said, reason: 'held', by: null } : null
  }
  const wanted = plain(value)
  // Of a shorthand of sides, one value is each side's.
  const wrong = wanted
    ? reads.findIndex(
        (r, k) =>
          !/^(line-height|flex-|column-count|columns|grid-|tab-size|zoom|scale|animation|transition|stroke|border-image)/.test(r) &&
          differs(wanted, now[k]),
      )
    : -1
  if (wrong < 0) return null
  const line = /^(border-(?:top|right|bottom|left)|outline|column-rule)-width$/.exec(reads[wrong])?.[1]
  const isWithout = line !== undefined && /^(none|hidden)$/.test(style.getPropertyValue(`${line}-style`))
  return {
    reason: isWithout ? 'no-line' : 'clamped',
    property: reads[wrong],
    shown: now[wrong],
    meant: value,
    by: isWithout ? `${line}-style` : null,
  }
}

function differs(wanted: { readonly number: number; readonly unit: string }, now: string): boolean {
  const there = plain(now)
  return there !== null && (there.unit === wanted.unit || wanted.number === 0) && Math.abs(there.number - wanted.number) > NEAR
}
