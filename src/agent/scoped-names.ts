import { splitSelectors, type OutlineRule } from '../core/css'
import { isKeyframes, isKind, rulesIn, withAnimations, type PageNames } from './rules-on-page'

// What compilers of single-file components add to selectors, so that they are of that component alone: Vue and Astro an
// attribute, Svelte and Astro a class.
const MARK = String.raw`\[data-v-[\w-]+\]|\[data-astro-cid-[\w-]+\]|\.svelte-[\w-]+|\.s-[\w-]{12}(?![\w-])|\.astro-[\w-]+`
const MARKS = new RegExp(String.raw`:where\((?:${MARK})\)|${MARK}`, 'gi')
const MARK_ALONE = new RegExp(`^(?:${MARK})$`, 'i')

/** Whether a compiler made a class, so that selectors are of one component alone. */
export const isMark = (name: string): boolean => MARK_ALONE.test(`.${name}`)

const scratch = new CSSStyleSheet()

/** How the engine writes a selector; null where it does not take it. */
function engineText(selector: string): string | null {
  scratch.replaceSync(`${selector}{}`)
  const rule = scratch.cssRules[0]
  return rule && isKind(rule, 'CSSStyleRule') ? (rule as CSSStyleRule).selectorText : null
}

/** What an author says to a compiler, taken out: that a part of a selector is not of this component alone. */
const plain = (selector: string): string =>
  selector
    .replace(/\s*(?::deep|::v-deep)\(((?:[^()]|\([^()]*\))*)\)/g, ' $1')
    .replace(/\s*(?:>>>|\/deep\/|::v-deep)\s*/g, ' ')
    .replace(/(?::global|:slotted|::v-slotted|::v-global)\(((?:[^()]|\([^()]*\))*)\)/g, '$1')
    .replace(/:global\s+/g, '')
    .trim()

const withoutMarks = (selector: string): string => selector.replace(MARKS, '').replace(/(^|[\s>+~,(])(?=[\s>+~,)]|$)/g, '$1')

const same = (a: string, b: string): boolean => a.replace(/[\s*]+/g, '') === b.replace(/[\s*]+/g, '')

/** The selectors of one component's style block, as its source has them and as the page does. */
export class ScopedNames implements PageNames {
  private constructor(
    private readonly onPage: ReadonlyMap<string, string>,
    private readonly mark: string | null,
    private readonly animations: ReadonlyMap<string, string>,
  ) {}

  /** Reads them off the rules of both; null where more than selectors has another name. A compiler leaves out what nothing in the component can match. */
  static read(live: Iterable<CSSRule>, source: readonly OutlineRule[]): ScopedNames | null {
    const [names, animations] = [new Map<string, string>(), new Map<string, string>()]
    let mark: string | null = null
    const pair = (rules: readonly CSSRule[], wanted: readonly OutlineRule[]): void => {
      let at = 0
      for (const rule of rules) {
        const found = wanted.findIndex((w, i) => i >= at && isOf(rule, w))
        if (found < 0) continue
        at = found + 1
        const { prelude, kind, children } = wanted[found]
        if (kind === 'style') {
          const text = (rule as CSSStyleRule).selectorText
          for (const [own] of text.matchAll(MARKS)) mark ??= own.replace(/^:where\((.*)\)$/, '$1')
          const [here, there] = [splitSelectors(prelude), splitSelectors(text)]
          if (here.length === there.length) here.forEach((s, i) => names.set(s, there[i]))
          names.set(prelude, text)
        } else if (isKeyframes(kind)) {
          animations.set(prelude.trim(), (rule as CSSKeyframesRule).name)
          continue
        }
        pair(rulesIn(rule), children)
      }
    }
    pair([...live], source)
    return new ScopedNames(names, mark, animations)
  }

  /** A selector of the source as the page has it. */
  selector(text: string): string {
    const known = this.onPage.get(text.trim())
    if (known !== undefined || this.mark === null || !MARK_ALONE.test(this.mark)) return known ?? text
    return splitSelectors(text)
      .map((one) => this.onPage.get(one.trim()) ?? scoped(one.trim(), this.mark!))
      .join(', ')
  }

  declarations(text: string): string {
    return withAnimations(text, this.animations)
  }

  animation(name: string): string {
    return this.animations.get(name) ?? name
  }

  /** Rules of the source as the page has them. */
  rules(given: string): string {
    const text = this.declarations(given)
    let out = ''
    let from = 0
    /** How deep in `@keyframes` a piece is; the preludes there are of the animation. */
    let within = 0
    for (const { index, 0: piece } of text.matchAll(PIECES)) {
      if (within > 0 && /[{}]/.test(piece)) within += piece === '{' ? 1 : -1
      if (within > 0) continue
      if (piece === '{') {
        const before = text.slice(from, index)
        const [, lead, prelude, tail] = /^((?:\s|\/\*[\s\S]*?\*\/)*)([\s\S]*?)(\s*)$/.exec(before)!
        const isStyle = prelude !== '' && !prelude.startsWith('@')
        out += lead + (isStyle ? this.selector(prelude) : this.atRule(prelude)) + tail + piece
        within = /^@(-\w+-)?keyframes\s/i.test(prelude) ? 1 : 0
        from = index + 1
      } else if (piece === '}' || piece === ';') {
        out += text.slice(from, index + 1)
        from = index + 1
      }
    }
    return out + text.slice(from)
  }

  private atRule(prelude: string): string {
    return prelude.replace(/^(@(?:-\w+-)?keyframes\s+)(\S+)$/i, (_, at: string, name: string) => at + this.animation(name))
  }
}

// What ends a prelude or a declaration, and what is passed over: comments, strings, and what stands in brackets (CSS Syntax 3).
const PIECES = /\/\*[\s\S]*?\*\/|"(?:\\.|[^"\\])*"|'(?:\\.|[^'\\])*'|\((?:[^()]|\((?:[^()]|\([^()]*\))*\))*\)|[{};]/g

function isOf(rule: CSSRule, { kind, prelude }: OutlineRule): boolean {
  if (kind !== 'style') return !isKind(rule, 'CSSStyleRule') && rule.cssText.toLowerCase().startsWith(`@${kind}`)
  if (!isKind(rule, 'CSSStyleRule')) return false
  const text = engineText(plain(prelude)) ?? plain(prelude)
  return same(withoutMarks((rule as CSSStyleRule).selectorText), withoutMarks(text))
}

/** A selector that is new to the block, with what its compiler would add. */
function scoped(selector: string, mark: string): string {
  if (selector !== plain(selector) || selector.includes('&')) return plain(selector)
  const parts = selector.split(/(\s*[>+~]\s*|\s+)(?![^[(]*[\])])/)
  const last = parts.length - 1
  return parts
    .map((part, i) => {
      if (i % 2 === 1 || part === '') return part
      // Vue marks the last compound, Svelte and Astro each.
      if (mark.startsWith('[data-v-') && i !== last) return part
      const own = mark.startsWith('.s') && i > 0 ? `:where(${mark})` : mark
      const at = part.search(/:/)
      return at < 0 ? part + own : part.slice(0, at) + own + part.slice(at)
    })
    .join('')
}
