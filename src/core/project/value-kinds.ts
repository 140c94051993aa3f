import { declarationsOf, functionIn, isImage, splitTop, valueOf, type RuleSite, type ValueKind } from '../css'
import { parseColor, parseLength } from '../value'

const COLOR_FUNCTION = /^(rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|color-mix|device-cmyk)$/i
const MATH_FUNCTION = /^(calc|min|max|clamp)$/i
const UNIT = /[\d.](px|r?em|r?ch|r?lh|r?ex|r?cap|r?ic|[sld]?v([wh]|min|max|i|b)|cq([wh]|min|max|i|b)|cm|mm|in|pt|pc|q|%)(?![\w-])/i
const VARIABLE = /var\(\s*(--[^\s,)]+)\s*(,?)/gi

/** What the values of a project's custom properties are, and so what those are that use them. */
export class ValueKinds {
  private readonly definitions = new Map<string, string[]>()
  private readonly known = new Map<string, ValueKind | null>()

  constructor(sites: Iterable<RuleSite>) {
    for (const site of sites) {
      for (const d of declarationsOf(site.rule)) {
        if (!d.name.startsWith('--')) continue
        const there = this.definitions.get(d.name)
        if (there) there.push(valueOf(site, d))
        else this.definitions.set(d.name, [valueOf(site, d)])
      }
    }
  }

  has(name: string): boolean {
    return this.definitions.has(name)
  }

  /** What one component is; null where that is not sure, or where a variable of it is defined nowhere. */
  of(component: string): ValueKind | null {
    const text = component.trim()
    let kind = this.known.get(text)
    if (kind !== undefined) return kind
    // One that is defined by itself is nothing (CSS Variables 1 §2.3).
    this.known.set(text, null)
    kind = this.read(text)
    this.known.set(text, kind)
    return kind
  }

  private read(text: string): ValueKind | null {
    const name = /^var\(\s*(--[^\s,)]+)\s*\)$/i.exec(text)?.[1]
    // Where its definitions differ, what it is depends on the element.
    if (name) return this.common(this.definitions.get(name) ?? [])
    if (parseColor(text)) return 'color'
    if (parseLength(text)?.unit) return 'length'
    const call = functionIn(text)
    const variables = [...text.matchAll(VARIABLE)]
    if (!call || variables.some(([, v, fallback]) => !fallback && !this.has(v))) return null
    if (COLOR_FUNCTION.test(call.name)) return 'color'
    if (/^light-dark$/i.test(call.name))
      return this.common(splitTop(call.inside, 0, call.inside.length, ',').map(({ from, to }) => call.inside.slice(from, to)))
    if (MATH_FUNCTION.test(call.name))
      return UNIT.test(text) || variables.some(([, v]) => this.of(`var(${v})`) === 'length') ? 'length' : null
    return isImage(text) ? 'image' : null
  }

  private common(components: readonly string[]): ValueKind | null {
    const kinds = new Set(components.map((c) => this.of(c)))
    return kinds.size === 1 ? [...kinds][0] : null
  }
}
