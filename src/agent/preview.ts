import { documentsOf } from './documents'
import type { PageSheets } from './page-sheets'
import type { PreviewOp } from './protocol'
import { ownStyles } from './sheet-ties'
import { elementsOf, isOfComponent } from './sources'
import type { States } from './states'

/** Properties whose steps are shown by a held animation: plain lengths and colours, which make no box or layer of their own. */
const QUICK =
  /^(padding|margin|gap|row-gap|column-gap|top|right|bottom|left|inset|width|height|(min|max)-(width|height)|font-size|line-height|letter-spacing|word-spacing|color|background-color|border(-\w+)?-(width|color|radius)|text-indent)(-|$)/

/** More elements than this are quicker to restyle by their rule. */
const MOST_QUICK = 200

/** A pull under way: which elements its rule decides for, and the animations that hold the value shown on them. */
interface Quick {
  readonly key: string
  readonly held: readonly Animation[]
}

/** Shows changes on the page that are not written yet, and takes them back. */
export class Preview {
  private undo: (() => void)[] = []
  /** The rules that are shown and in no source, with what takes each away. */
  private inserted: { readonly rule: CSSRule; readonly undo: () => void }[] = []
  private readonly styles = new Map<CSSStyleDeclaration, { readonly text: string; readonly sheet: string; readonly rule: number }>()
  private quick: Quick | null = null

  constructor(
    private readonly root: Document,
    private readonly sheets: PageSheets,
    private readonly states: States,
  ) {}

  clear(): void {
    this.endQuick()
    for (const [style, { text }] of this.styles) style.cssText = text
    this.styles.clear()
    this.takeBack()
  }

  private takeBack(): void {
    for (const { undo } of this.inserted.reverse()) undo()
    this.inserted = []
    for (const undo of this.undo.reverse()) undo()
    this.undo = []
  }

  /** What is shown stays: the page is loaded again with what was written, or has it by now. */
  keep(): void {
    this.endQuick()
    this.styles.clear()
    this.inserted = []
    this.undo = []
  }

  /** The page has what was written: what is shown of attributes stays, and rules that `renewed` does not name are as they were. */
  written(renewed: (sheet: string, rule: number) => boolean): void {
    for (const [style, { text, sheet, rule }] of this.styles) if (!renewed(sheet, rule)) style.cssText = text
    for (const { rule, undo } of this.inserted.reverse()) if (!this.sheets.isTied(rule)) undo()
    this.keep()
  }

  private endQuick(): void {
    for (const animation of this.quick?.held ?? []) animation.cancel()
    this.quick = null
  }

  show(ops: readonly PreviewOp[], exact: boolean): void {
    if (!exact && ops.length === 1 && ops[0].op === 'rule' && this.showQuick(ops[0])) return
    if (!exact && this.showHeld(ops)) return
    this.endQuick()
    // An insertion is taken back and made again; a rule's declarations are simply written over.
    this.takeBack()
    const watched = !exact && ops.length === 1 && ops[0].op === 'rule' ? this.beforeQuick(ops[0]) : null
    for (const op of ops) {
      if (op.op === 'rule') this.showRule(op)
      else if (op.op === 'insert') this.showInsert(op)
      else if (op.op === 'classes') this.showClasses(op)
      else this.showAttribute(op)
    }
    settle(this.root)
    if (watched) this.quick = startQuick(watched)
  }

  // Changing a rule makes the engine sort the whole sheet again. So only the first step of a pull does; the elements it
  // changed are those the rule decides for, and the next steps are held on them above the cascade's normal rules.
  private beforeQuick(op: RuleOp): Watched | null {
    if (!op.set || !QUICK.test(op.set.name)) return null
    const elements = new Set<Element>()
    for (const { sheet, rule } of this.sheets.rulesFor(op.sheet, op.rule)) {
      const doc = (sheet.ownerNode ?? sheet.parentStyleSheet?.ownerNode)?.ownerDocument
      const selector = 'selectorText' in rule && rule.parentRule === null ? (rule as CSSStyleRule).selectorText : null
      // Pseudo-elements cannot be distinguished by matching, nor can nesting; the rule itself shows those.
      if (!doc || !selector || /::|:(before|after|first-l)/.test(selector)) return null
      for (const e of doc.querySelectorAll(selector)) elements.add(e)
    }
    if (elements.size === 0 || elements.size > MOST_QUICK) return null
    const { name } = op.set
    return {
      key: quickKey(op),
      name,
      elements: [...elements].map((e) => [e, getComputedStyle(e).getPropertyValue(name)]),
    }
  }

  private showQuick(op: RuleOp): boolean {
    if (!op.set || this.quick?.key !== quickKey(op)) return false
    const frame = { [camelCase(op.set.name)]: [op.set.value, op.set.value] }
    for (const animation of this.quick.held) (animation.effect as KeyframeEffect).setKeyframes(frame)
    return true
  }

  // A new class may have no rule yet, and giving it one restyles the page: what it will give is held on its elements.
  private showHeld(ops: readonly PreviewOp[]): boolean {
    const lists = ops.filter((op) => op.op === 'classes')
    if (
      lists.length === 0 ||
      lists.length < ops.length ||
      lists.length > MOST_QUICK ||
      lists.some((op) => op.held.length === 0 || op.held.some(([name]) => !QUICK.test(name)))
    )
      return false
    const key = lists.map((op) => `${op.source} ${op.held.map(([name]) => name).join()}`).join('; ')
    if (this.quick?.key !== key) {
      this.endQuick()
      this.takeBack()
      this.quick = { key, held: lists.flatMap((op) => this.listed(op).map((e) => hold(e))) }
    }
    const frames = lists.flatMap((op) =>
      this.listed(op).map(() => Object.fromEntries(op.held.map(([name, value]) => [camelCase(name), [value, value]]))),
    )
    this.quick.held.forEach((animation, i) => (animation.effect as KeyframeEffect).setKeyframes(frames[i]))
    return true
  }

  private showRule(op: RuleOp): void {
    for (const { rule } of this.sheets.rulesFor(op.sheet, op.rule)) {
      ownStyles(rule).forEach((style, i) => {
        if (!this.styles.has(style)) this.styles.set(style, { text: op.was?.[i] ?? style.cssText, sheet: op.sheet, rule: op.rule })
        style.cssText = this.sheets.declarationsOnPage(op.sheet, op.runs[i] ?? '')
      })
    }
  }

  private showInsert(op: Extract<PreviewOp, { op: 'insert' }>): void {
    for (const sheet of this.sheets.uses(op.sheet)) {
      const after = op.after === null ? null : this.sheets.rulesFor(op.sheet, op.after).find((r) => r.sheet === sheet)?.rule
      // Beside a rule in a group or a style rule: the new one goes in there too.
      const home = (after?.parentRule as CSSGroupingRule | null | undefined) ?? sheet
      const at = after ? [...home.cssRules].indexOf(after) + 1 : home.cssRules.length
      home.insertRule(this.sheets.textOnPage(op.sheet, op.text), at)
      const added = home.cssRules[at]
      this.states.take(added)
      this.inserted.push({
        rule: added,
        undo: () => {
          const now = [...home.cssRules].indexOf(added)
          if (now >= 0) home.deleteRule(now)
        },
      })
    }
  }

  // A tag of a component gives some of its elements a class that it does not give others.
  private listed({ source, having }: ClassesOp): readonly Element[] {
    return elementsOf(this.root, source).filter((e) => having?.every((name) => e.classList.contains(name)) ?? true)
  }

  // What a page worked out beside the classes that its file says stays.
  private showClasses(op: ClassesOp): void {
    if (!isOfComponent(op.source)) return this.showAttribute({ ...op, name: 'class' })
    for (const element of this.listed(op)) {
      const before = element.getAttribute('class')
      element.classList.remove(...op.gone)
      element.classList.add(...op.come)
      this.undo.push(() => setOrRemove(element, 'class', before))
    }
  }

  private showAttribute(op: { readonly source: string; readonly name: string; readonly value: string | null }): void {
    for (const element of elementsOf(this.root, op.source)) {
      const before = element.getAttribute(op.name)
      const isPart = op.name === 'style' && isOfComponent(op.source)
      setOrRemove(element, op.name, isPart ? [before, op.value].filter(Boolean).join('; ') : op.value)
      this.undo.push(() => setOrRemove(element, op.name, before))
    }
  }
}

type RuleOp = Extract<PreviewOp, { op: 'rule' }>
type ClassesOp = Extract<PreviewOp, { op: 'classes' }>

interface Watched {
  readonly key: string
  readonly name: string
  /** With the value that each had before. */
  readonly elements: readonly (readonly [Element, string])[]
}

const quickKey = (op: RuleOp): string => `${op.sheet} ${op.rule} ${op.set?.name}`
const camelCase = (name: string): string => name.replace(/-(\w)/g, (_, c: string) => c.toUpperCase())

function startQuick({ key, name, elements }: Watched): Quick | null {
  const changed = elements.filter(([e, before]) => getComputedStyle(e).getPropertyValue(name) !== before)
  // A step that changes nothing does not tell whom the rule decides for.
  if (changed.length === 0) return null
  return { key, held: changed.map(([e]) => hold(e)) }
}

function hold(e: Element): Animation {
  const animation = e.animate({}, { duration: 1e9, fill: 'both' })
  animation.pause()
  return animation
}

export function setOrRemove(element: Element, name: string, value: string | null): void {
  if (value === null) element.removeAttribute(name)
  else element.setAttribute(name, value)
}

/** Ends transitions at once: what is seen and read is where they lead to. */
export function settle(root: Document): void {
  for (const doc of documentsOf(root)) {
    for (const animation of doc.getAnimations()) {
      if (animation.constructor.name === 'CSSTransition') animation.finish()
    }
  }
}
