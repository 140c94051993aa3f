import { stateAround } from '../core/css'
import { statesOf } from './facts'
import { documentsOf } from './documents'

/** States that the agent can show an element in, whatever the visitor does (Selectors 4 §9 to §13). */
const FORCIBLE = [
  'focus-visible',
  'focus-within',
  'focus',
  'hover',
  'active',
  'target',
  'checked',
  'disabled',
  'enabled',
  'invalid',
  'valid',
  'user-invalid',
  'user-valid',
  'required',
  'optional',
  'placeholder-shown',
  'indeterminate',
  'read-only',
  'read-write',
  'in-range',
  'out-of-range',
  'autofill',
  'default',
]

const MARK = 'data-steady-state'

/** What a media query asks of the pointer (Media Queries 4 §6). */
const POINTER = /\((?:any-)?(?:hover\s*:\s*hover|pointer\s*:\s*fine)\)/gi

// Strings, attribute selectors and escaped letters of names are passed by: `.md\\:hover\\:p-4` asks for no state.
const STATE = new RegExp(`(\\\\.|"[^"]*"|'[^']*'|\\[[^\\]]*\\])|:(${FORCIBLE.join('|')})(?![\\w(-])`, 'gi')
const ANY = new RegExp(
  `(\\\\.|"[^"]*"|'[^']*'|\\[[^\\]]*\\])|:not\\(\\s*:(?:${FORCIBLE.join('|')})\\s*\\)|:(?:${FORCIBLE.join('|')}|visited|link|any-link|open|modal|popover-open)(?![\\w(-])|::[\\w-]+(?:\\([^)]*\\))?|:(?:before|after|first-line|first-letter)(?![\\w-])`,
  'gi',
)

/** The selector without states and pseudo-elements: what it is about, in whatever state that is now. */
export const inAnyState = (selector: string): string =>
  selector.replace(ANY, (all, kept: string | undefined) => kept ?? (all ? ':where(*)' : ''))

/**
 * What the browser's own sheet does for states (HTML §15.3). In a layer of no specificity, so that any rule of the page
 * comes before it as it comes before the browser's: in one inside the page's first layer, where it has layers.
 */
const ownStates = (layer: string): string => `@layer ${layer} {
  :where([${MARK}~="focus-visible"]:not(embed, iframe, object)) { outline: auto 1px -webkit-focus-ring-color; }
  :where(svg[${MARK}~="focus"], svg [${MARK}~="focus"]) { outline: auto 5px -webkit-focus-ring-color; }
  :where(a:any-link[${MARK}~="focus-visible"]) { outline-offset: 1px; }
  :where(input:is([type="checkbox" i], [type="radio" i])[${MARK}~="focus-visible"]) { outline-offset: 2px; }
  :where(:is(button, input:is([type="button" i], [type="reset" i], [type="submit" i]))[${MARK}~="active"]) { border-style: inset; }
  :where(select:not([multiple], [size]) option:enabled[${MARK}~="hover"]) { background-color: color-mix(in oklab, currentColor 10%, transparent); }
  :where(option:enabled[${MARK}~="active"]) { background-color: color-mix(in oklab, currentColor 20%, transparent); }
  :where(a:any-link[${MARK}~="active"]) { color: -webkit-activelink; }
}`

/** What a state brings with it on the element itself, and on all that it stands in. */
const WITH: Readonly<Record<string, { readonly own: readonly string[]; readonly around: readonly string[] }>> = {
  hover: { own: ['hover'], around: ['hover'] },
  active: { own: ['hover', 'active'], around: ['hover', 'active'] },
  // As by the keyboard, which is how the engine itself shows a focus that it is notified of.
  focus: { own: ['focus', 'focus-visible', 'focus-within'], around: ['focus-within'] },
  'focus-visible': { own: ['focus', 'focus-visible', 'focus-within'], around: ['focus-within'] },
  'focus-within': { own: ['focus-within'], around: ['focus-within'] },
}

/**
 * Which element has to be in what state for what is asked of one: itself, one around it (`.card:hover &`), one before it
 * (`.peer:checked ~ &`), or one that it holds (`has(:checked)`).
 */
function bearer(element: Element, asked: string): { element: Element | null; state: string } {
  const around = stateAround(asked)
  if (around) {
    const before = function* (e: Element): Generator<Element> {
      for (let s = e.previousElementSibling; s; s = s.previousElementSibling) yield s
    }
    const there = around.isBefore
      ? [...before(element)].find((e) => e.matches(around.compound))
      : element.parentElement?.closest(around.compound)
    return there ? bearer(there, around.state.replace(/^:/, '')) : { element: null, state: '' }
  }
  const held = /^has\((:[\w-]+)\)$/.exec(asked)?.[1]
  if (held)
    return {
      element: [...element.querySelectorAll('*')].find((e) => statesOf(e).includes(held)) ?? null,
      state: held.slice(1),
    }
  // Of several, any of which will do, the first.
  return { element, state: /^is\(:([\w-]+)/.exec(asked)?.[1] ?? asked }
}

const ATTRIBUTE = /^\[([\w-]+)(?:="?([^"\]]*)"?)?\]$/

interface Held {
  readonly element: Element
  readonly states: readonly string[]
  readonly open: boolean
}

/**
 * Shows elements in states that nobody puts them in. A held `:hover` is an attribute, and the engine's rules that ask for
 * `:hover` take the attribute instead as well, at the same specificity; rules are rewritten only while something is held.
 */
export class States {
  private marked: Element[] = []
  private opened: (() => void)[] = []
  private added: (() => void)[] = []
  private readonly rules = new Map<CSSStyleRule, string>()
  private readonly media = new Map<CSSMediaRule, string>()

  constructor(private readonly root: Document) {}

  hold(held: readonly Held[]): void {
    this.release()
    for (const thing of held) {
      for (const asked of thing.states) {
        if (this.dress(thing.element, asked)) continue
        const { element, state } = bearer(thing.element, asked)
        if (!element) continue
        if (state.startsWith('[')) {
          this.giveAttribute(element, state)
          continue
        }
        const { own, around } = WITH[state] ?? { own: [state], around: [] }
        this.mark(element, own)
        for (let e = element.parentElement; e; e = e.parentElement) this.mark(e, around)
      }
    }
    this.rewrite()
    // Outer things first, so that what opens inside has a place.
    for (const { element } of held.filter((h) => h.open)) this.open(element)
  }

  // What an element has to stand in, as in `.dark &`, where it stands in no such: the root is given the class or attribute. Whether that is what was asked.
  private dress(element: Element, asked: string): boolean {
    const around = stateAround(asked)
    if (!around || around.state !== '') return false
    const root = element.ownerDocument.documentElement
    const [, name] = /^\.([\w-]+)$/.exec(around.compound) ?? []
    const isAttribute = ATTRIBUTE.test(around.compound)
    if (element.closest(around.compound) || (!name && !isAttribute)) return true
    if (name) {
      const hadNone = !root.hasAttribute('class')
      root.classList.add(name)
      this.opened.push(() => {
        root.classList.remove(name)
        if (hadNone && root.classList.length === 0) root.removeAttribute('class')
      })
    } else this.giveAttribute(root, around.compound)
    return true
  }

  // Gives an element the attribute that a selector asks for, until nothing is held.
  private giveAttribute(element: Element, selector: string): void {
    const [, name, value = ''] = ATTRIBUTE.exec(selector) ?? []
    if (!name || element.matches(selector)) return
    const before = element.getAttribute(name)
    element.setAttribute(name, value)
    this.opened.push(() => (before === null ? element.removeAttribute(name) : element.setAttribute(name, before)))
  }

  private release(): void {
    this.restore()
    for (const e of this.marked) e.removeAttribute(MARK)
    this.marked = []
    for (const close of this.opened.reverse()) close()
    this.opened = []
  }

  private mark(element: Element, names: readonly string[]): void {
    if (names.length === 0) return
    const now = new Set((element.getAttribute(MARK) ?? '').split(' ').filter(Boolean))
    for (const name of names) now.add(name)
    element.setAttribute(MARK, [...now].join(' '))
    this.marked.push(element)
  }

  private open(element: Element): void {
    if (element instanceof HTMLDialogElement) {
      if (element.open) return
      element.showModal()
      this.opened.push(() => element.close())
    } else if (element instanceof HTMLElement && element.popover !== null) {
      if (element.matches(':popover-open')) return
      element.showPopover()
      this.opened.push(() => element.hidePopover())
    } else if (element instanceof HTMLDetailsElement && !element.open) {
      element.open = true
      this.opened.push(() => {
        element.open = false
      })
    }
  }

  private get names(): Set<string> {
    return new Set(this.marked.flatMap((e) => (e.getAttribute(MARK) ?? '').split(' ')))
  }

  /** A selector as the held states make it. */
  forced(selector: string): string {
    return this.marked.length === 0 ? selector : force(selector, this.names)
  }

  private rewrite(): void {
    if (this.marked.length === 0) return
    const { names } = this
    for (const doc of documentsOf(this.root)) {
      this.addOwnStates(doc)
      for (const sheet of [...doc.styleSheets, ...doc.adoptedStyleSheets]) for (const rule of rulesOf(sheet)) this.takeRule(rule, names)
    }
  }

  private addOwnStates(doc: Document): void {
    // A sheet belongs to the document it is made for.
    const sheet = new doc.defaultView!.CSSStyleSheet()
    const first = firstLayer(doc)
    sheet.replaceSync(ownStates(first ? `${first}.steady-own` : ''))
    doc.adoptedStyleSheets.push(sheet)
    this.added.push(() => {
      doc.adoptedStyleSheets = doc.adoptedStyleSheets.filter((s) => s !== sheet)
    })
  }

  /** Has a rule that came later follow the held states too. */
  take(rule: CSSRule): void {
    if (this.marked.length) this.takeRule(rule, this.names)
  }

  private takeRule(rule: CSSRule, names: ReadonlySet<string>): void {
    if (rule instanceof CSSStyleRule || rule.constructor.name === 'CSSStyleRule') {
      const style = rule as CSSStyleRule
      const before = this.rules.get(style) ?? style.selectorText
      const after = force(before, names)
      if (after !== before) {
        if (!this.rules.has(style)) this.rules.set(style, before)
        style.selectorText = after
      }
    }
    // A state that is held is shown, whether or not this machine's pointer could put an element in it.
    if (rule.constructor.name === 'CSSMediaRule' && (names.has('hover') || names.has('active'))) {
      const { media } = rule as CSSMediaRule
      const after = media.mediaText.replace(POINTER, '(min-width: 0px)')
      if (after !== media.mediaText) {
        if (!this.media.has(rule as CSSMediaRule)) this.media.set(rule as CSSMediaRule, media.mediaText)
        media.mediaText = after
      }
    }
    if ('cssRules' in rule) for (const inner of rule.cssRules as CSSRuleList) this.takeRule(inner, names)
    if (rule.constructor.name === 'CSSImportRule')
      for (const inner of rulesOf((rule as CSSImportRule).styleSheet)) this.takeRule(inner, names)
  }

  private restore(): void {
    for (const [rule, text] of this.rules) rule.selectorText = text
    this.rules.clear()
    for (const [rule, text] of this.media) rule.media.mediaText = text
    this.media.clear()
    for (const remove of this.added) remove()
    this.added = []
  }

  /** Does `work` while all rules read as they are written. */
  without(work: () => void): void {
    this.restore()
    work()
    this.rewrite()
  }
}

/** The rules of a sheet; none of one from elsewhere, which the engine does not let be read (CSSOM §6.1.2), nor of an import that has no sheet. */
function rulesOf(sheet: CSSStyleSheet | null): Iterable<CSSRule> {
  try {
    return sheet?.cssRules ?? []
  } catch {
    return []
  }
}

// The layer that all others come before (CSS Cascade 5 §6.4.1); '' where there is none, or it has no name.
function firstLayer(doc: Document): string {
  const inRules = (rules: Iterable<CSSRule>): string | null => {
    for (const rule of rules) {
      if (rule.constructor.name === 'CSSLayerStatementRule') return (rule as CSSLayerStatementRule).nameList[0] ?? ''
      if (rule.constructor.name === 'CSSLayerBlockRule') return (rule as CSSLayerBlockRule).name
      if (rule.constructor.name === 'CSSImportRule') {
        const { layerName, styleSheet } = rule as CSSImportRule
        const found = layerName ?? inRules(rulesOf(styleSheet))
        if (found !== null) return found
      } else if ('cssRules' in rule && rule.constructor.name !== 'CSSStyleRule') {
        const found = inRules(rule.cssRules as CSSRuleList)
        if (found !== null) return found
      }
    }
    return null
  }
  for (const sheet of doc.styleSheets) {
    const found = inRules(rulesOf(sheet))
    if (found !== null) return found
  }
  return ''
}

/** A selector that takes the held marks for the states too, at the same specificity. */
export const force = (selector: string, names: ReadonlySet<string>): string =>
  selector.replace(STATE, (all, kept: string | undefined, name: string | undefined) => {
    if (kept || !name || !names.has(name.toLowerCase())) return all
    return `:is(${all}, [${MARK}~="${name.toLowerCase()}"])`
  })

/** Dialogs, popovers and `details` of a document that do not show what they hold now. */
export const closedThings = (doc: Document): Element[] =>
  [...doc.querySelectorAll('dialog:not([open]), [popover], details:not([open])')].filter(
    (e) => !(e as HTMLElement).matches(':popover-open'),
  )
