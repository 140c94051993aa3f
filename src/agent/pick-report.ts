import { ID_ATTRIBUTE } from '../core/html'
import { kinOf, uniqueSelector } from './alike'
import { documentsOf } from './documents'
import { factsOf, partsPossible } from './facts'
import { geometryOf } from './geometry'
import { parentOf, type Handles } from './handles'
import { madeBy } from './made-by'
import type { MatchedElements } from './matched-elements'
import type { PageSheets } from './page-sheets'
import type { PickReport } from './protocol'
import { placeAmongCopies, sourceOf } from './sources'
import type { States } from './states'

interface OfPage {
  readonly root: Document
  readonly handles: Handles
  readonly sheets: PageSheets
  readonly states: States
  readonly matched: MatchedElements
}

/** What the page reports of a selected element; `props` are read as computed values, of its pseudo-element `part` or, with `''`, of itself. */
export function pickReport(
  { root, handles, sheets, states, matched: selected }: OfPage,
  element: Element,
  props: readonly string[],
  part: string,
): PickReport {
  const ancestors: Element[] = []
  for (let e: Element | null = element; e; e = e.parentElement) ancestors.push(e)
  const path: Element[] = []
  for (let e: Element | null = element; e; e = parentOf(e, root)) path.push(e)
  const own = sheets.matching(element, part, states)
  const matched = [own.met, ...(part ? ancestors : ancestors.slice(1)).map((e) => sheets.matching(e, '', states).met)]
  const computed = getComputedStyle(element, part || null)
  const source = sourceOf(element)
  const nearest = path.find((e) => e.hasAttribute(ID_ATTRIBUTE))
  const docs = documentsOf(root)
  const kin = kinOf(element)
  return {
    info: handles.info(element),
    geometry: geometryOf(element, root),
    ancestors: path.map((e) => handles.info(e)),
    matched,
    unmet: own.unmet,
    facts: factsOf(element, part),
    unique: uniqueSelector(element),
    place: placeAmongSiblings(element),
    holds: { elements: element.childElementCount > 0, wideText: element.scrollWidth > element.clientWidth },
    shadow: element.shadowRoot?.querySelectorAll('*').length ?? 0,
    parts: partsOf(element, sheets),
    reach: matched[0].map((m) => {
      const rule = sheets.selectorsOf(element.ownerDocument, m.sheet, m.rule)
      return selected.reach(rule, kin, docs.length > 1 ? sheets.documentsUsing(m.sheet) : docs)
    }),
    computed: Object.fromEntries(props.map((p) => [p, computed.getPropertyValue(p)])),
    parent: parentFacts(part ? element : element.parentElement),
    isSvg: element.namespaceURI === 'http://www.w3.org/2000/svg' && element.localName !== 'svg',
    nearestSource: source === null && nearest ? handles.info(nearest) : null,
    made: element.hasAttribute(ID_ATTRIBUTE) ? null : madeBy(element, root, handles),
    inline: [...(part ? [''] : []), ...ancestors.map((e) => e.getAttribute('style') ?? '')],
    rootFontSize: fontSize(element.ownerDocument.documentElement),
    parentFontSize: fontSize(part ? element : (element.parentElement ?? element)),
    writingMode: computed.writingMode,
    direction: computed.direction,
    nth: source === null ? 0 : placeAmongCopies(root, source, element),
    sheets: sheets.keys(element.ownerDocument),
  }
}

const PARENT_FACTS = [
  'display',
  'flex-direction',
  'padding-top',
  'padding-bottom',
  'border-top-width',
  'border-bottom-width',
  'overflow-x',
  'width',
  'height',
  'position',
]

function parentFacts(parent: Element | null): Record<string, string> {
  if (!parent) return {}
  const style = getComputedStyle(parent)
  return Object.fromEntries(PARENT_FACTS.map((p) => [p, style.getPropertyValue(p)]))
}

// Margins collapse with the parent's only where nothing in flow stands between (CSS 2 §8.3.1).
function placeAmongSiblings(element: Element): PickReport['place'] {
  const inFlow = (n: ChildNode): boolean => {
    if (n.nodeType === Node.TEXT_NODE) return n.nodeValue!.trim() !== ''
    if (n.nodeType !== Node.ELEMENT_NODE) return false
    const { display, position, float } = getComputedStyle(n as Element)
    return display !== 'none' && !/absolute|fixed/.test(position) && float === 'none'
  }
  const anyInFlow = (to: 'previousSibling' | 'nextSibling'): boolean => {
    for (let n = element[to]; n; n = n[to]) if (inFlow(n)) return true
    return false
  }
  const before = anyInFlow('previousSibling')
  const after = anyInFlow('nextSibling')
  return before ? (after ? 'between' : 'last') : after ? 'first' : 'only'
}

const OF_TEXT = new Set(['::first-line', '::first-letter', '::selection'])
const PARTS = [
  '::before',
  '::after',
  '::marker',
  '::placeholder',
  '::backdrop',
  '::file-selector-button',
  '::first-line',
  '::first-letter',
  '::selection',
]

// Those that have a box now, and those that some rule is about.
function partsOf(element: Element, sheets: PageSheets): string[] {
  const named = sheets.partsFor(element)
  const possible = partsPossible(element)
  return PARTS.filter(
    (p) =>
      (named.has(p) && (OF_TEXT.has(p) || possible.includes(p))) ||
      (/before|after/.test(p) && !/^(none|normal)$/.test(getComputedStyle(element, p).content)),
  )
}

const fontSize = (element: Element): number => parseFloat(getComputedStyle(element).fontSize) || 16
