/** Whether the media of a sheet, and of those that import it, hold. */
export function mediaHolds(sheet: CSSStyleSheet, view: Window): boolean {
  for (let s: CSSStyleSheet | null = sheet; s; s = s.parentStyleSheet) {
    if (s.media.mediaText && !view.matchMedia(s.media.mediaText).matches) return false
  }
  return true
}

/** Whether a condition around a rule holds for an element, or its pseudo-element; `known` keeps what was found. */
export function holds(rule: CSSRule, element: Element, part: string, view: Window, known: Map<CSSRule, boolean>): boolean {
  let found = known.get(rule)
  if (found === undefined) {
    switch (rule.constructor.name) {
      case 'CSSMediaRule':
        found = view.matchMedia((rule as CSSMediaRule).media.mediaText).matches
        break
      case 'CSSSupportsRule':
        found = CSS.supports((rule as CSSSupportsRule).conditionText)
        break
      case 'CSSContainerRule':
        found = containerHolds(rule as CSSGroupingRule, element, part, view)
        break
      case 'CSSStartingStyleRule':
        found = false
        break
      default:
        found = true
    }
    known.set(rule, found)
  }
  return found
}

const PROBE = '--steady-probe'

const probing = new WeakSet<Window>()

/** Makes sure that the probe's value is an element's own: what stands around it may answer to another container. */
function registerProbe(view: Window): void {
  if (probing.has(view)) return
  probing.add(view)
  try {
    ;(view as Window & typeof globalThis).CSS.registerProperty({ name: PROBE, syntax: '*', inherits: false })
  } catch {
    // An earlier script of ours has registered it.
  }
}

// Only the engine can tell which container an element answers to, so it is asked with a rule that sets nothing else. The
// selector matches every element, in a nested group too, where one without `&` would be about descendants (CSS Nesting 1 §3.2).
function containerHolds(rule: CSSGroupingRule, element: Element, part: string, view: Window): boolean {
  registerProbe(view)
  const at = rule.insertRule(`:is(&, :not(&))${part}{${PROBE}:1}`, rule.cssRules.length)
  const found = view.getComputedStyle(element, part || null).getPropertyValue(PROBE) !== ''
  rule.deleteRule(at)
  return found
}

/** The ancestor that is so many generations up. */
export function scopeRoot(element: Element, generations: number): Element {
  let root = element
  for (let i = 0; i < generations; i++) root = root.parentElement!
  return root
}

/** How many generations up the nearest root of an `@scope` rule is, with no limit between; null where there is none (CSS Cascade 6 §2.5). */
export function scopeProximity(element: Element, rule: CSSRule): number | null {
  const { start, end } = rule as unknown as { start: string | null; end: string | null }
  let generations = 0
  for (let e: Element | null = element; e; e = e.parentElement, generations++) {
    if (start ? e.matches(start) : e === element.ownerDocument.documentElement) return generations
    if (end && e.matches(end)) return null
  }
  return null
}
