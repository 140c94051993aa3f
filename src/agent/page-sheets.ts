import { type ChangedRun, isPreprocessed, unpackOutline, type OutlineRule, type PackedOutline, type RuleBody } from '../core/css'
import { indexIn, isImport, matchRules, rulesIn } from './change-rules'
import { documentsOf } from './documents'
import { ModuleNames, noteGenerated } from './module-names'
import { holds, mediaHolds, scopeProximity, scopeRoot } from './rule-conditions'
import { outlineOnPage, type PageNames } from './rules-on-page'
import { isMark, ScopedNames } from './scoped-names'
import { SCRIPT_SHEET, type MatchedRule, type SheetInfo, type SheetTie } from './protocol'
import { compiledText, fileIn, hasNames, isModule, isOfComponent, nameOf } from './sheet-names'
import { keysAround, ownStyles, RuleIndex, tieRules, type TiedRule } from './sheet-ties'
import { inAnyState, type States } from './states'

/** A sheet in use in one document. */
interface LiveSheet {
  readonly name: string
  /** The key of its source, once it is tied to it. */
  readonly key: string | null
  readonly doc: Document
  readonly sheet: CSSStyleSheet
  readonly order: number
  readonly index: RuleIndex
  /** Of the selectors that are about a pseudo-element. */
  readonly parts: RuleIndex
  readonly rules: Map<number, TiedRule>
  /** What it imports and how those layers are ordered, as its source says it. */
  readonly head: string
  tied: boolean
}

/** The sheets that can be read, with those that they import, which come before what imports them (CSS Cascade 5 §6.4). */
export function* sheetsOf(sheets: Iterable<CSSStyleSheet>): Generator<CSSStyleSheet> {
  for (const sheet of sheets) {
    let rules: CSSRuleList | null = null
    try {
      rules = sheet.cssRules
    } catch {
      // From elsewhere: the engine does not let it be read, and it is not ours to edit.
    }
    for (const rule of rules ?? []) {
      if (isImport(rule) && (rule as CSSImportRule).styleSheet) yield* sheetsOf([(rule as CSSImportRule).styleSheet!])
      else if (rule.constructor.name !== 'CSSLayerStatementRule') break
    }
    if (rules) yield sheet
  }
}

// What stands up to the last import (CSS Cascade 5 §2).
function headOf(outline: PackedOutline): string {
  // Runs of style rules hold none, and are left packed.
  const rules = outline.filter((part): part is OutlineRule => !('ids' in part))
  return rules
    .slice(0, rules.findLastIndex((r) => r.kind === 'import') + 1)
    .map((r) => `${r.kind} ${r.prelude}`)
    .join('\n')
}

/** The style sheets of the live page's documents, tied to their source. */
export class PageSheets {
  private sheets: LiveSheet[] = []
  /** The keys of sources, by the names of sheets that were tied to them. */
  private readonly keysByName = new Map<string, string>()
  /** How the page spells the selectors of modules and of components, by their keys. */
  private readonly names = new Map<string, PageNames>()

  constructor(private readonly root: Document) {}

  /** Those of the documents, looked at again, that are not tied. */
  async toTie(): Promise<SheetInfo[]> {
    this.collect()
    return Promise.all(
      this.sheets
        .filter((s) => !s.tied)
        .map(async ({ name, order, sheet }) => ({
          name,
          order,
          compiled: name.startsWith(SCRIPT_SHEET) ? await compiledText(name, sheet) : null,
        })),
    )
  }

  /** Looks at the documents again. Sheets still in use keep their ties. */
  collect(): void {
    const known = new Map(this.sheets.map((s) => [s.sheet, s]))
    this.sheets = []
    for (const doc of documentsOf(this.root)) {
      let order = 0
      for (const sheet of sheetsOf([...doc.styleSheets])) {
        const name = nameOf(sheet)
        if (name) {
          const old = known.get(sheet)
          if (!old && hasNames(name)) noteGenerated(sheet.cssRules, isModule(name) ? undefined : isMark)
          this.sheets.push(
            old
              ? { ...old, order }
              : {
                  name,
                  key: null,
                  doc,
                  sheet,
                  order,
                  index: new RuleIndex(),
                  parts: new RuleIndex(),
                  rules: new Map(),
                  head: '',
                  tied: false,
                },
          )
        }
        order++
      }
    }
  }

  /** Whether a document has come, gone or changed its list of sheets since they were collected. */
  get stale(): boolean {
    const now = documentsOf(this.root)
      .flatMap((doc) => [...sheetsOf([...doc.styleSheets])])
      .filter((s) => nameOf(s))
    return now.length !== this.sheets.length || now.some((s, i) => this.sheets[i].sheet !== s)
  }

  /** The documents that a rule of a sheet counts in: those that use it, and all, where none does or it is not known. */
  documentsUsing(key: string | null): Document[] {
    const docs = documentsOf(this.root)
    const own = key === null ? docs : docs.filter((doc) => this.sheets.some((s) => s.doc === doc && s.key === key))
    return own.length ? own : docs
  }

  keys(doc: Document): string[] {
    return this.sheets.flatMap((s) => (s.doc === doc && s.key !== null ? [s.key] : []))
  }

  tie(ties: Readonly<Record<string, SheetTie>>): { tied: number; dropped: number } {
    const total = { tied: 0, dropped: 0 }
    this.sheets = this.sheets.map((s) => {
      const found = ties[s.name]
      if (!found) return s
      const { key, outline, saved } = found
      if (saved !== null && s.sheet.cssRules.length !== saved) return s
      const source = unpackOutline(outline)
      const names = this.namesOf(s, key, source, saved !== null)
      if (hasNames(s.name) && !names) return s
      this.keysByName.set(s.name, key)
      const now = {
        ...s,
        key,
        index: new RuleIndex(),
        parts: new RuleIndex(),
        rules: new Map<number, TiedRule>(),
        head: headOf(outline),
        tied: true,
      }
      const n = tieInto(now, s.sheet.cssRules, names ? outlineOnPage(source, names) : source)
      total.tied += n.tied
      total.dropped += n.dropped
      return now
    })
    return total
  }

  // The page may have other names for classes each time that it gets the sheet.
  private namesOf({ name, sheet, tied }: LiveSheet, key: string, source: readonly OutlineRule[], isFromServer: boolean): PageNames | null {
    if (!hasNames(name)) return null
    const known = this.names.get(key) ?? null
    const read = isModule(name) ? ModuleNames.read : ScopedNames.read
    const isCompiled = isOfComponent(name) || isPreprocessed(fileIn(name))
    const names = isFromServer || !known || (isCompiled && !tied) ? read(sheet.cssRules, source) : known
    if (names) this.names.set(key, names)
    return names
  }

  /** A selector of a sheet's source as the page has it. */
  selector(text: string, key: string | null): string {
    return (key !== null && this.names.get(key)?.selector(text)) || text
  }

  /** Rules of a sheet's source as the page has them. */
  textOnPage(key: string, text: string): string {
    return this.names.get(key)?.rules(text) ?? text
  }

  /** Declarations of a sheet's source as the page has them. */
  declarationsOnPage(key: string, text: string): string {
    return this.names.get(key)?.declarations(text) ?? text
  }

  /** The selectors of a rule of a sheet in use in `doc`; empty when it is not there. */
  selectorsOf(doc: Document, key: string, id: number): readonly string[] {
    return this.sheets.find((s) => s.doc === doc && s.key === key)?.rules.get(id)?.selectors ?? []
  }

  /** Whether a sheet would import other sheets, or in other layers, than it did when it was tied. */
  importsAnew(key: string, outline: PackedOutline): boolean {
    const head = headOf(outline)
    return this.sheets.some((s) => s.key === key && s.tied && s.head !== head)
  }

  /** Ties the sheets of a source to what it is now; a `<style>` element may have another sheet since. */
  tieAgain(key: string, outline: PackedOutline): void {
    this.tie(Object.fromEntries([...this.keysByName].filter(([, k]) => k === key).map(([name]) => [name, { key, outline, saved: null }])))
  }

  /** Puts a run of rules in the place of another wherever the sheet is in use; false where what is there is not what the source had. */
  patch(key: string, { before, after, gone, text, outline, bodies }: ChangedRun): boolean {
    const own = this.sheets.filter((s) => s.key === key)
    const names = this.names.get(key)
    const rules = names ? outlineOnPage(unpackOutline(outline), names) : unpackOutline(outline)
    const isIn = own.every((s) => {
      const indexOf = (id: number): number => {
        const css = s.rules.get(id)?.css
        return css && !css.parentRule ? indexIn(s.sheet.cssRules, css) : -1
      }
      const [from, to] = [before === null ? 0 : indexOf(before) + 1, after === null ? s.sheet.cssRules.length : indexOf(after)]
      if (!s.tied || (before !== null && from === 0) || to < from) return false
      const fresh = new CSSStyleSheet({ baseURL: s.sheet.href ?? undefined })
      fresh.replaceSync(this.textOnPage(key, text))
      const count = fresh.cssRules.length
      matchRules(s.sheet, [...fresh.cssRules], from, to)
      for (const id of [...gone, ...idsIn(rules)]) {
        const tied = s.rules.get(id)
        if (!tied) continue
        s.rules.delete(id)
        s.index.remove(tied)
        s.parts.remove(tied)
      }
      tieInto(s, rulesIn(s.sheet.cssRules, from, from + count), rules)
      return true
    })
    if (isIn) this.setBodies(key, bodies)
    return isIn
  }

  /** Gives rules of a sheet their declarations by the source's own text. */
  setBodies(key: string, bodies: readonly RuleBody[]): void {
    for (const { id, runs } of bodies)
      for (const { rule } of this.rulesFor(key, id))
        ownStyles(rule).forEach((style, i) => (style.cssText = this.declarationsOnPage(key, runs[i] ?? '')))
  }

  /** All places where a sheet is in use. */
  uses(key: string): CSSStyleSheet[] {
    return this.sheets.filter((s) => s.key === key).map((s) => s.sheet)
  }

  /** Whether a rule of the engine's stands for one of a source. */
  isTied(rule: CSSRule): boolean {
    return this.sheets.some((s) => [...s.rules.values()].some((tied) => tied.css === rule))
  }

  /** The engine's rules for a source rule, one for each document that uses its sheet. */
  rulesFor(key: string, id: number): { sheet: CSSStyleSheet; rule: CSSRule }[] {
    return this.sheets.flatMap((s) => {
      const tied = s.key === key ? s.rules.get(id) : undefined
      return tied ? [{ sheet: s.sheet, rule: tied.css }] : []
    })
  }

  /**
   * The rules that match `element`, or its pseudo-element `part`: those whose conditions hold now, and those that wait
   * for theirs. States that are held count as states the element is in.
   */
  matching(element: Element, part: string, states: States): { met: MatchedRule[]; unmet: MatchedRule[] } {
    const met: MatchedRule[] = []
    const unmet: MatchedRule[] = []
    const view = element.ownerDocument.defaultView
    if (!view) return { met, unmet }
    const held = new Map<CSSRule, boolean>()
    const has = keysAround(element)
    for (const s of this.sheets) {
      if (s.doc !== element.ownerDocument || s.sheet.disabled || !mediaHolds(s.sheet, view)) continue
      for (const [tied, tries] of (part ? s.parts : s.index).candidates(has)) {
        const scope = tied.conditions.findLast((c) => c.constructor.name === 'CSSScopeRule')
        const proximity = scope ? scopeProximity(element, scope) : null
        if (scope && proximity === null) continue
        const selectors = tries.filter((at) => {
          const selector = part ? withoutPart(tied.selectors[at], part) : tied.selectors[at]
          return selector !== null && matches(element, states.forced(selector), scope ? scopeRoot(element, proximity!) : null)
        })
        if (selectors.length === 0) continue
        const holdsNow =
          tied.conditions.every((c) => holds(c, element, part, view, held)) &&
          (!isGroup(tied.css) || holds(tied.css, element, part, view, held))
        ;(holdsNow ? met : unmet).push({
          sheet: s.key!,
          order: s.order,
          rule: tied.id,
          selectors: selectors.sort((a, b) => a - b),
          proximity,
        })
      }
    }
    return { met, unmet }
  }

  /** Pseudo-elements of `element` that some rule is about. */
  partsFor(element: Element): Set<string> {
    const out = new Set<string>()
    const has = keysAround(element)
    for (const s of this.sheets) {
      if (s.doc !== element.ownerDocument) continue
      for (const [tied, tries] of s.parts.candidates(has)) {
        for (const at of tries) {
          const part = partOf(tied.selectors[at])
          if (part && matches(element, inAnyState(withoutPart(tied.selectors[at], part)!), null)) out.add(part)
        }
      }
    }
    return out
  }
}

function tieInto(
  { rules, index, parts }: Pick<LiveSheet, 'rules' | 'index' | 'parts'>,
  live: CSSRuleList | CSSRule[],
  source: readonly OutlineRule[],
): { tied: number; dropped: number } {
  return tieRules(live, source, (tied) => {
    rules.set(tied.id, tied)
    index.add(tied, (selector) => partOf(selector) === null)
    parts.add(tied, (selector) => partOf(selector) !== null)
  })
}

/** The rules of a source that a run takes out or puts in. */
export const idsOfRun = ({ gone, outline }: ChangedRun): Set<number> => new Set([...gone, ...idsIn(unpackOutline(outline))])

const idsIn = (rules: readonly OutlineRule[]): number[] => rules.flatMap((r) => [r.id, ...idsIn(r.children)])

const PART = /(?<!\\)(::[\w-]+(?:\([^)]*\))?|:(?:before|after|first-line|first-letter))((?::[\w-]+)*)$/

/** The pseudo-element that a selector is about, with two colons; null for an element's own. */
function partOf(selector: string): string | null {
  if (!selector.includes(':')) return null
  const m = PART.exec(selector)
  return m && `::${m[1].replace(/^:+/, '')}`
}

/** The selector of the element that a pseudo-element belongs to; null when it is about something else. */
function withoutPart(selector: string, part: string): string | null {
  const m = PART.exec(selector)
  if (!m || partOf(selector) !== part) return null
  const rest = selector.slice(0, m.index)
  return rest === '' || /[\s>+~]$/.test(rest) ? `${rest}*` : rest
}

const isGroup = (rule: CSSRule): boolean => rule.constructor.name !== 'CSSStyleRule'

function matches(element: Element, selector: string, scope: Element | null): boolean {
  try {
    if (scope && /:scope/.test(selector))
      return selector.trim() === ':scope' ? element === scope : [...scope.querySelectorAll(selector)].includes(element)
    return element.matches(selector)
  } catch {
    return false
  }
}
