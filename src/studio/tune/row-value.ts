import type { PropertyAim } from '../../core/aim'
import { parseLength, toPx, type Length, type UnitContext } from '../../core/value'
import type { Token } from '../../core/project/scale'
import type { PickReport } from '../../agent/protocol'

/** A mark on the tape: one of the project's own lengths. */
export interface Notch {
  readonly px: number
  readonly label: string
  /** What is written when the tape settles on it. */
  readonly text: string
}

export function unitContext(report: PickReport, property: string): UnitContext {
  return {
    // `em` in font-size refers to the parent's (CSS Values 4 §6.1.1).
    fontSize: property === 'font-size' ? report.parentFontSize : parseFloat(report.computed['font-size']) || 16,
    rootFontSize: report.rootFontSize,
    viewportWidth: 0,
    viewportHeight: 0,
    percent: property === 'font-size' ? report.parentFontSize : null,
  }
}

// A type scale and a space scale are told apart by what their names say; a name that says neither serves both.
const TYPE_NAME = /text|font|type|size|step/i
const SPACE_NAME = /gap|space|spacing|pad|margin|inset|gutter/i

/** The project's length tokens as the chosen element resolves them, ascending. */
export function notchesFor(tokens: readonly Token[], report: PickReport, property: string): Notch[] {
  const context = unitContext(report, property)
  const other = property === 'font-size' ? SPACE_NAME : TYPE_NAME
  return tokens.filter((t) => !other.test(t.name)).flatMap((t) => {
    const length = t.kind === 'length' ? parseLength(report.computed[t.name] || t.text) : null
    const px = length && toPx(length, context)
    return px === null ? [] : [{ px, label: `${t.name} ${t.text}`, text: `var(${t.name})` }]
  }).sort((a, b) => a.px - b.px)
}

/** The one length a row stands at, in px; null where its parts differ or it is no length. */
export function pxOf(computed: string): number | null {
  const parts = computed.trim().split(/\s+/)
  const first = parseLength(parts[0])
  return first && (first.unit === 'px' || first.number === 0) && parts.every((p) => p === parts[0]) ? first.number : null
}

/** The unit that a pulled value is written in: that of the value in the source, when its size is known. */
export function sourceUnit(aim: PropertyAim): string {
  const length = parseLength(aim.written ?? '')
  return length && (length.unit === 'rem' || length.unit === 'em') ? length.unit : 'px'
}

export function lengthIn(px: number, unit: string, context: UnitContext): Length {
  const per = unit === 'rem' ? context.rootFontSize : unit === 'em' ? context.fontSize : 1
  return { number: px / per, unit }
}
