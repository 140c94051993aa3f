import { components, hasArbitrarySubstitution, isOneComponent, isWideKeyword, replacePart, type Part } from './components'
import { splitTop } from './scan'

const isTime = (w: string): boolean => /^[+-]?(\d+\.?\d*|\.\d+)m?s$/i.test(w) || /^calc\(/i.test(w)
const isEasing = (w: string): boolean =>
  /^(linear|ease|ease-in|ease-out|ease-in-out|step-start|step-end)$|^(cubic-bezier|steps|linear)\(/i.test(w)

/** What a word of an item is by its own form, where it can be determined; times are known by their order. */
const FORMS: Readonly<Record<string, readonly (readonly [part: string, is: (word: string) => boolean])[]>> = {
  transition: [
    ['timing-function', isEasing],
    ['behavior', (w) => /^(normal|allow-discrete)$/i.test(w)],
    ['property', (w) => /^(--|-?[a-z])[\w-]*$/i.test(w)],
  ],
  animation: [
    ['timing-function', isEasing],
    ['iteration-count', (w) => /^(infinite|\d+\.?\d*|\.\d+)$/i.test(w)],
    ['direction', (w) => /^(normal|reverse|alternate|alternate-reverse)$/i.test(w)],
    ['fill-mode', (w) => /^(none|forwards|backwards|both)$/i.test(w)],
    ['play-state', (w) => /^(running|paused)$/i.test(w)],
    ['name', (w) => /^(--|-?[a-z_])[\w-]*$|^["']/i.test(w)],
  ],
}
/** What belongs to each item alone: one of them cannot stand for several. */
const OWN = new Set(['property', 'name'])

const formOf = (shorthand: string, word: string): string | null =>
  isTime(word) ? 'time' : (FORMS[shorthand].find(([, is]) => is(word))?.[0] ?? null)

interface Item {
  readonly found: ReadonlyMap<string, Part>
  readonly times: readonly Part[]
}

function readItem(shorthand: string, item: string): Item | null {
  const found = new Map<string, Part>()
  const times: Part[] = []
  for (const p of components(item)) {
    const form = formOf(shorthand, item.slice(p.from, p.to))
    if (form === 'time') times.push(p)
    else if (form === null || found.has(form)) return null
    else found.set(form, p)
  }
  return times.length > 2 ? null : { found, times }
}

const INITIAL: Readonly<Record<string, string>> = {
  duration: '0s',
  delay: '0s',
  'timing-function': 'ease',
  behavior: 'normal',
  property: 'all',
  'iteration-count': '1',
  direction: 'normal',
  'fill-mode': 'none',
  'play-state': 'running',
  name: 'none',
}

/** What `transition` or `animation` gives one longhand: one text where all items agree; null when it cannot be read. */
export function partOfItems(shorthand: 'transition' | 'animation', value: string, longhand: string): string | null {
  if (hasArbitrarySubstitution(value) || /^none$/i.test(value.trim())) return null
  const part = longhand.slice(shorthand.length + 1)
  const texts = splitTop(value, 0, value.length, ',').map(({ from, to }) => {
    const item = value.slice(from, to)
    const read = readItem(shorthand, item)
    const at = part === 'duration' ? read?.times[0] : part === 'delay' ? read?.times[1] : read?.found.get(part)
    return read && (at ? item.slice(at.from, at.to) : (INITIAL[part] ?? null))
  })
  if (texts.some((t) => t === null)) return null
  return !OWN.has(part) && new Set(texts).size === 1 ? texts[0] : texts.join(', ')
}

function setInItem(shorthand: string, item: string, part: string, text: string): string | null {
  const read = readItem(shorthand, item)
  if (!read) return null
  const { found, times } = read
  const end = item.trimEnd().length
  const append = () => `${item.slice(0, end)} ${text}${item.slice(end)}`
  if (part === 'duration') return times[0] ? replacePart(item, times[0], text) : append()
  if (part === 'delay') {
    if (times[1]) return replacePart(item, times[1], text)
    return times[0] ? `${item.slice(0, times[0].to)} ${text}${item.slice(times[0].to)}` : null
  }
  const there = found.get(part)
  return there ? replacePart(item, there, text) : OWN.has(part) ? null : append()
}

/**
 * Sets one longhand in each item of a `transition` or `animation` (CSS Transitions 1 §2.5, CSS Animations 1 §4.10); null
 * where the items and the values asked for cannot be put in pairs.
 */
export function setInItems(shorthand: 'transition' | 'animation', value: string, longhand: string, text: string): string | null {
  if ([value, text].some((t) => hasArbitrarySubstitution(t) || isWideKeyword(t)) || /^none$/i.test(value.trim())) return null
  const part = longhand.slice(shorthand.length + 1)
  const items = splitTop(value, 0, value.length, ',')
  const asked = splitTop(text, 0, text.length, ',').map(({ from, to }) => text.slice(from, to).trim())
  const reads = (t: string) => isOneComponent(t) && formOf(shorthand, t) === (part === 'duration' || part === 'delay' ? 'time' : part)
  if (!asked.every(reads) || !(asked.length === items.length || (asked.length === 1 && !OWN.has(part)))) return null
  let out = value
  for (let i = items.length - 1; i >= 0; i--) {
    const next = setInItem(shorthand, value.slice(items[i].from, items[i].to), part, asked[asked.length === 1 ? 0 : i])
    if (next === null) return null
    out = replacePart(out, items[i], next)
  }
  return out
}
