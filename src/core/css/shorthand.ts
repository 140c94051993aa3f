import { partOfBackground, readPosition, setInBackground } from './background'
import {
  components,
  hasArbitrarySubstitution,
  isColor,
  isImage,
  isOneComponent,
  isWideKeyword,
  NO_KNOWLEDGE,
  replacePart,
  type Knowledge,
  type Part,
} from './components'
import { partOfTemplate, readLines, setInTemplate, setLines } from './grid-shorthands'
import { partOfItems, setInItems } from './item-shorthands'
import { longhandsOf, physicalName } from './longhands'
import { splitTop } from './scan'

const BOX = new Set(['padding', 'margin', 'inset', 'scroll-margin', 'scroll-padding', 'border-width', 'border-style', 'border-color'])
const PAIR = new Set([
  'padding-inline',
  'padding-block',
  'margin-inline',
  'margin-block',
  'inset-inline',
  'inset-block',
  'gap',
  'grid-gap',
  'overflow',
  'overscroll-behavior',
  'place-content',
  'place-items',
  'place-self',
  ...['block', 'inline'].flatMap((axis) => ['width', 'style', 'color'].map((part) => `border-${axis}-${part}`)),
])

const LINES = new Set(['grid-row', 'grid-column', 'grid-area'])

/** The component that serves each of four sides when `n` are written. */
const BOX_INDEX: readonly (readonly number[])[] = [[], [0, 0, 0, 0], [0, 1, 0, 1], [0, 1, 2, 1], [0, 1, 2, 3]]

/** The fewest components that say the four values, at least `least` of them. */
function boxText(four: readonly string[], least = 1): string[] {
  const [top, right, bottom, left] = four
  const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase()
  let n = 4
  if (same(left, right)) n = 3
  if (n === 3 && same(top, bottom)) n = 2
  if (n === 2 && same(top, right)) n = 1
  return four.slice(0, Math.max(n, least)) as string[]
}

function rewriteList(value: string, parts: Part[], now: readonly string[], next: readonly string[]): string {
  if (next.length === parts.length) {
    let out = value
    for (let i = parts.length - 1; i >= 0; i--) if (now[i] !== next[i]) out = replacePart(out, parts[i], next[i])
    return out
  }
  if (next.length > parts.length) {
    let out = value
    const tail = next
      .slice(parts.length)
      .map((v) => ` ${v}`)
      .join('')
    out = out.slice(0, parts[parts.length - 1].to) + tail + out.slice(parts[parts.length - 1].to)
    for (let i = parts.length - 1; i >= 0; i--) if (now[i] !== next[i]) out = replacePart(out, parts[i], next[i])
    return out
  }
  let out = value.slice(0, parts[next.length - 1].to) + value.slice(parts[parts.length - 1].to)
  for (let i = next.length - 1; i >= 0; i--) if (now[i] !== next[i]) out = replacePart(out, parts[i], next[i])
  return out
}

/**
 * The four values a box shorthand gives its sides (top, right, bottom, left), or null when `value` cannot be read
 * so: variables in place of parts are fine, a variable as the whole value is not.
 */
export function readBox(value: string): { four: string[]; parts: Part[] } | null {
  const parts = components(value)
  const index = BOX_INDEX[parts.length]
  if (!index || parts.length === 0 || isWideKeyword(value)) return null
  const text = parts.map((p) => value.slice(p.from, p.to))
  if (text.includes(',') || text.includes('/')) return null
  // One `var()` may stand for several values.
  if (text.some((t) => /^(var|env|attr|if|inherit)\(/i.test(t)) && parts.length === 1) return null
  return { four: index.map((i) => text[i]), parts }
}

function setBoxSides(value: string, changes: ReadonlyMap<number, string>): string | null {
  const box = readBox(value)
  if (!box || ![...changes.values()].every(isOneComponent)) return null
  const next = box.four.map((v, side) => changes.get(side) ?? v)
  const shortest = boxText(next)
  // Spelled out on purpose (`4px 4px 4px 4px`) stays spelled out.
  const spelledOut = boxText(box.four).length < box.parts.length
  const target = spelledOut ? next.slice(0, Math.max(box.parts.length, shortest.length)) : shortest
  return rewriteList(
    value,
    box.parts,
    box.parts.map((p) => value.slice(p.from, p.to)),
    target,
  )
}

function setPair(value: string, changes: ReadonlyMap<number, string>): string | null {
  const parts = components(value)
  if (parts.length < 1 || parts.length > 2 || isWideKeyword(value)) return null
  const text = parts.map((p) => value.slice(p.from, p.to))
  if (text.includes('/') || text.includes(',')) return null
  if (parts.length === 1 && /^(var|env|attr|if|inherit)\(/i.test(text[0])) return null
  if (![...changes.values()].every(isOneComponent)) return null
  const both = parts.length === 1 ? [text[0], text[0]] : text
  const next = both.map((v, i) => changes.get(i) ?? v)
  const target = next[0].toLowerCase() === next[1].toLowerCase() && !(parts.length === 2 && text[0] === text[1]) ? [next[0]] : next
  return rewriteList(value, parts, text, target)
}

const LENGTH = /^([+-]?(\d|\.\d)|calc\(|min\(|max\(|clamp\(|thin$|medium$|thick$)/i
const LINE_STYLE = /^(none|hidden|dotted|dashed|solid|double|groove|ridge|inset|outset|auto)$/i
const DECORATION_LINE = /^(none|underline|overline|line-through|blink)$/i
const DECORATION_STYLE = /^(solid|double|dotted|dashed|wavy)$/i
const LIST_POSITION = /^(inside|outside)$/i
type Classify = (part: string) => string | null

/** Shorthands whose parts are distinguished by their own form, in any order. */
const BY_FORM: Readonly<Record<string, Classify>> = {
  'list-style': (p) => (LIST_POSITION.test(p) ? 'list-style-position' : isImage(p) ? 'list-style-image' : 'list-style-type'),
  'text-decoration': (p) =>
    DECORATION_LINE.test(p)
      ? 'text-decoration-line'
      : DECORATION_STYLE.test(p)
        ? 'text-decoration-style'
        : LENGTH.test(p) || /^(from-font|auto)$/i.test(p)
          ? 'text-decoration-thickness'
          : isColor(p)
            ? 'text-decoration-color'
            : null,
  'flex-flow': (p) => (/^(row|column)/i.test(p) ? 'flex-direction' : /wrap/i.test(p) ? 'flex-wrap' : null),
  columns: (p) => (/^\d+$/.test(p) ? 'column-count' : LENGTH.test(p) ? 'column-width' : null),
}
const lineClassify =
  (name: string): Classify =>
  (p) =>
    LINE_STYLE.test(p) ? `${name}-style` : LENGTH.test(p) ? `${name}-width` : isColor(p) ? `${name}-color` : null
const LINE_FORMS: Readonly<Record<string, Classify>> = Object.fromEntries(
  [
    'border',
    'border-top',
    'border-right',
    'border-bottom',
    'border-left',
    'border-block-start',
    'border-block-end',
    'border-inline-start',
    'border-inline-end',
    'outline',
    'column-rule',
  ].map((name) => [name, lineClassify(physicalName(name))]),
)
Object.assign(BY_FORM, LINE_FORMS)

/** The longhand that one component is for, by its form or by what its variables are; null where it is for none, undefined where only the page knows. */
function formOf(shorthand: string, component: string, knows: Knowledge): string | null | undefined {
  if (!hasArbitrarySubstitution(component)) return BY_FORM[shorthand](component)
  const kind = BY_FORM[shorthand] === LINE_FORMS[shorthand] ? knows.kindOf(component) : null
  return kind === 'color' || kind === 'length' ? `${physicalName(shorthand)}-${kind === 'color' ? 'color' : 'width'}` : undefined
}

function setByForm(shorthand: string, value: string, part: string, text: string, variables: Knowledge): string | null {
  if (isWideKeyword(value) || !isOneComponent(text) || isWideKeyword(text)) return null
  const parts = components(value)
  let target: Part | null = null
  const written = new Set<string>()
  for (const p of parts) {
    const word = value.slice(p.from, p.to)
    const kind = formOf(shorthand, word, variables)
    if (kind === undefined) {
      // It can stand for any part not yet seen.
      written.add('?')
      continue
    }
    if (!kind || (written.has(kind) && kind !== 'text-decoration-line')) return null
    written.add(kind)
    if (kind === part) {
      if (target) return null
      target = p
    }
  }
  // The new text has to be read back as the same part.
  const asked = formOf(shorthand, text, variables)
  if (asked !== part && (asked !== undefined || target === null)) return null
  if (target) return replacePart(value, target, text)
  if (written.has('?') || parts.length === 0) return null
  if (parts.length === 1 && /^none$/i.test(value.trim())) return null
  return `${value} ${text}`
}

/** Corner order of `border-radius`: horizontal radii, then `/` and vertical radii (CSS Backgrounds 3 §4.1). */
function setCorner(value: string, corner: number, text: string): string | null {
  if (isWideKeyword(value)) return null
  const halves = splitTop(value, 0, value.length, '/')
  const radii = components(text).map((p) => text.slice(p.from, p.to))
  if (radii.length < 1 || radii.length > 2 || radii.includes('/')) return null
  if (halves.length === 1 && radii.length === 1) return setBoxSides(value, new Map([[corner, radii[0]]]))
  const read = (half: Part) => readBox(value.slice(half.from, half.to))
  const horizontal = read(halves[0])
  const vertical = read(halves[1] ?? halves[0])
  if (!horizontal || !vertical || halves.length > 2) return null
  const h = setBoxSides(value.slice(halves[0].from, halves[0].to).trim(), new Map([[corner, radii[0]]]))
  const v = setBoxSides(
    value.slice((halves[1] ?? halves[0]).from, (halves[1] ?? halves[0]).to).trim(),
    new Map([[corner, radii[1] ?? radii[0]]]),
  )
  if (h === null || v === null) return null
  if (halves.length === 1) return `${h} / ${v}`
  const first = value.slice(0, halves[0].to)
  const second = value.slice(halves[1].from)
  return first.replace(first.trim(), () => h) + '/' + second.replace(second.trim(), () => v)
}

/** `flex: <grow> <shrink>? <basis>?` or one keyword (CSS Flexbox 1 §7.1). */
function setFlex(value: string, part: string, text: string): string | null {
  const words = components(value).map((p) => value.slice(p.from, p.to))
  if (hasArbitrarySubstitution(value) || isWideKeyword(value) || words.includes('/')) return null
  if (!isOneComponent(text) || isWideKeyword(text)) return null
  let grow = '0',
    shrink = '1',
    basis = 'auto'
  const one = words.length === 1 ? words[0].toLowerCase() : ''
  if (one === 'none') shrink = '0'
  else if (one === 'auto') grow = '1'
  else if (one !== 'initial') {
    const numbers = words.filter((w) => /^[+]?(\d+\.?\d*|\.\d+)$/.test(w))
    const rest = words.filter((w) => !numbers.includes(w))
    if (rest.length > 1 || numbers.length > 2 || numbers.length + rest.length !== words.length) return null
    // A third unitless zero is a basis.
    if (numbers.length === 0) grow = '1'
    else grow = numbers[0]
    if (numbers.length === 2) shrink = numbers[1]
    basis = rest[0] ?? '0%'
  }
  const isNumber = /^(\d+\.?\d*|\.\d+)$/.test(text)
  if (part === 'flex-grow') {
    if (!isNumber) return null
    grow = text
  } else if (part === 'flex-shrink') {
    if (!isNumber) return null
    shrink = text
  } else {
    if (isNumber && Number(text) !== 0) return null
    basis = isNumber ? `${text}px` : text
  }
  if (grow === '1' && shrink === '1' && basis === 'auto' && one === 'auto') return value
  if ((basis === '0%' || basis === '0px') && words.length <= 2 && part !== 'flex-basis')
    return shrink === '1' && words.length === 1 ? grow : `${grow} ${shrink}`
  return `${grow} ${shrink} ${basis}`
}

interface Font {
  readonly parts: readonly Part[]
  readonly words: readonly string[]
  readonly sizeAt: number
  readonly hasLine: boolean
  readonly familyAt: number
}

const FONT_SIZE = /^(\d|\.\d|[+-]\d|calc\(|min\(|max\(|clamp\(|(xx?|xxx)-(small|large)$|small$|medium$|large$|smaller$|larger$|var\()/i
const isWeight = (w: string): boolean => /^(bold|bolder|lighter|[1-9]\d{0,2}|1000)$/i.test(w)
const isSlant = (w: string): boolean => /^(italic|oblique)$/i.test(w)

/** `font`: size, line height and family keep their places (CSS Fonts 4 §2.7). */
function readFont(value: string): Font | null {
  const parts = components(value)
  const words = parts.map((p) => value.slice(p.from, p.to))
  if (parts.length < 2 || isWideKeyword(value)) return null
  const slash = words.indexOf('/')
  const sizeAt = slash > 0 ? slash - 1 : words.findIndex((w) => FONT_SIZE.test(w) && !isWeight(w))
  if (sizeAt < 0 || words.slice(0, sizeAt).some((w) => hasArbitrarySubstitution(w))) return null
  const hasLine = slash === sizeAt + 1
  const familyAt = sizeAt + (hasLine ? 3 : 1)
  return familyAt >= parts.length ? null : { parts, words, sizeAt, hasLine, familyAt }
}

function partOfFont(value: string, part: string): string | null {
  const font = readFont(value)
  if (!font) return null
  const before = font.words.slice(0, font.sizeAt)
  switch (part) {
    case 'font-size':
      return font.words[font.sizeAt]
    case 'line-height':
      return font.hasLine ? font.words[font.sizeAt + 2] : 'normal'
    case 'font-family':
      return value.slice(font.parts[font.familyAt].from, font.parts.at(-1)!.to)
    case 'font-weight':
      return before.find(isWeight) ?? 'normal'
    case 'font-style':
      return before.find(isSlant) ?? 'normal'
    default:
      return null
  }
}

function setFont(value: string, part: string, text: string): string | null {
  const font = readFont(value)
  if (!font || isWideKeyword(text)) return null
  const { parts, words, sizeAt, hasLine, familyAt } = font
  const one = isOneComponent(text)
  switch (part) {
    case 'font-size':
      return one && FONT_SIZE.test(text) ? replacePart(value, parts[sizeAt], text) : null
    case 'line-height':
      if (!one) return null
      return hasLine ? replacePart(value, parts[sizeAt + 2], text) : replacePart(value, parts[sizeAt], `${words[sizeAt]}/${text}`)
    case 'font-family':
      return value.slice(0, parts[familyAt].from) + text + value.slice(parts[parts.length - 1].to)
    case 'font-weight':
    case 'font-style': {
      if (!one || hasArbitrarySubstitution(text)) return null
      const isPart = part === 'font-weight' ? isWeight : isSlant
      const at = words.slice(0, sizeAt).findIndex(isPart)
      if (!isPart(text)) {
        if (!/^(normal|400)$/i.test(text)) return null
        return at < 0 ? null : value.slice(0, parts[at].from) + value.slice(parts[at + 1].from)
      }
      return at < 0 ? value.slice(0, parts[0].from) + `${text} ` + value.slice(parts[0].from) : replacePart(value, parts[at], text)
    }
    default:
      return null
  }
}

/**
 * The value of `shorthand` after the longhands in `changes` are set, with every other byte of `value` kept where it
 * can be; null when the shorthand cannot hold them and a longhand has to follow it.
 */
export function setInShorthand(
  shorthand: string,
  value: string,
  changes: ReadonlyMap<string, string>,
  variables: Knowledge = NO_KNOWLEDGE,
): string | null {
  const names = longhandsOf(shorthand)
  for (const [name, text] of changes) {
    if (!names.includes(name)) throw new RangeError(`${shorthand} does not set ${name}`)
    if (isWideKeyword(text) || text.trim() === '') return null
  }
  const byIndex = new Map([...changes].map(([name, text]) => [names.indexOf(name), text]))
  if (BOX.has(shorthand)) return setBoxSides(value, byIndex)
  if (PAIR.has(shorthand))
    return shorthand.startsWith('place-') && changes.size < 2 && components(value).length < 2 ? null : setPair(value, byIndex)
  let out: string | null = value
  if (shorthand === 'border') return setBorder(value, changes, variables)
  if (shorthand === 'background' || shorthand === 'background-position') return setInBackground(shorthand, value, changes, variables)
  if (LINES.has(shorthand)) return setLines(shorthand, value, byIndex)
  for (const [name, text] of changes) {
    if (out === null) return null
    out = setOne(shorthand, out, name, names.indexOf(name), text, variables)
  }
  return out
}

// The one component that is this part.
function partByForm(shorthand: string, value: string, longhand: string, knows: Knowledge): string | null {
  const part = shorthand === 'border' ? longhand.replace(/-(top|right|bottom|left)-/, '-') : longhand
  const found = components(value)
    .map((p) => value.slice(p.from, p.to))
    .filter((word) => formOf(shorthand, word, knows) === part)
  return found.length === 1 ? found[0] : null
}

// `border` holds one width, style and colour for all sides (CSS Backgrounds 3 §3.4): all four have to change alike.
function setBorder(value: string, changes: ReadonlyMap<string, string>, variables: Knowledge): string | null {
  let out: string | null = value
  let used = 0
  for (const part of ['width', 'style', 'color']) {
    const texts = [...changes]
      .filter(([name]) => /^border-(top|right|bottom|left)-/.test(name) && name.endsWith(`-${part}`))
      .map(([, text]) => text)
    used += texts.length
    if (texts.length === 0) continue
    if (texts.length !== 4 || new Set(texts).size !== 1 || out === null) return null
    out = setByForm('border', out, `border-${part}`, texts[0], variables)
  }
  return used === changes.size ? out : null
}

function setOne(shorthand: string, value: string, name: string, index: number, text: string, variables: Knowledge): string | null {
  switch (shorthand) {
    case 'border-radius':
      return setCorner(value, index, text)
    case 'flex':
      return setFlex(value, name, text)
    case 'font':
      return setFont(value, name, text)
    case 'transition':
    case 'animation':
      return setInItems(shorthand, value, name, text)
    case 'grid':
    case 'grid-template':
      return setInTemplate(value, name, text)
    default:
      return BY_FORM[shorthand] && longhandsOf(shorthand).includes(name) ? setByForm(shorthand, value, name, text, variables) : null
  }
}

/** The value of a shorthand that says exactly these longhands, or null when it has no such form here. */
export function composeShorthand(shorthand: string, values: ReadonlyMap<string, string>): string | null {
  const all = longhandsOf(shorthand).map((n) => values.get(n))
  if (all.some((v) => v === undefined || !isOneComponent(v) || isWideKeyword(v))) return null
  if (BOX.has(shorthand) || shorthand === 'border-radius') return boxText(all as string[]).join(' ')
  if (PAIR.has(shorthand)) return all[0] === all[1] ? all[0]! : all.join(' ')
  return null
}

/**
 * The text a shorthand's value gives one longhand, where that can be read without the engine; null elsewhere, where the
 * page is asked.
 */
export function partOfShorthand(shorthand: string, value: string, longhand: string, knows: Knowledge = NO_KNOWLEDGE): string | null {
  const index = longhandsOf(shorthand).indexOf(longhand)
  if (index < 0) return null
  if (isWideKeyword(value)) return value.trim()
  if (BOX.has(shorthand) || (shorthand === 'border-radius' && !value.includes('/'))) return readBox(value)?.four[index] ?? null
  if (LINES.has(shorthand)) return readLines(shorthand, value)?.[index] ?? null
  if (shorthand === 'background-position') return readPosition(value)?.[index] ?? null
  switch (shorthand) {
    case 'background':
      return partOfBackground(value, longhand, knows)
    case 'transition':
    case 'animation':
      return partOfItems(shorthand, value, longhand)
    case 'grid':
    case 'grid-template':
      return partOfTemplate(value, longhand)
    case 'font':
      return partOfFont(value, longhand)
    default:
  }
  if (shorthand in BY_FORM) return partByForm(shorthand, value, longhand, knows)
  if (!PAIR.has(shorthand)) return null
  const parts = components(value)
  if (parts.length > 2 || parts.length === 0) return null
  if (parts.length === 1 && /^(var|env|attr|if|inherit)\(/i.test(value.trim())) return null
  const p = parts[Math.min(index, parts.length - 1)]
  return value.slice(p.from, p.to)
}
