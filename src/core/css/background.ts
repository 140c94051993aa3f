import {
  components,
  hasArbitrarySubstitution,
  isColor,
  isImage,
  isOneComponent,
  isWideKeyword,
  replacePart,
  type Knowledge,
  type Part,
} from './components'
import { splitTop } from './scan'

/** Where each part of one layer stands (CSS Backgrounds 3 §3.10). */
interface Layer {
  readonly at: Part
  readonly parts: Readonly<Partial<Record<LayerPart, Part>>>
}
type LayerPart = 'image' | 'position' | 'size' | 'repeat' | 'attachment' | 'origin' | 'clip' | 'color'

const isLength = (word: string): boolean => /^([+-]?(\d|\.\d)|calc\(|min\(|max\(|clamp\()/i.test(word)
const FORMS: readonly (readonly [LayerPart, (word: string) => boolean])[] = [
  ['image', (w) => isImage(w) || /^none$/i.test(w)],
  ['repeat', (w) => /^(repeat|repeat-x|repeat-y|no-repeat|space|round)$/i.test(w)],
  ['attachment', (w) => /^(scroll|fixed|local)$/i.test(w)],
  ['origin', (w) => /^(border|padding|content)-box$/i.test(w)],
  ['clip', (w) => /^text$/i.test(w)],
  ['position', (w) => isLength(w) || /^(left|right|top|bottom|center)$/i.test(w)],
  ['color', isColor],
]
/** Parts of two words, which stand together. */
const MOST_WORDS: Readonly<Partial<Record<LayerPart, number>>> = { position: 4, size: 2, repeat: 2 }

// A length with variables in it may be a position or part of a size.
function formOf(word: string, knows: Knowledge): LayerPart | null {
  if (!hasArbitrarySubstitution(word)) return FORMS.find(([, is]) => is(word))?.[0] ?? null
  const kind = knows.kindOf(word)
  return kind === 'length' ? null : kind
}

function readLayer(value: string, at: Part, knows: Knowledge): Layer | null {
  const parts: Partial<Record<LayerPart, Part & { words: number }>> = {}
  let previous: LayerPart | '/' | null = null
  for (const p of components(value, at.from, at.to)) {
    const word = value.slice(p.from, p.to)
    if (word === '/') {
      if (previous !== 'position') return null
      previous = '/'
      continue
    }
    const sized: boolean = previous === '/' || (previous === 'size' && (isLength(word) || /^auto$/i.test(word)))
    let form: LayerPart | null = sized ? 'size' : formOf(word, knows)
    // The second box is what is clipped to.
    if (form === 'origin' && parts.origin) form = 'clip'
    if (form === null) return null
    const there: (Part & { words: number }) | undefined = parts[form]
    if (there && (previous !== form || there.words >= (MOST_WORDS[form] ?? 1))) return null
    parts[form] = there ? { from: there.from, to: p.to, words: there.words + 1 } : { ...p, words: 1 }
    previous = form
  }
  return previous === '/' ? null : { at, parts }
}

/** The horizontal and vertical part of a position of one layer, each with its own edge; null when it cannot be read. */
function positionOf(text: string): [string, string] | null {
  const w = components(text).map((p) => text.slice(p.from, p.to))
  if (w.some((x) => hasArbitrarySubstitution(x))) return null
  const vertical = (x: string | undefined) => /^(top|bottom)$/i.test(x ?? '')
  const horizontal = (x: string | undefined) => /^(left|right)$/i.test(x ?? '')
  if (w.length === 1) return vertical(w[0]) ? ['center', w[0]] : [w[0], 'center']
  if (w.length === 2) return vertical(w[0]) || horizontal(w[1]) ? [w[1], w[0]] : [w[0], w[1]]
  if (w.length !== 4) return null
  const halves = [`${w[0]} ${w[1]}`, `${w[2]} ${w[3]}`] as const
  return horizontal(w[0]) && vertical(w[2]) ? [halves[0], halves[1]] : vertical(w[0]) && horizontal(w[2]) ? [halves[1], halves[0]] : null
}

// With one axis by an edge and the other not, no short form says both.
const positionText = (x: string, y: string): string | null =>
  components(x).length !== components(y).length ? null : x === 'center' && y === 'center' ? 'center' : `${x} ${y}`

const listOf = (text: string): string[] => splitTop(text, 0, text.length, ',').map(({ from, to }) => text.slice(from, to).trim())

/** What `background-position` gives its two longhands; null when it cannot be read. */
export function readPosition(value: string): [string, string] | null {
  if (isWideKeyword(value)) return null
  const layers = listOf(value).map(positionOf)
  return layers.every((l) => l !== null) ? [layers.map((l) => l![0]).join(', '), layers.map((l) => l![1]).join(', ')] : null
}

const insert = (value: string, at: number, text: string): string => value.slice(0, at) + text + value.slice(at)

function setInLayer(value: string, layer: Layer, part: LayerPart, text: string): string | null {
  const { parts } = layer
  const words = components(value, layer.at.from, layer.at.to)
  if (words.length === 0) return null
  const end = words.at(-1)!.to
  const there = parts[part]
  const only = words.length === 1 ? value.slice(words[0].from, words[0].to) : ''
  // `none` and `0` stand for nothing at all.
  if ((part === 'color' || part === 'image') && /^(none|0)$/i.test(only)) return replacePart(value, words[0], text)
  if (part === 'clip' && !there) return parts.origin ? insert(value, parts.origin.to, ` ${text}`) : null
  // One box serves for both.
  if (part === 'origin') return there ? replacePart(value, there, parts.clip ? text : `${text} ${value.slice(there.from, there.to)}`) : null
  if (there) return replacePart(value, there, text)
  switch (part) {
    case 'position':
      return insert(value, parts.image?.to ?? end, ` ${text}`)
    case 'size':
      return parts.position ? insert(value, parts.position.to, ` / ${text}`) : insert(value, parts.image?.to ?? end, ` 0 0 / ${text}`)
    case 'repeat':
      return insert(value, (parts.size ?? parts.position ?? parts.image)?.to ?? end, ` ${text}`)
    default:
      return insert(value, end, ` ${text}`)
  }
}

/** Sets one part in every layer, one text for each. */
function setPart(value: string, part: LayerPart, texts: readonly string[], knows: Knowledge): string | null {
  let out: string | null = value
  for (let i = texts.length - 1; i >= 0 && out !== null; i--) {
    const at: Part[] = splitTop(out, 0, out.length, ',')
    const layer: Layer | null =
      at.length === texts.length || part === 'color' ? readLayer(out, part === 'color' ? at.at(-1)! : at[i], knows) : null
    out = layer && setInLayer(out, layer, part, texts[i])
  }
  return out
}

/**
 * The value with other images than it has layers: those that stay keep their layers, new ones get one each, and the colour
 * stays in the last. Null where a layer cannot be read, or none stays.
 */
function setImages(value: string, images: readonly string[], knows: Knowledge): string | null {
  const at = splitTop(value, 0, value.length, ',')
  const layers = at.map((part) => readLayer(value, part, knows))
  if (layers.some((l) => l === null)) return null
  const texts = at.map(({ from, to }) => value.slice(from, to).trim())
  const there = layers.map((l) => (l!.parts.image ? value.slice(l!.parts.image.from, l!.parts.image.to) : 'none'))
  const kept = inCommon(there, images)
  if (kept.length === 0) return null
  const color = layers.at(-1)!.parts.color
  const isAlone = color && color.from === at.at(-1)!.from && color.to === at.at(-1)!.to
  const colorText = color && value.slice(color.from, color.to)
  const plain = (i: number) =>
    i === texts.length - 1 && color && !isAlone
      ? (value.slice(at[i].from, color.from) + value.slice(color.to, at[i].to)).replace(/\s+/g, ' ').trim()
      : isAlone && i === texts.length - 1
        ? 'none'
        : texts[i]
  const layerOf = new Map(kept.map(([i, j]) => [j, i]))
  const isLastKept = layerOf.get(images.length - 1) === texts.length - 1
  const out = images.map((image, j) => {
    const i = layerOf.get(j)
    return i === undefined ? image : i === texts.length - 1 && isLastKept ? texts[i] : plain(i)
  })
  if (colorText && !isLastKept) out[out.length - 1] = out.at(-1) === 'none' ? colorText : `${out.at(-1)} ${colorText}`
  return out.join(', ')
}

/** The longest run of pairs of places at which two lists say the same, in order. */
function inCommon(a: readonly string[], b: readonly string[]): (readonly [i: number, j: number])[] {
  const best: number[][] = Array.from({ length: a.length + 1 }, () => new Array<number>(b.length + 1).fill(0))
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--) best[i][j] = a[i] === b[j] ? best[i + 1][j + 1] + 1 : Math.max(best[i + 1][j], best[i][j + 1])
  const out: [number, number][] = []
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    if (a[i] === b[j]) out.push([i++, j++])
    else if (best[i + 1][j] >= best[i][j + 1]) i++
    else j++
  }
  return out
}

/**
 * The value of `background` or `background-position` with longhands of it set; null where a longhand has to follow it: as
 * many layers are needed as values are asked for, and each word has to be known for what it is.
 */
export function setInBackground(
  shorthand: 'background' | 'background-position',
  value: string,
  changes: ReadonlyMap<string, string>,
  knows: Knowledge,
): string | null {
  if (isWideKeyword(value) || [...changes.values()].some((t) => isWideKeyword(t) || splitTop(t, 0, t.length, '/').length > 1)) return null
  const color = changes.get('background-color')
  const rest = [...changes].filter(([name]) => name !== 'background-color' && !name.startsWith('background-position-'))
  const [x, y] = ['x', 'y'].map((axis) => changes.get(`background-position-${axis}`))
  let out: string | null = value
  if (x !== undefined || y !== undefined) {
    const now = shorthand === 'background' ? positionsNow(value, knows) : readPosition(value)
    const [xs, ys] = [listOf(x ?? now?.[0] ?? ''), listOf(y ?? now?.[1] ?? '')]
    if (!now || xs.length !== ys.length || [...xs, ...ys].some((t) => t === '' || hasArbitrarySubstitution(t))) return null
    const texts = xs.flatMap((t, i) => positionText(t, ys[i]) ?? [])
    if (texts.length !== xs.length) return null
    out = shorthand === 'background' ? setPart(value, 'position', texts, knows) : texts.join(', ')
  }
  for (const [name, text] of rest) {
    if (out === null || hasArbitrarySubstitution(text)) return null
    const list = listOf(text)
    const isOther = name === 'background-image' && list.length !== splitTop(out, 0, out.length, ',').length
    out = isOther ? setImages(out, list, knows) : setPart(out, name.slice('background-'.length) as LayerPart, list, knows)
  }
  if (color === undefined || out === null) return out
  return isOneComponent(color) ? setPart(out, 'color', [color], knows) : null
}

const INITIAL: Readonly<Record<Exclude<LayerPart, 'position' | 'clip'>, string>> = {
  image: 'none',
  size: 'auto',
  repeat: 'repeat',
  attachment: 'scroll',
  origin: 'padding-box',
  color: 'transparent',
}

/** What `background` gives one longhand, its initial value where a layer leaves it out; null when it cannot be read. */
export function partOfBackground(value: string, longhand: string, knows: Knowledge): string | null {
  const axis = ['background-position-x', 'background-position-y'].indexOf(longhand)
  if (axis >= 0) return positionsNow(value, knows)?.[axis] ?? null
  const part = longhand.slice('background-'.length) as LayerPart
  const layers = splitTop(value, 0, value.length, ',').map((at) => readLayer(value, at, knows))
  if (layers.some((l) => l === null)) return null
  const textOf = (l: Layer): string => {
    const at = l.parts[part] ?? (part === 'clip' ? l.parts.origin : undefined)
    return at ? value.slice(at.from, at.to) : part === 'clip' ? 'border-box' : INITIAL[part as keyof typeof INITIAL]
  }
  return part === 'color' ? textOf(layers.at(-1)!) : layers.map((l) => textOf(l!)).join(', ')
}

function positionsNow(value: string, knows: Knowledge): [string, string] | null {
  const layers = splitTop(value, 0, value.length, ',').map((at) => readLayer(value, at, knows))
  const positions = layers.map(
    (l) => l && (l.parts.position ? positionOf(value.slice(l.parts.position.from, l.parts.position.to)) : (['0%', '0%'] as const)),
  )
  return positions.every((p) => p !== null) ? [positions.map((p) => p![0]).join(', '), positions.map((p) => p![1]).join(', ')] : null
}
