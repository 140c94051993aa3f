import type { PropertyAim } from '../../core/aim'
import {
  convert,
  formatLength,
  LENGTH_UNITS,
  parseColor,
  parseLength,
  sameColor,
  toPx,
  type Length,
  type UnitContext,
} from '../../core/value'
import type { Step } from '../../core/utility'
import type { Scale } from '../../core/project'
import type { PickReport } from '../../agent/protocol'
import type { Preferences } from '../../storage/preferences'

/** A mark on the tape: one of the project's own lengths. */
export interface Notch {
  readonly px: number
  readonly label: string
  /** What is written when the tape settles on it. */
  readonly text: string
  /** A token, or a value that declarations use. */
  readonly token: boolean
}

const OF_HEIGHT = /^(top|bottom|height|min-height|max-height|row-gap)$/

/** What units refer to for a property of the chosen element (CSS Values 4 §6). */
export function unitContext(report: PickReport, property: string): UnitContext {
  const { facts } = report
  const own = property === 'font-size'
  return {
    // `em` in font-size refers to the parent's (CSS Values 4 §6.1.1).
    fontSize: own ? report.parentFontSize : parseFloat(report.computed['font-size']) || 16,
    rootFontSize: report.rootFontSize,
    viewportWidth: facts.viewport.width,
    viewportHeight: facts.viewport.height,
    percent: own ? report.parentFontSize : facts.around && (OF_HEIGHT.test(property) ? facts.around.height : facts.around.width),
    ch: facts.ch,
    lineHeight: facts.lineHeight,
    rootLineHeight: facts.rootLineHeight,
    container: facts.container,
  }
}

// A type scale and a space scale are distinguished by what their names say; a name that says neither serves both.
const TYPE_NAME = /text|font|type|size|step/i
const SPACE_NAME = /gap|space|spacing|pad|margin|inset|gutter/i

/** Notches by what they depend on beside the scale and the element: a column of tapes asks for the same few. */
const known = new WeakMap<PickReport, { readonly scale: Scale; readonly notches: Map<string, readonly Notch[]> }>()

/** The project's lengths as the chosen element resolves them, ascending: its tokens, and the values it uses at least twice. */
export function notchesFor(scale: Scale, report: PickReport, property: string): readonly Notch[] {
  const of = /^(font-size|letter-spacing)$/.test(property)
    ? 'type'
    : /radius/.test(property)
      ? 'edge'
      : /^(padding|margin|gap|row-gap|column-gap|inset|top|right|bottom|left)/.test(property)
        ? 'space'
        : null
  const key = `${of} ${property === 'font-size'} ${OF_HEIGHT.test(property)}`
  let ofReport = known.get(report)
  if (ofReport?.scale !== scale) known.set(report, (ofReport = { scale, notches: new Map() }))
  const found = ofReport.notches.get(key) ?? findNotches(scale, report, property, of)
  ofReport.notches.set(key, found)
  return found
}

function findNotches(scale: Scale, report: PickReport, property: string, of: Scale['lengths'][number]['of'] | null): Notch[] {
  const context = unitContext(report, property)
  const other = property === 'font-size' ? SPACE_NAME : TYPE_NAME
  const tokens = scale.tokens
    .filter((t) => !other.test(t.name))
    .flatMap((t): Notch[] => {
      const length = t.kind === 'length' ? parseLength(report.computed[t.name] || t.text) : null
      const px = length && toPx(length, context)
      return px === null ? [] : [{ px, label: `${t.name} ${t.text}`, text: `var(${t.name})`, token: true }]
    })
  const used = scale.lengths
    .filter((l) => l.of === of && l.count > 1)
    .flatMap((l): Notch[] => {
      const px = toPx(parseLength(l.text)!, context)
      return px === null || tokens.some((t) => Math.abs(t.px - px) < 0.01)
        ? []
        : [{ px, label: `${l.text}, used ${l.count} times`, text: l.text, token: false }]
    })
  return [...tokens, ...used].sort((a, b) => a.px - b.px)
}

/** The tokens that say what a row shows, as they would be written: those of the same size or the same colour. */
export function tokensLike(aim: PropertyAim, scale: Scale, report: PickReport): string[] {
  const px = pxOf(aim.computed)
  const color = px === null ? parseColor(aim.computed) : null
  const alike =
    px !== null
      ? notchesFor(scale, report, aim.property)
          .filter((n) => n.token && Math.abs(n.px - px) < 0.01)
          .map((n) => n.text)
      : color
        ? scale.tokens
            .filter((t) => t.kind === 'color' && sameColor(parseColor(report.computed[t.name] || t.text), color))
            .map((t) => `var(${t.name})`)
        : []
  return alike.filter((text) => text !== aim.written?.trim())
}

/** The value of the token that a row's value is, as its definition writes it; null where it is no token by itself. */
export function valueOfToken(aim: PropertyAim, scale: Scale): string | null {
  const name = /^var\(\s*(--[^\s,)]+)\s*\)$/.exec(aim.written?.trim() ?? '')?.[1]
  const text = name && scale.tokens.find((t) => t.name === name)?.text.trim()
  return text ? (/var\(/.test(text) ? aim.computed : text) : null
}

/** The steps of a class list's vocabulary, as notches: what is written is the class. */
export const stepNotches = (steps: readonly Step[]): Notch[] =>
  steps.flatMap(({ base, value }): Notch[] => {
    const length = parseLength(value)
    return length && (length.unit === 'px' || length.number === 0) ? [{ px: length.number, label: base, text: value, token: true }] : []
  })

/** The step nearest to a length in px; null where there is none. */
export const nearestNotch = (notches: readonly Notch[], px: number): Notch | null =>
  notches.reduce<Notch | null>((best, n) => (!best || Math.abs(n.px - px) < Math.abs(best.px - px) ? n : best), null)

/** The one length a row stands at, in px; null where its parts differ or it is no length. */
export function pxOf(computed: string): number | null {
  const parts = computed.trim().split(/\s+/)
  const first = parseLength(parts[0])
  return first && (first.unit === 'px' || first.number === 0) && parts.every((p) => p === parts[0]) ? first.number : null
}

/** The length that the source gives a row, where that is one: of a `var()` alone, what the token behind it says. */
export const lengthWritten = (aim: PropertyAim): Length | null =>
  parseLength(aim.candidates.find((c) => c.ref.kind === 'token' && c.wins)?.current ?? aim.written ?? '')

/** The unit that a pulled value is written in: that of the value in the source, when its size is known; else, or always, the one the person would have. */
export function sourceUnit(aim: PropertyAim, context: UnitContext, preferred: Preferences['units']): string {
  if (preferred !== 'as the source') return preferred
  const length = lengthWritten(aim)
  return length?.unit && toPx({ number: 1, unit: length.unit }, context) ? length.unit : 'px'
}

export function lengthIn(px: number, unit: string, context: UnitContext): Length {
  return convert({ number: px, unit: 'px' }, unit, context) ?? { number: px, unit: 'px' }
}

/** The same size in each unit that can say it, as it would be written. */
export function inUnits(px: number, context: UnitContext): { unit: string; text: string }[] {
  return LENGTH_UNITS.flatMap((unit) => {
    const length = convert({ number: px, unit: 'px' }, unit, context)
    return length ? [{ unit, text: formatLength(length) }] : []
  })
}
