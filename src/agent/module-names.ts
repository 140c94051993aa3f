import type { OutlineRule } from '../core/css'
import { isKeyframes, isKind, rulesIn, withAnimations, type PageNames } from './rules-on-page'

// A class name in a selector; what stands in strings and brackets is passed over (Selectors 4 §6.1, §6.6).
const CLASS = /("(?:\\.|[^"\\])*"|'(?:\\.|[^'\\])*'|\[[^\]]*\])|\.((?:[\w-]|[^\0-\x7f]|\\.)+)/g

// What an author says of classes that are not the module's own, and of those that are in spite of that (CSS Modules).
const SCOPE = /:(global|local)(?:\(((?:[^()]|\([^()]*\))*)\)|(?![\w(-])\s*)/g

interface Part {
  readonly text: string
  readonly isGlobal: boolean
}

/** A selector in parts: of the module, and of all. A scope without parentheses holds to the next comma. */
function partsOf(selector: string): Part[] {
  const out: Part[] = []
  const add = (text: string, isGlobal: boolean) => text && out.push({ text, isGlobal })
  let at = 0
  let isGlobal = false
  // In what is not in parentheses of a scope.
  const plain = (text: string) => {
    const [first, ...more] = text.split(/(?=,)/)
    add(first, isGlobal)
    for (const part of more) add(part, (isGlobal = false))
  }
  for (const m of selector.matchAll(SCOPE)) {
    plain(selector.slice(at, m.index))
    if (m[2] === undefined) isGlobal = m[1] === 'global'
    else add(m[2], m[1] === 'global')
    at = m.index + m[0].length
  }
  plain(selector.slice(at))
  return out
}

const classesIn = (selector: string): string[] => [...selector.matchAll(CLASS)].flatMap(([, , name]) => name ?? [])

/** The class names of a page that a compiler made: an author writes none of them. */
const generated = new Set<string>()

/** Takes note of the class names that the rules of a module have on the page, or of those that `isMade` says. */
export function noteGenerated(rules: Iterable<CSSRule>, isMade: (name: string) => boolean = () => true): void {
  for (const rule of rules) {
    if (isKind(rule, 'CSSStyleRule')) for (const name of classesIn((rule as CSSStyleRule).selectorText).filter(isMade)) generated.add(name)
    noteGenerated(rulesIn(rule), isMade)
  }
}

/** The classes of an element, without those that a compiler made. */
export const writtenClasses = (e: Element): string[] => [...e.classList].filter((name) => !generated.has(name))

/** The classes of one module, by the names that its source has for them and those that the page has (CSS Modules). */
export class ModuleNames implements PageNames {
  private constructor(
    private readonly onPage: ReadonlyMap<string, string>,
    private readonly animations: ReadonlyMap<string, string>,
  ) {}

  /**
   * Reads them off the rules of both, which are to be the same one by one. Null where they are not, and where more than
   * classes has another name on the page.
   */
  static read(live: Iterable<CSSRule>, source: readonly OutlineRule[]): ModuleNames | null {
    const [names, animations] = [new Map<string, string>(), new Map<string, string>()]
    const todo: [CSSRule[], readonly OutlineRule[]][] = [[[...live], source]]
    while (todo.length) {
      const [rules, wanted] = todo.pop()!
      if (rules.length !== wanted.length) return null
      for (const [i, { kind, prelude, children }] of wanted.entries()) {
        const rule = rules[i]
        if ((kind === 'style') !== isKind(rule, 'CSSStyleRule') || isKeyframes(kind) !== isKind(rule, 'CSSKeyframesRule')) return null
        if (isKeyframes(kind)) {
          animations.set(prelude.trim(), (rule as CSSKeyframesRule).name)
          continue
        }
        if (kind === 'style') {
          const here = partsOf(prelude).flatMap(({ text, isGlobal }) => classesIn(text).map((name) => ({ name, isGlobal })))
          const there = classesIn((rule as CSSStyleRule).selectorText)
          const isOther = ({ name, isGlobal }: (typeof here)[number], n: number) =>
            (isGlobal ? name : (names.get(name) ?? there[n])) !== there[n]
          if (here.length !== there.length || here.some(isOther)) return null
          for (const [n, { name, isGlobal }] of here.entries()) if (!isGlobal) names.set(name, there[n])
        }
        todo.push([rulesIn(rule), children])
      }
    }
    return new ModuleNames(names, animations)
  }

  /** A selector of the source as the page has it. */
  selector(text: string): string {
    const own = (part: string) =>
      part.replace(CLASS, (all: string, passed: string | undefined, name: string) =>
        passed === undefined ? `.${this.onPage.get(name) ?? name}` : all,
      )
    return partsOf(text)
      .map((part) => (part.isGlobal ? part.text : own(part.text)))
      .join('')
  }

  declarations(text: string): string {
    return withAnimations(text, this.animations)
  }

  animation(name: string): string {
    return this.animations.get(name) ?? name
  }

  /** Rules of the source as the page has them. */
  rules(text: string): string {
    const fresh = new CSSStyleSheet()
    // The engine takes no selector with a scope.
    fresh.replaceSync(this.declarations(text).replace(/[^{};]*:(?:global|local)\b[^{};]*(?=\{)/g, (selector) => this.selector(selector)))
    this.rename(fresh.cssRules)
    return [...fresh.cssRules].map((r) => r.cssText).join('\n')
  }

  /** Gives rules that were read from the source the names that they have on the page. */
  rename(rules: Iterable<CSSRule>): void {
    for (const rule of rules) {
      if (isKind(rule, 'CSSStyleRule')) (rule as CSSStyleRule).selectorText = this.selector((rule as CSSStyleRule).selectorText)
      else if (isKind(rule, 'CSSKeyframesRule')) (rule as CSSKeyframesRule).name = this.animation((rule as CSSKeyframesRule).name)
      this.rename(rulesIn(rule))
    }
  }
}
