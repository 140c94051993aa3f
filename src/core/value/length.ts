/** A number with a unit; `unit` is lower case, `''` for a bare number, `%` for a percentage. */
export interface Length {
  readonly number: number
  readonly unit: string
}

const LENGTH = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)(%|[a-z]*)$/i

/** Reads one dimension (CSS Values 4 §6); null for anything else, keywords and functions included. */
export function parseLength(text: string): Length | null {
  const m = LENGTH.exec(text.trim())
  return m && { number: Number(m[1]), unit: m[2].toLowerCase() }
}

/** At most `digits` decimals, no trailing zeros, never in exponent form. */
export function trimNumber(n: number, digits = 4): string {
  const fixed = n.toFixed(digits)
  const text = fixed.includes('.') ? fixed.replace(/\.?0+$/, '') : fixed
  return text === '-0' ? '0' : text
}

export interface NumberStyle {
  /** `0.5` and not `.5`. */
  readonly leadingZero: boolean
}

export function formatLength(l: Length, style: NumberStyle = { leadingZero: true }): string {
  const digits = l.unit === 'px' ? 2 : 4
  let text = trimNumber(l.number, digits)
  if (!style.leadingZero) text = text.replace(/^(-?)0\./, '$1.')
  return text === '0' && l.unit !== '%' && l.unit !== '' ? '0' : text + l.unit
}

/** What units refer to, in px: the element's own font size, its parent's, the root's, and the viewport. */
export interface UnitContext {
  readonly fontSize: number
  readonly rootFontSize: number
  readonly viewportWidth: number
  readonly viewportHeight: number
  /** What 100% is here; null where it is not known. */
  readonly percent: number | null
  /** The advance of `0` in the element's font, and the line heights of the element and the root; null where not known. */
  readonly ch?: number | null
  readonly lineHeight?: number | null
  readonly rootLineHeight?: number | null
  /** The content box of the query container (CSS Conditional 5 §6); null where there is none, so that the viewport counts. */
  readonly container?: { readonly width: number; readonly height: number } | null
}

const LENGTH_UNIT = /^(px|cm|mm|q|in|pc|pt|r?(em|ex|cap|ch|ic|lh)|[sld]?v(w|h|i|b|min|max)|cq(w|h|i|b|min|max)|%)$/i

/** Whether a text is one length or percentage with its unit (CSS Values 4 §6), and no time, angle or other dimension. */
export const isLengthText = (text: string): boolean => LENGTH_UNIT.test(parseLength(text)?.unit ?? '')

/** The units that lengths are offered in, besides the one at hand. */
export const LENGTH_UNITS: readonly string[] = ['px', 'rem', 'em', '%', 'vw', 'vh', 'ch', 'lh', 'cqw']

const ABSOLUTE: Readonly<Record<string, number>> = {
  px: 1,
  in: 96,
  cm: 96 / 2.54,
  mm: 96 / 25.4,
  q: 96 / 101.6,
  pt: 96 / 72,
  pc: 16,
}

/** How many px one `unit` is; null for a unit that only the page can tell. */
export function pxPerUnit(unit: string, c: UnitContext): number | null {
  if (unit in ABSOLUTE) return ABSOLUTE[unit]
  switch (unit) {
    case 'rem':
      return c.rootFontSize
    case 'em':
      return c.fontSize
    case 'vw':
    case 'svw':
    case 'lvw':
    case 'dvw':
      return c.viewportWidth / 100
    case 'vh':
    case 'svh':
    case 'lvh':
    case 'dvh':
      return c.viewportHeight / 100
    case 'vmin':
      return Math.min(c.viewportWidth, c.viewportHeight) / 100
    case 'vmax':
      return Math.max(c.viewportWidth, c.viewportHeight) / 100
    case 'ch':
      return c.ch ?? null
    case 'lh':
      return c.lineHeight ?? null
    case 'rlh':
      return c.rootLineHeight ?? null
    case 'cqw':
    case 'cqi':
      return (c.container?.width ?? c.viewportWidth) / 100
    case 'cqh':
    case 'cqb':
      return (c.container?.height ?? c.viewportHeight) / 100
    case 'cqmin':
      return Math.min(c.container?.width ?? c.viewportWidth, c.container?.height ?? c.viewportHeight) / 100
    case 'cqmax':
      return Math.max(c.container?.width ?? c.viewportWidth, c.container?.height ?? c.viewportHeight) / 100
    case '%':
      return c.percent === null ? null : c.percent / 100
    default:
      return null
  }
}

export function toPx(l: Length, c: UnitContext): number | null {
  if (l.unit === '') return l.number === 0 ? 0 : null
  const per = pxPerUnit(l.unit, c)
  return per === null ? null : l.number * per
}

/** The same rendered size in another unit; null where either unit's size is not known. */
export function convert(l: Length, unit: string, c: UnitContext): Length | null {
  const px = toPx(l, c)
  const per = pxPerUnit(unit, c)
  return px === null || per === null || per === 0 ? null : { number: px / per, unit }
}

type Token = { kind: 'length'; value: Length } | { kind: 'op'; op: string }

function tokenize(text: string): Token[] | null {
  const out: Token[] = []
  for (let i = 0; i < text.length;) {
    if (/\s/.test(text[i])) {
      i++
      continue
    }
    const m = /^(?:\d+\.?\d*|\.\d+)(%|[a-z]+)?/i.exec(text.slice(i))
    if (m) {
      out.push({ kind: 'length', value: parseLength(m[0])! })
      i += m[0].length
    } else if ('+-*/()'.includes(text[i])) out.push({ kind: 'op', op: text[i++] })
    else return null
  }
  return out
}

/**
 * Arithmetic as people type it: `125+10+10`, `2rem * 1.5`, or `*1.5` and `+4` on what is there now. Units are added
 * when they are the same or one side has none; `50% - 2rem` cannot be one length and becomes a `calc()`.
 * Null when `text` is no arithmetic at all, such as several lengths in a row.
 */
export function evaluateLength(text: string, current: Length | null, unit = 'px'): string | null {
  const trimmed = text.trim()
  const leading = /^[*/+]/.test(trimmed) && current ? `${formatLength({ ...current, unit: current.unit || unit })}${trimmed}` : trimmed
  const tokens = tokenize(leading)
  if (!tokens || tokens.length === 0) return null
  const mixed = new Set(tokens.flatMap((t) => (t.kind === 'length' && t.value.unit ? [t.value.unit] : [])))
  let at = 0
  const peek = () => tokens[at]
  const isOp = (ops: string) => {
    const t = peek()
    return t?.kind === 'op' && ops.includes(t.op)
  }
  const primary = (): Length | null => {
    const t = tokens[at++]
    if (!t) return null
    if (t.kind === 'length') return t.value
    if (t.op === '-' || t.op === '+') {
      const v = primary()
      return v && { ...v, number: t.op === '-' ? -v.number : v.number }
    }
    if (t.op !== '(') return null
    const v = sum()
    if (!isOp(')')) return null
    at++
    return v
  }
  const product = (): Length | null => {
    let left = primary()
    while (left && isOp('*/')) {
      const op = (tokens[at++] as { op: string }).op
      const right = primary()
      if (!right || (left.unit && right.unit) || (op === '/' && (right.unit || right.number === 0))) return null
      left = {
        number: op === '*' ? left.number * right.number : left.number / right.number,
        unit: left.unit || right.unit,
      }
    }
    return left
  }
  const sum = (): Length | null => {
    let left = product()
    while (left && isOp('+-')) {
      const op = (tokens[at++] as { op: string }).op
      const right = product()
      if (!right) return null
      left = {
        number: op === '+' ? left.number + right.number : left.number - right.number,
        unit: left.unit || right.unit,
      }
    }
    return left
  }
  const result = sum()
  if (!result || at !== tokens.length || !Number.isFinite(result.number)) return null
  if (mixed.size > 1) return `calc(${leading.replace(/\s*([*/])\s*/g, ' $1 ').replace(/(\S)\s*([+-])\s*(?=[\d.(])/g, '$1 $2 ')})`
  return formatLength({ number: result.number, unit: result.unit || unit })
}
