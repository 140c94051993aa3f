import { escapeName, isRule, oneOfNames } from '../css'
import type { LayerOrder } from '../cascade'
import { isLibrary, type SheetRef } from '../project'
import { vocabulariesOf } from '../utility'
import { lastCompound, type ElementCascade, type Matching } from './element-cascade'

/** Where a rule that is not there yet would stand: in a sheet of the source, after a rule that matches or at the end. */
export interface Home {
  readonly ref: SheetRef
  /** What matches, as the page has it. */
  readonly after: Matching | null
  /** The same in `ref`. */
  readonly rule: number | null
  /** The place of the sheet among those of the page. */
  readonly order: number
  /** The order of the layer that it is in. */
  readonly layer: number
  /** Offset in `ref`. */
  readonly end: number
}

export function homeAfter(after: Matching, layers: LayerOrder): Home {
  const { ref, site } = after.source ?? after
  return { ref, after, rule: site.rule.id, order: after.evidence.order, layer: layers.orderOf(after.site.rule), end: site.statement.start + site.rule.span.to }
}

const later = (a: Matching, b: Matching): number => b.evidence.order - a.evidence.order || b.site.statement.start - a.site.statement.start || b.site.rule.span.to - a.site.rule.span.to

/** What a rule of the element's own that is not there yet would be called and where it would stand: the same for every property. */
export class FreshRule {
  private knownHomes: readonly Home[] | undefined
  private knownBefore: readonly Home[] | undefined
  private knownSelectors: readonly string[] | undefined
  private knownFree: readonly string[] | undefined
  private knownClass: string | undefined

  constructor(private readonly c: ElementCascade) {}

  /**
   * Where it could stand, the best first: behind the last rule about a class of its own, or of what it stands in, the
   * nearest first; behind the last rule at the top level that matches it; at the end of a sheet. Sheets of libraries last.
   */
  get homes(): readonly Home[] {
    return (this.knownHomes ??= this.findHomes())
  }

  get home(): Home | null {
    return this.homes[0] ?? null
  }

  /** Selectors that an author would write for the element, the shortest first: of its classes, its id, or its tag under a class. */
  get selectors(): readonly string[] {
    return (this.knownSelectors ??= this.nameIt())
  }

  get selector(): string {
    return this.selectors[0]
  }

  /** Those of the selectors that no rule which matches has, but for a library's. */
  get free(): readonly string[] {
    return (this.knownFree ??= this.selectors.filter((s) => !this.c.level(0).matching.some((m) => m.selectors.join(', ') === s && !(this.isAuthored && isLibrary(m.ref)))))
  }

  /** Whether the page has a sheet that is not a library's. */
  get isAuthored(): boolean {
    return this.home !== null && !isLibrary(this.home.ref)
  }

  /** Whether its selector is of classes of its own alone, in a sheet that is the author's. */
  get isOfItsClasses(): boolean {
    return /^\.[^\s]+$/.test(this.selector) && this.isAuthored
  }

  /** A class name that the project does not have yet, as an author would make it: after the element's own class or the block around it. */
  get className(): string {
    return (this.knownClass ??= this.nameClass())
  }

  private findHomes(): Home[] {
    const { evidence, project } = this.c
    // A pseudo-element comes before its element.
    const first = evidence.condition.part ? 1 : 0
    const related = evidence.ancestors.flatMap((e, i): Home[] => {
      const own = oneOfNames(this.namesOf(e.classes).map((name) => `.${escapeName(name)}`))
      if (!own) return []
      const isAbout = (m: Matching) => m.selectors.some((s) => own.test(lastCompound(s))) && m.site.rule.closed && m.source !== null && m.site.parents.every((p) => p.kind === 'at' && p.name === 'layer')
      const found = this.c.level(first + i).matching.filter(isAbout).toSorted(later)[0]
      return found ? [homeAfter(found, this.c.layers)] : []
    })
    const matching = this.c.level(0).matching.filter((m) => m.site.parents.length === 0 && m.site.rule.closed && m.source).toSorted(later)
    const sheets = evidence.sheets.flatMap((key, order): Home[] => {
      const served = project.sheet(key)
      if (!served) return []
      // At the end of what a compiled sheet is made from is at the end of it.
      const ref = served.generated === null ? served : project.generatedSheets().find((g) => g.ref.key === key)?.sources[0]
      return ref && project.isEditable(ref) ? [{ ref, after: null, rule: null, order, layer: this.layerAtEnd(served), end: ref.sheet.length }] : []
    })
    const all = [...related, ...matching.slice(0, 1).map((m) => homeAfter(m, this.c.layers)), ...sheets.slice(-1)]
    // Of several sheets, the author's own last.
    const own = sheets.findLast((h) => !isLibrary(h.ref))
    const homes = [...all, ...(own ? [own] : [])].filter((h) => project.isEditable(h.ref))
    return homes.toSorted((x, y) => Number(isLibrary(x.ref)) - Number(isLibrary(y.ref)))
  }

  /** For a rule without a condition: before those of its own that hold at times, which are to go on winning then. */
  get beforeConditions(): readonly Home[] {
    return (this.knownBefore ??= this.findBefore())
  }

  private findBefore(): Home[] {
    const first = this.c.unmet.filter((m) => m.isOwn && m.source !== null && !isLibrary(m.source.ref) && m.site.parents.length > 0).toSorted(later).at(-1)
    if (!first) return []
    const { ref, site } = first.source!
    const { statements } = ref.sheet
    const at = statements.indexOf(site.statement)
    const before = [...(statements[at - 1]?.items ?? []), ...site.statement.items.slice(0, site.statement.items.indexOf(site.parents[0]))].findLast(isRule)
    if (before?.kind !== 'style' || !before.closed) return []
    const { statement } = ref.sheet.site(before.id)
    return [{ ref, after: null, rule: before.id, order: first.evidence.order, layer: this.c.layers.orderOf(before), end: statement.start + before.span.to }]
  }

  // A sheet can be in a layer as a whole, where it is imported so.
  private layerAtEnd({ sheet }: SheetRef): number {
    const last = sheet.statements.findLast((s) => s.items.some((i) => i.kind === 'style'))?.items.findLast((i) => i.kind === 'style')
    return last ? this.c.layers.orderOf(last) : this.c.layers.unlayered
  }

  // A class of a vocabulary, or that a script is to find, is no name of what the element is.
  private namesOf(classes: readonly string[]): string[] {
    return classes.filter((c) => !/^js-/i.test(c) && !vocabulariesOf(this.c.project).some((v) => v.read(c)))
  }

  private nameIt(): string[] {
    const { info, ancestors, unique } = this.c.evidence
    const classes = this.namesOf(info.classes)
    const joined = (names: readonly string[]) => names.slice(0, 3).map((c) => `.${escapeName(c)}`).join('')
    if (classes.length) {
      // `card--wide` says `card` already.
      const told = classes.filter((c) => !classes.some((other) => other.startsWith(c) && /^[-_]/.test(other.slice(c.length))))
      return [...new Set([joined(told), joined(classes)])]
    }
    if (info.id) return [`#${escapeName(info.id)}`]
    const above = ancestors.slice(1).find((a) => a.id || this.namesOf(a.classes).length > 0)
    // Where nothing around it has a name, its place is all there is to tell it by.
    if (!above) return [unique]
    const [name] = this.namesOf(above.classes)
    return [`${name ? `.${escapeName(name)}` : `#${escapeName(above.id)}`} ${info.tag}`]
  }

  private nameClass(): string {
    const { info, ancestors } = this.c.evidence
    const above = ancestors.slice(1).find((a) => a.classes.length)?.classes[0]
    const stem = info.classes[0] ? `${info.classes[0]}-alt` : above ? `${above}-${info.tag}` : `own-${info.tag}`
    let name = stem
    for (let n = 2; this.c.project.mentions(name); n++) name = `${stem}-${n}`
    return name
  }
}
