import { aroundKey, type OutlineRule, subjectKey } from '../core/css'

/** The kind of an engine rule in the words of the source outline: that of its interface, as `CSSViewTransitionRule` is `view-transition`. */
function kindOf(rule: CSSRule): string {
  let kind = KINDS.get(rule.constructor)
  if (kind === undefined) {
    const name = rule.constructor.name.replace(/^CSS|Rule$/g, '')
    KINDS.set(rule.constructor, (kind = name.startsWith('Layer') ? 'layer' : name.replace(/(?!^)[A-Z]/g, '-$&').toLowerCase()))
  }
  return kind
}

const KINDS = new Map<unknown, string>()

const sourceKind = ({ kind }: OutlineRule): string => (kind.startsWith('-') ? kind.replace(/^-(webkit|moz|o)-(?=keyframes)/, '') : kind)

const isNestedDeclarations = (rule: CSSRule): boolean => kindOf(rule) === 'nested-declarations'

const childRules = (rule: CSSRule): CSSRule[] => ('cssRules' in rule && rule.cssRules ? [...(rule.cssRules as CSSRuleList)] : [])

/** A source rule with the engine's, ready to be matched against elements. */
export interface TiedRule {
  readonly id: number
  readonly css: CSSRule
  readonly selectors: readonly string[]
  /** Group rules around it, outermost first. */
  readonly conditions: readonly CSSRule[]
}

const scratch = new CSSStyleSheet()

// Whether the engine keeps a rule with this selector, and how it then writes the selector.
function engineSelector(prelude: string, nested: boolean): string | null {
  scratch.replaceSync(nested ? `a{${prelude}{}}` : `${prelude}{}`)
  const first = scratch.cssRules[0]
  const rule = nested ? first && childRules(first)[0] : first
  return rule && kindOf(rule) === 'style' ? (rule as CSSStyleRule).selectorText : null
}

/** How far ahead the two lists are looked through for where they meet again. */
const AHEAD = 24

/**
 * Ties the rules of a source outline to the engine's, in order. The engine drops rules it cannot read: where the
 * two lists differ, each source rule is tried alone to learn whether it was kept.
 */
export function tieRules(
  live: CSSRuleList | CSSRule[],
  source: readonly OutlineRule[],
  onTie: (tied: TiedRule) => void,
): { tied: number; dropped: number } {
  let tied = 0
  let dropped = 0
  const todo: { live: CSSRule[]; source: readonly OutlineRule[]; conditions: readonly CSSRule[]; nested: boolean }[] = [
    { live: [...live], source, conditions: [], nested: false },
  ]
  while (todo.length) {
    const { live: list, source: outline, conditions, nested } = todo.pop()!
    const rules = list.filter((r) => !isNestedDeclarations(r))
    const wanted = outline.filter((o) => o.kind !== 'charset')
    const straight = rules.length === wanted.length && rules.every((r, i) => kindOf(r) === sourceKind(wanted[i]))
    const same = (css: CSSRule | undefined, rule: OutlineRule): boolean =>
      css !== undefined &&
      (straight || kindOf(css) === sourceKind(rule)) &&
      (straight || rule.kind !== 'style' || engineSelector(rule.prelude, nested) === (css as CSSStyleRule).selectorText)
    let at = 0
    for (const [i, rule] of wanted.entries()) {
      if (!same(rules[at], rule)) {
        // Either the engine dropped this one, or it has some that no source rule stands for.
        const isDropped = wanted.slice(i + 1, i + 1 + AHEAD).some((later) => same(rules[at], later))
        const met = isDropped ? -1 : rules.slice(at + 1, at + 1 + AHEAD).findIndex((later) => same(later, rule))
        if (met < 0) {
          dropped++
          continue
        }
        at += met + 1
      }
      const css = rules[at++]
      tied++
      onTie({ id: rule.id, css, selectors: rule.selectors, conditions })
      if (rule.children.length) {
        todo.push({
          live: childRules(css),
          source: rule.children,
          nested: nested || rule.kind === 'style',
          conditions: rule.kind === 'style' ? conditions : [...conditions, css],
        })
      }
    }
  }
  return { tied, dropped }
}

/** The style blocks of a rule's own declarations: its own, and the runs after each nested rule. */
export function ownStyles(rule: CSSRule): CSSStyleDeclaration[] {
  const nested = childRules(rule).filter(isNestedDeclarations) as unknown as { style: CSSStyleDeclaration }[]
  const own = 'style' in rule ? [(rule as CSSStyleRule).style] : []
  return [...own, ...nested.map((n) => n.style)]
}

/** Rules by what their subject has to have and to stand in, so that an element is tried against few of them. */
export class RuleIndex {
  private readonly buckets = new Map<string, { tied: TiedRule; at: number; around: string | null }[]>()

  /** Takes in those of the rule's selectors that `takes` says. */
  add(tied: TiedRule, takes: (selector: string) => boolean): void {
    tied.selectors.forEach((selector, at) => {
      if (!takes(selector)) return
      const key = subjectKey(selector)
      const bucket = this.buckets.get(key)
      const entry = { tied, at, around: aroundKey(selector) }
      if (bucket) bucket.push(entry)
      else this.buckets.set(key, [entry])
    })
  }

  remove(tied: TiedRule): void {
    for (const key of new Set(tied.selectors.map(subjectKey))) {
      const bucket = this.buckets.get(key)
      if (bucket)
        this.buckets.set(
          key,
          bucket.filter((entry) => entry.tied !== tied),
        )
    }
  }

  /** Rules whose subject an element with these keys could be, with the indexes of the selectors to try. */
  candidates({ own, around }: ElementKeys): Map<TiedRule, number[]> {
    const out = new Map<TiedRule, number[]>()
    for (const key of ['*', ...own]) {
      for (const entry of this.buckets.get(key) ?? []) {
        if (entry.around !== null && !around.has(entry.around)) continue
        const list = out.get(entry.tied)
        if (list) list.push(entry.at)
        else out.set(entry.tied, [entry.at])
      }
    }
    return out
  }
}

/** What a selector can ask for outright that an element has, and that those around it have. */
interface ElementKeys {
  readonly own: readonly string[]
  readonly around: ReadonlySet<string>
}

/** The same for all sheets of a page. */
export function keysAround(element: Element): ElementKeys {
  const around = new Set<string>()
  for (let e = element.parentElement; e; e = e.parentElement) for (const key of keysOf(e)) around.add(key)
  return { own: keysOf(element), around }
}

const keysOf = (element: Element): string[] => [
  element.localName.toLowerCase(),
  ...(element.id ? [`#${element.id}`] : []),
  ...Array.from(element.classList, (name) => `.${name}`),
]
