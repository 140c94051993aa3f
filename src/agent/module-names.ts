import type { OutlineRule } from '../core/css'
import { isKind, rulesIn, type PageNames } from './rules-on-page'

// A class name in a selector; what stands in strings and brackets is passed over (Selectors 4 §6.1, §6.6).
const CLASS = /("(?:\\.|[^"\\])*"|'(?:\\.|[^'\\])*'|\[[^\]]*\])|\.((?:[\w-]|[^\0-\x7f]|\\.)+)/g

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
  private constructor(private readonly onPage: ReadonlyMap<string, string>) {}

  /**
   * Reads them off the rules of both, which are to be the same one by one. Null where they are not, and where more than
   * classes has another name on the page.
   */
  static read(live: Iterable<CSSRule>, source: readonly OutlineRule[]): ModuleNames | null {
    const names = new Map<string, string>()
    const todo: [CSSRule[], readonly OutlineRule[]][] = [[[...live], source]]
    while (todo.length) {
      const [rules, wanted] = todo.pop()!
      if (rules.length !== wanted.length) return null
      for (const [i, { kind, prelude, children }] of wanted.entries()) {
        const rule = rules[i]
        if (/keyframes$/.test(kind) || /:(global|local)\b/.test(prelude) || (kind === 'style') !== isKind(rule, 'CSSStyleRule')) return null
        if (kind === 'style') {
          const [here, there] = [classesIn(prelude), classesIn((rule as CSSStyleRule).selectorText)]
          if (here.length !== there.length || here.some((name, n) => (names.get(name) ?? there[n]) !== there[n])) return null
          here.forEach((name, n) => names.set(name, there[n]))
        }
        todo.push([rulesIn(rule), children])
      }
    }
    return new ModuleNames(names)
  }

  /** A selector of the source as the page has it. */
  selector(text: string): string {
    return text.replace(CLASS, (all: string, passed: string | undefined, name: string) =>
      passed === undefined ? `.${this.onPage.get(name) ?? name}` : all,
    )
  }

  /** Rules of the source as the page has them. */
  rules(text: string): string {
    const fresh = new CSSStyleSheet()
    fresh.replaceSync(text)
    this.rename(fresh.cssRules)
    return [...fresh.cssRules].map((r) => r.cssText).join('\n')
  }

  /** Gives rules that were read from the source the names that they have on the page. */
  rename(rules: Iterable<CSSRule>): void {
    for (const rule of rules) {
      if (isKind(rule, 'CSSStyleRule')) (rule as CSSStyleRule).selectorText = this.selector((rule as CSSStyleRule).selectorText)
      this.rename(rulesIn(rule))
    }
  }
}
