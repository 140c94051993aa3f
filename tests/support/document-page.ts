import { JSDOM } from 'jsdom'
import { patchTree } from '../../src/agent/patch-tree'
import type { MatchedRule, NodeInfo, PickReport, SyncOp } from '../../src/agent/protocol'
import { unpackOutline, type PackedOutline } from '../../src/core/css'
import { ID_ATTRIBUTE } from '../../src/core/html'
import { MemoryPage } from './memory-page'

type Walk = 'parent' | 'child' | 'next' | 'previous'

/** A page in memory with elements: what is asked of them is answered from a document, and from the top-level rules that its sheets are tied to. */
export class DocumentPage extends MemoryPage {
  readonly document: Document
  private readonly handles: Element[] = []

  /** `html` is a page as it is published; `outlines` are those of its sheets, in order. */
  constructor(
    html: string,
    private readonly outlines: () => Readonly<Record<string, PackedOutline>>,
  ) {
    super()
    const { window } = new JSDOM(html)
    this.document = window.document
    // What the agent finds in a page.
    Object.assign(globalThis, { DOMParser: window.DOMParser, Element: window.Element, Node: window.Node })
  }

  /** The handle of the `nth` element that a selector matches. */
  node(selector: string, nth = 0): number {
    const element = this.document.querySelectorAll(selector)[nth]
    if (!element) throw new RangeError(`no ${selector}`)
    return this.handle(element)
  }

  source(selector: string): string {
    return this.document.querySelector(selector)!.getAttribute(ID_ATTRIBUTE)!
  }

  /** Takes an element off the page. */
  remove(selector: string): void {
    this.document.querySelector(selector)!.remove()
  }

  protected override own(type: string, ask: unknown): unknown {
    const given = ask as { of: number; node: number; source: string; nth: number; to: Walk; query: string; selectors: string[] }
    const all = (selector: string) => [...this.document.querySelectorAll(selector)]
    switch (type) {
      case 'pick': {
        const element = this.element(given.of)
        return element && this.report(element)
      }
      case 'locate': {
        const found = all(`[${ID_ATTRIBUTE}="${given.source}"]`)
        const element = found[given.nth] ?? found[0]
        return element ? this.info(element) : null
      }
      case 'walk': {
        const from = this.element(given.node)
        const to = {
          parent: from?.parentElement,
          child: from?.firstElementChild,
          next: from?.nextElementSibling,
          previous: from?.previousElementSibling,
        }
        const found = to[given.to]
        return found && found !== this.document.documentElement ? this.info(found) : null
      }
      case 'element': {
        const [found, ...more] = all(`[${ID_ATTRIBUTE}="${given.source}"]`)
        if (!found) return null
        return {
          tag: found.localName,
          attributes: [...found.attributes].map(({ name, value }) => ({ name, value })),
          texts: [...found.childNodes].flatMap((n) => (n.nodeType === 3 ? [n.nodeValue!] : [])),
          children: [...found.children].flatMap((e) => e.getAttribute(ID_ATTRIBUTE) ?? []),
          count: more.length + 1,
        }
      }
      case 'find':
        return all(given.query).map((e) => this.handle(e))
      case 'like': {
        const classes = this.element(given.node)?.getAttribute('class')
        return all('body *').flatMap((e) => (e.getAttribute('class') === classes ? [this.info(e)] : []))
      }
      case 'within':
        return all('p').map((e) => this.info(e))
      case 'reach':
        return given.selectors.map((s) => ({ count: all(s).length, kin: true }))
      default:
        return null
    }
  }

  /** Elements and their attributes as the agent takes them in; the page has to be loaded again where it would not. */
  protected override takeOther(op: SyncOp): boolean {
    if (op.op === 'tree') return patchTree(this.document, op.before, op.after)
    if (op.op === 'attribute')
      for (const e of this.document.querySelectorAll(`[${ID_ATTRIBUTE}="${op.source}"]`)) {
        if (op.value === null) e.removeAttribute(op.name)
        else e.setAttribute(op.name, op.value)
      }
    return true
  }

  private handle(element: Element): number {
    const at = this.handles.indexOf(element)
    return at >= 0 ? at + 1 : this.handles.push(element)
  }

  private element(node: number): Element | null {
    const element = this.handles[node - 1]
    return element?.isConnected ? element : null
  }

  private info(element: Element): NodeInfo {
    return {
      node: this.handle(element),
      origin: 'source',
      source: element.getAttribute(ID_ATTRIBUTE),
      tag: element.localName,
      id: element.id,
      classes: [...element.classList],
      twin: null,
    }
  }

  private matched(element: Element): MatchedRule[] {
    return Object.entries(this.outlines()).flatMap(([sheet, outline], order) =>
      unpackOutline(outline).flatMap(({ id, kind, selectors }) => {
        const hits = kind === 'style' ? selectors.flatMap((s, i) => (element.matches(s) ? [i] : [])) : []
        return hits.length ? [{ sheet, order, rule: id, selectors: hits, proximity: null }] : []
      }),
    )
  }

  private report(element: Element): PickReport {
    const ancestors: Element[] = []
    for (let e: Element | null = element; e; e = e.parentElement) ancestors.push(e)
    const matched = ancestors.map((e) => this.matched(e))
    const countOf = ({ sheet, rule }: MatchedRule) =>
      this.document.querySelectorAll(
        unpackOutline(this.outlines()[sheet])
          .find((r) => r.id === rule)!
          .selectors.join(', '),
      ).length
    return {
      info: this.info(element),
      geometry: { boxes: [] },
      ancestors: ancestors.map((e) => this.info(e)),
      matched,
      unmet: [],
      reach: matched[0].map((m) => ({ count: countOf(m), kin: true })),
      computed: { display: 'block', position: 'static', 'font-size': '16px', ...this.values },
      parent: { display: 'block' },
      isSvg: false,
      nearestSource: null,
      made: null,
      facts: {
        viewport: { width: 1000, height: 800 },
        around: { width: 500, height: 300 },
        children: [],
        weights: null,
        states: [],
        container: null,
      },
      unique: '',
      place: 'only',
      holds: { elements: element.childElementCount > 0, wideText: false },
      shadow: 0,
      parts: [],
      inline: ancestors.map((e) => e.getAttribute('style') ?? ''),
      rootFontSize: 16,
      parentFontSize: 16,
      writingMode: 'horizontal-tb',
      direction: 'ltr',
      nth: 0,
      sheets: Object.keys(this.outlines()),
    } as unknown as PickReport
  }
}
