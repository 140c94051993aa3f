import type { Kinship } from './alike'
import { allMatching } from './matching'
import type { PageSheets } from './page-sheets'
import type { Reach } from './protocol'
import { inAnyState } from './states'

/** Elements whose kinship is looked at before a reach is called wide. */
const MOST_KIN = 5000

/** The elements of the page that selectors of its sources match, in whatever state they are. */
export class MatchedElements {
  constructor(private readonly sheets: PageSheets) {}

  /** Those of selectors of a sheet; null where they are of none. */
  all(selectors: readonly string[], sheet: string | null = null): Set<Element> {
    const found = new Set<Element>()
    for (const doc of this.sheets.documentsUsing(sheet)) {
      for (const selector of selectors) {
        try {
          for (const e of Array.from(allMatching(doc, inAnyState(this.sheets.selector(selector, sheet))))) found.add(e)
        } catch {
          // A selector the engine does not know matches nothing.
        }
      }
    }
    return found
  }

  /** How many one selector of a sheet matches. */
  count(selector: string, sheet: string | null): number {
    return countOf(this.sheets.documentsUsing(sheet).map((doc) => this.allIn(doc, [this.sheets.selector(selector, sheet)])))
  }

  /** How many a rule reaches, and whether all of them are kin of an element. */
  reach(selectors: readonly string[], kin: Kinship, docs: readonly Document[]): Reach {
    const lists = docs.map((doc) => this.allIn(doc, selectors))
    const count = countOf(lists)
    return {
      count,
      kin: count <= MOST_KIN && (selectors.every(kin.isAskedFor) || lists.every((list) => Array.prototype.every.call(list, kin.includes))),
    }
  }

  // A list of selectors counts as one; one that the engine does not know matches nothing.
  private allIn(doc: Document, selectors: readonly string[]): ArrayLike<Element> {
    const all = selectors.map(inAnyState)
    try {
      return all.length === 1 ? allMatching(doc, all[0]) : doc.querySelectorAll(all.join(', '))
    } catch {
      // One of several: each by itself.
      return all.length === 1 ? [] : [...this.all(selectors)].filter((e) => e.ownerDocument === doc)
    }
  }
}

const countOf = (lists: readonly ArrayLike<Element>[]): number => lists.reduce((n, list) => n + list.length, 0)
