import { ID_ATTRIBUTE } from '../core/html/publish-id'
import { documentsOf } from './handles'
import type { PageSheets } from './page-sheets'
import type { PreviewOp } from './protocol'
import { ownStyles } from './sheet-ties'

/** Shows changes on the page that are not written yet, and takes them back. */
export class Preview {
  private undo: (() => void)[] = []
  private readonly styles = new Map<CSSStyleDeclaration, string>()

  constructor(private readonly root: Document, private readonly sheets: PageSheets) {}

  clear(): void {
    for (const [style, text] of this.styles) style.cssText = text
    this.styles.clear()
    for (const undo of this.undo.reverse()) undo()
    this.undo = []
  }

  /** What is shown stays; it is now what was written. */
  keep(): void {
    this.styles.clear()
    this.undo = []
  }

  show(ops: readonly PreviewOp[]): void {
    // An insertion is taken back and made again; a rule's declarations are simply written over.
    for (const undo of this.undo.reverse()) undo()
    this.undo = []
    for (const op of ops) {
      if (op.op === 'rule') this.showRule(op)
      else if (op.op === 'insert') this.showInsert(op)
      else this.showAttribute(op)
    }
    settle(this.root)
  }

  private showRule(op: Extract<PreviewOp, { op: 'rule' }>): void {
    for (const { rule } of this.sheets.rulesFor(op.sheet, op.rule)) {
      ownStyles(rule).forEach((style, i) => {
        if (!this.styles.has(style)) this.styles.set(style, style.cssText)
        style.cssText = op.runs[i] ?? ''
      })
    }
  }

  private showInsert(op: Extract<PreviewOp, { op: 'insert' }>): void {
    for (const sheet of this.sheets.uses(op.sheet)) {
      const after = op.after === null ? null : this.sheets.rulesFor(op.sheet, op.after).find((r) => r.sheet === sheet)?.rule
      const at = after ? [...sheet.cssRules].indexOf(after) + 1 : sheet.cssRules.length
      sheet.insertRule(op.text, at)
      const added = sheet.cssRules[at]
      this.undo.push(() => {
        const now = [...sheet.cssRules].indexOf(added)
        if (now >= 0) sheet.deleteRule(now)
      })
    }
  }

  private showAttribute(op: Extract<PreviewOp, { op: 'attribute' }>): void {
    for (const element of elementsOf(this.root, op.source)) {
      const before = element.getAttribute(op.name)
      setOrRemove(element, op.name, op.value)
      this.undo.push(() => setOrRemove(element, op.name, before))
    }
  }
}

export function setOrRemove(element: Element, name: string, value: string | null): void {
  if (value === null) element.removeAttribute(name)
  else element.setAttribute(name, value)
}

/** All live elements with this source; scripts may have cloned them. */
export const elementsOf = (root: Document, source: string): Element[] =>
  documentsOf(root).flatMap((doc) => [...doc.querySelectorAll(`[${ID_ATTRIBUTE}="${CSS.escape(source)}"]`)])

/** Ends transitions at once: what is seen and read is where they lead to. */
export function settle(root: Document): void {
  for (const doc of documentsOf(root)) {
    for (const animation of doc.getAnimations()) {
      if (animation.constructor.name === 'CSSTransition') animation.finish()
    }
  }
}
