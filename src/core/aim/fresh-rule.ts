import { declarationsOf, escapeName, isRule, oneOfNames, resolvedSelectors, sets, StatementMemo, textOf } from '../css'
import type { LayerOrder } from '../cascade'
import { isLandmark, isRow } from '../html'
import { classesOf } from '../language'
import { isHelperClass, isLibrary, isScopedSheet, isVendored, likeReached, type SheetRef } from '../project'
import { vocabulariesOf } from '../utility'
import type { ElementCascade } from './element-cascade'
import type { ElementEvidence } from './evidence'
import { lastCompound, type Matching } from './matching'

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
  return {
    ref,
    after,
    rule: site.rule.id,
    order: after.evidence.order,
    layer: layers.orderOf(after.site.rule),
    end: site.statement.start + site.rule.span.to,
  }
}

const later = (a: Matching, b: Matching): number =>
  b.evidence.order - a.evidence.order || b.site.statement.start - a.site.statement.start || b.site.rule.span.to - a.site.rule.span.to

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

  /** Selectors that an author would write for the element, the first of them first: of its classes, its place, or its id. */
  get selectors(): readonly string[] {
    return (this.knownSelectors ??= [...new Set(this.nameIt())])
  }

  /** The first of them with more of what the element stands in, for where they are too weak. */
  get stronger(): readonly string[] {
    const around = this.anchors.filter((a) => !this.selector.startsWith(`${a} `))
    return (this.knownStronger ??= around.slice(0, 3).map(
      (_, n) =>
        `${around
          .slice(0, n + 1)
          .toReversed()
          .join(' ')} ${this.selector}`,
    ))
  }

  private knownStronger: readonly string[] | undefined

  get selector(): string {
    return this.selectors[0]
  }

  /** Those of the selectors that no rule has which matches at every size, but for a library's. */
  get free(): readonly string[] {
    return (this.knownFree ??= this.selectors.filter(
      (s) =>
        !this.c
          .level(0)
          .matching.some((m) => m.selectors.join(', ') === s && !this.c.isNarrowed(m) && !(this.isAuthored && isLibrary(m.ref))),
    ))
  }

  private readonly reached = new Map<string, ReturnType<typeof likeReached>>()

  // What a selector that ends in the element's tag reaches.
  private reachOf(selector: string): ReturnType<typeof likeReached> {
    const { project, kind } = this.c
    let known = this.reached.get(selector)
    if (known === undefined)
      this.reached.set(selector, (known = likeReached(project, selector, { ...kind, classes: this.namesOf(kind.classes) })))
    return known
  }

  /** Whether a rule with this selector, which sets these longhands, would be about the element and its like, and leave what others of them say of themselves. */
  isForItsLike(selector: string, longhands: readonly string[]): boolean {
    if ((!this.selectors.includes(selector) && !this.stronger.includes(selector)) || !this.isWritable) return false
    if (/[.#][^\s]+$/.test(selector)) return true
    const reach = this.reachOf(selector)
    return (
      reach !== null && reach.onlyKin && !reach.classes.some((name) => this.setByClass(name).some((n) => longhands.some((l) => sets(n, l))))
    )
  }

  /** Tells apart the properties that a rule for the element's like could set from those that others of them set by their class. */
  forWhich(longhands: readonly string[]): string {
    return [...this.selectors, ...this.stronger].map((s) => Number(this.isForItsLike(s, longhands))).join('')
  }

  private readonly byClass = new Map<string, readonly string[]>()

  // What rules about a class declare.
  private setByClass(name: string): readonly string[] {
    let known = this.byClass.get(name)
    if (!known) {
      const own = oneOfNames([`.${escapeName(name)}`])!
      const about = this.c.evidence.sheets.flatMap((key) =>
        [...(this.c.project.sheet(key)?.sheet.rules() ?? [])].filter(
          (site) => site.rule.kind === 'style' && resolvedSelectors(site).some((s) => own.test(lastCompound(s))),
        ),
      )
      this.byClass.set(name, (known = about.flatMap((site) => declarationsOf(site.rule).map((d) => d.name))))
    }
    return known
  }

  /** Whether the page has a sheet that is not a library's. */
  get isAuthored(): boolean {
    return this.home !== null && !isLibrary(this.home.ref)
  }

  /** Whether an author would write where a new rule would stand: a minified sheet of the project's own where there is no other. */
  get isWritable(): boolean {
    return this.home !== null && !isVendored(this.home.ref)
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
      const isAbout = (m: Matching) =>
        m.selectors.some((s) => own.test(lastCompound(s))) &&
        m.site.rule.closed &&
        m.source !== null &&
        m.site.parents.every((p) => p.kind === 'at' && p.name === 'layer')
      const found = this.c
        .level(first + i)
        .matching.filter(isAbout)
        .toSorted(later)[0]
      return found ? [homeAfter(found, this.c.layers)] : []
    })
    const matching = this.c
      .level(0)
      .matching.filter((m) => m.site.parents.length === 0 && m.site.rule.closed && m.source)
      .toSorted(later)
    const sheets = evidence.sheets.flatMap((key, order): Home[] => {
      const served = project.sheet(key)
      if (!served) return []
      // At the end of what a compiled sheet is made from is at the end of it.
      const ref = served.generated === null ? served : project.generatedSheets().find((g) => g.ref.key === key)?.sources[0]
      return ref && project.isEditable(ref)
        ? [{ ref, after: null, rule: null, order, layer: this.layerAtEnd(served), end: ref.sheet.length }]
        : []
    })
    const files = matching.filter((m) => !(m.source ?? m).ref.key.startsWith('#'))
    const all = [...related, ...(files.length ? files : matching).slice(0, 1).map((m) => homeAfter(m, this.c.layers)), ...sheets.slice(-1)]
    // Of several sheets, the author's own last.
    // A `style` element takes rules of what stands there already; a new one goes to a file.
    const isOwn = ({ path }: SheetRef) => path === evidence.madeIn
    const isOpen = (ref: SheetRef) => !isScopedSheet(ref) || isOwn(ref)
    const open = sheets.filter((h) => isOpen(h.ref))
    const own =
      open.findLast((h) => isOwn(h.ref)) ??
      open.findLast((h) => !isLibrary(h.ref) && !h.ref.key.startsWith('#')) ??
      open.findLast((h) => !isLibrary(h.ref)) ??
      open.findLast((h) => !isVendored(h.ref))
    // In a module a class of another file would have another name.
    const homes = [...all, ...(own ? [own] : [])].filter((h) => project.isEditable(h.ref) && isOpen(h.ref))
    // Where every sheet is made smaller for serving, the project's own still goes before a package's.
    const distance = ({ ref }: Home) => Number(isLibrary(ref)) + Number(isVendored(ref))
    return homes.toSorted((x, y) => distance(x) - distance(y))
  }

  /** Where a rule could stand in a sheet of the page: behind the last rule at its top level that matches the element, else at its end. */
  homesIn(ref: SheetRef): readonly Home[] {
    const order = this.c.evidence.sheets.indexOf(ref.key)
    if (order < 0) return []
    const [found] = this.c
      .level(0)
      .matching.filter((m) => m.ref.key === ref.key && m.site.parents.length === 0 && m.site.rule.closed && m.source)
      .toSorted(later)
    const end: Home = { ref, after: null, rule: null, order, layer: this.layerAtEnd(ref), end: ref.sheet.length }
    return found ? [homeAfter(found, this.c.layers), end] : [end]
  }

  /** A name for a class of the element's own in a style module: after the class that it has there, else what it is; as the module spells its names. */
  memberName(ref: SheetRef): string {
    const there = new Set([...ref.sheet.text.matchAll(/\.((?:[\w-]|[^\x00-\x7f])+)/g)].map(([, name]) => name))
    const own = this.c
      .level(0)
      .matching.filter((m) => m.ref.key === ref.key)
      .flatMap((m) => m.selectors.flatMap((s) => /^\.([\w-]+)$/.exec(s)?.[1] ?? []))[0]
    const { tag } = this.c.evidence.info
    const stem = own ? `${own}-alt` : (PARTS[tag] ?? tag)
    const isDashed = [...there].some((name) => /[a-z]-[a-z]/.test(name))
    const spelled = (name: string) => (isDashed ? name : name.replace(/-+(\w)/g, (_, c: string) => c.toUpperCase()))
    let name = spelled(stem)
    for (let n = 2; there.has(name); n++) name = spelled(`${stem}-${n}`)
    return name
  }

  /** For a rule without a condition: before those of its own that hold at times, which are to go on winning then. */
  get beforeConditions(): readonly Home[] {
    return (this.knownBefore ??= this.findBefore())
  }

  private findBefore(): Home[] {
    const first = this.c.unmet
      .filter((m) => m.isOwn && m.source !== null && !isLibrary(m.source.ref) && m.site.parents.length > 0)
      .toSorted(later)
      .at(-1)
    if (!first) return []
    const { ref, site } = first.source!
    const { statements } = ref.sheet
    const at = statements.indexOf(site.statement)
    const before = [
      ...(statements[at - 1]?.items ?? []),
      ...site.statement.items.slice(0, site.statement.items.indexOf(site.parents[0])),
    ].findLast(isRule)
    if (before?.kind !== 'style' || !before.closed) return []
    const { statement } = ref.sheet.site(before.id)
    return [
      {
        ref,
        after: null,
        rule: before.id,
        order: first.evidence.order,
        layer: this.c.layers.orderOf(before),
        end: statement.start + before.span.to,
      },
    ]
  }

  // A sheet can be in a layer as a whole, where it is imported so.
  private layerAtEnd({ sheet }: SheetRef): number {
    const last = sheet.statements.findLast((s) => s.items.some((i) => i.kind === 'style'))?.items.findLast((i) => i.kind === 'style')
    return last ? this.c.layers.orderOf(last) : this.c.layers.unlayered
  }

  // A class of a vocabulary, that says one thing alone, or that a script is to find, is no name of what the element is.
  private namesOf(classes: readonly string[]): string[] {
    return classes.filter(
      (c) => !/^js-/i.test(c) && !isHelperClass(this.c.project, c) && !vocabulariesOf(this.c.project).some((v) => v.read(c)),
    )
  }

  private nameIt(): string[] {
    const { info, unique } = this.c.evidence
    const classes = this.namesOf(info.classes)
    const joined = (names: readonly string[]) =>
      names
        .slice(0, 3)
        .map((c) => `.${escapeName(c)}`)
        .join('')
    if (classes.length) {
      // `card--wide` says `card` already.
      const told = classes.filter((c) => !classes.some((other) => other.startsWith(c) && /^[-_]/.test(other.slice(c.length))))
      return [joined(told), joined(classes)]
    }
    const id = info.id ? [`#${escapeName(info.id)}`] : []
    const inPlace = this.inPlace
    const isNamed = id.length > 0 && this.c.evidence.sheets.some((key) => this.c.project.sheet(key)?.sheet.text.includes(id[0]))
    const all = isNamed ? [...id, ...inPlace] : [...inPlace, ...id]
    // Where nothing around it has a name, its place is all there is to tell it by.
    return all.length ? all : [unique]
  }

  /** What an element without a name is called by its place: its tag alone where a page has one, else under the nearest that has a name. */
  private get inPlace(): string[] {
    const { info, ancestors } = this.c.evidence
    const { tag } = info
    if (tag.includes('-') && !/^[a-z][\w-]*$/.test(tag)) return []
    const [anchor] = this.anchors
    const parent = ancestors[1]
    const alone =
      ONLY_ONE.has(tag) &&
      this.c.project
        .pages()
        .every(
          (page) =>
            this.c.project.readOnly(page) !== null ||
            this.c.project.tree(page).elements.filter((e) => e.tag === tag && e.startTag).length <= 1,
        )
    if (alone) return [tag]
    if (!anchor) return [tag]
    const isChild = parent !== undefined && nameOf(parent, this.namesOf(parent.classes)) === anchor
    const nearer = isChild
      ? [`${anchor} > ${tag}`]
      : parent && !this.namesOf(parent.classes).length
        ? [`${anchor} ${parent.tag} ${tag}`, `${anchor} ${parent.tag} > ${tag}`]
        : []
    const plain = [`${anchor} ${tag}`, ...nearer]
    const reachesLike = (s: string) => this.reachOf(s)?.onlyKin ?? false
    return [...plain.filter(reachesLike), ...plain.filter((s) => !reachesLike(s))]
  }

  /** Names of what the element stands in, the nearest first: a class, else the tag of a landmark, else an id. A row's only where all its siblings have it. */
  private get anchors(): readonly string[] {
    const { ancestors } = this.c.evidence
    return (this.knownAnchors ??= ancestors.slice(1).flatMap((a) => {
      const classes = this.namesOf(a.classes)
      const name = nameOf(a, isRow(a.tag) ? classes.filter((c) => this.isOnAllRows(a, c)) : classes)
      return name ? [name] : []
    }))
  }

  private knownAnchors: readonly string[] | undefined

  private isOnAllRows({ source, tag }: ElementEvidence, name: string): boolean {
    const found = source ? this.c.project.element(source) : null
    return (
      found !== null &&
      found.tree.elements.every((e) => e.parent !== found.element.parent || e.tag !== tag || !e.startTag || classesOf(e).includes(name))
    )
  }

  // As the project makes names: with the block and its part where it does so.
  private nameClass(): string {
    const { info, ancestors } = this.c.evidence
    const own = this.namesOf(info.classes)[0]
    const above = ancestors.slice(1).flatMap((a) => this.namesOf(a.classes))[0]
    const part = PARTS[info.tag] ?? info.tag
    const between = this.c.project.allSheets().some((ref) => NAMES_PARTS.of(ref.sheet).list.length > 0) ? '__' : '-'
    const stem = own ? `${own}-alt` : above ? `${above.replace(/(__|--).*$/, '')}${between}${part}` : `page-${part}`
    let name = stem
    for (let n = 2; this.c.project.mentions(name); n++) name = `${stem}-${n}`
    return name
  }
}

// Selectors that name a part of a block by `block__part`.
const NAMES_PARTS = new StatementMemo(
  (rules) => [...rules].some((s) => s.rule.kind === 'style' && /\.[\w-]+[a-z\d]__[a-z]/.test(textOf(s, s.rule.prelude))) || null,
  () => null,
  () => {},
)

/** Elements that a page has one of, and is named by its tag where it does (HTML §4.1, §4.3, §4.4.14). */
const ONLY_ONE: ReadonlySet<string> = new Set(['html', 'body', 'main', 'h1'])

/** What authors call elements in class names. */
const PARTS: Readonly<Record<string, string>> = {
  h1: 'title',
  h2: 'title',
  h3: 'title',
  h4: 'title',
  h5: 'title',
  h6: 'title',
  p: 'text',
  a: 'link',
  img: 'image',
  picture: 'image',
  ul: 'list',
  ol: 'list',
  li: 'item',
  td: 'cell',
  th: 'head',
  tr: 'row',
  span: 'text',
  div: 'box',
  input: 'field',
  textarea: 'field',
}

const nameOf = (e: ElementEvidence, classes: readonly string[]): string | null =>
  classes.length ? `.${escapeName(classes[0])}` : isLandmark(e.tag) ? e.tag : e.id ? `#${escapeName(e.id)}` : null
