import { declarationsOf, escapeName, refuse, textOf, type Refused, type Wanted } from '../css'
import { escapeAttribute } from '../html'
import { attribute, classesOf, type ElementTree, type SourceElement } from '../language'
import type { Project, SheetRef } from '../project'
import type { Intent } from './intent'
import { editableElement, editableSheet, ruleOf } from './target'

/** What a region is, by the element that stands for it (HTML §4.3). */
export const REGION_TAGS = ['header', 'nav', 'main', 'aside', 'footer', 'section', 'div'] as const

export type RegionTag = (typeof REGION_TAGS)[number]

/** A rectangle of cells; 1-based grid lines, the end one past its last cell (CSS Grid 2 §8.3). */
export interface Cells {
  readonly column: number
  readonly columnEnd: number
  readonly row: number
  readonly rowEnd: number
}

/** A region as it was drawn. */
export interface Region extends Cells {
  /** What it is called, of which its area's name is made. */
  readonly name: string
  readonly tag: RegionTag
  /** An element that the container has already; null for a new one. */
  readonly source: string | null
}

/** A layout drawn over a container. */
export interface BlockOut {
  readonly container: string
  /** The class that its rule is for; added to the container where it is not there. */
  readonly className: string
  readonly sheet: string
  /** Sizes of the columns, as `grid-template-columns` takes them. */
  readonly columns: readonly string[]
  readonly rows: number
  readonly gap: string
  /** The least height of a row; `''` for none. */
  readonly leastRow: string
  readonly regions: readonly Region[]
  /** The media condition under which the regions stand below each other; `''` for none. */
  readonly narrow: string
}

const RESERVED = /^(auto|span|none|inherit|initial|unset|revert|revert-layer|default)$/

/** A name as a custom identifier that can name an area (CSS Grid 2 §7.3). */
export function areaName(name: string): string {
  const slug = name
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
  const whole = /^\d/.test(slug) ? `area-${slug}` : slug
  return RESERVED.test(whole) ? `${whole}-area` : whole
}

export const overlap = (a: Cells, b: Cells): boolean =>
  a.column < b.columnEnd && b.column < a.columnEnd && a.row < b.rowEnd && b.row < a.rowEnd

/** The regions in the order they are read: by row, then by column. */
export const inReadingOrder = (regions: readonly Region[]): Region[] => [...regions].sort((a, b) => a.row - b.row || a.column - b.column)

/** The regions as a narrow page has them, a row each in reading order. */
export const oneBelowAnother = (regions: readonly Region[]): Region[] =>
  inReadingOrder(regions).map((r, i) => ({ ...r, column: 1, columnEnd: 2, row: i + 1, rowEnd: i + 2 }))

/** The strings of `grid-template-areas`, a row each; `.` for a cell without a region. */
export function areaRows(regions: readonly Region[], columns: number, rows: number): string[] {
  return Array.from({ length: rows }, (_, r) =>
    Array.from({ length: columns }, (_, c) => {
      const found = regions.find((x) => x.column <= c + 1 && c + 1 < x.columnEnd && x.row <= r + 1 && r + 1 < x.rowEnd)
      return found ? areaName(found.name) : '.'
    }).join(' '),
  )
}

/** Why a drawing cannot be written, in words; null when it can. */
export function whyNotDrawn({ regions, columns, rows, className }: BlockOut): string | null {
  if (regions.length === 0) return 'No region is drawn.'
  if (!/^-?[_a-zA-Z\u0080-\uffff][\w\u0080-\uffff-]*$/.test(className)) return `“${className}” cannot be the name of a class.`
  const names = regions.map((r) => areaName(r.name))
  const empty = names.indexOf('')
  if (empty >= 0) return `Region ${empty + 1} has no name.`
  const twice = names.find((n, i) => names.indexOf(n) !== i)
  if (twice) return `Two regions are called ${twice}.`
  for (const [i, r] of regions.entries()) {
    if (
      r.column < 1 ||
      r.row < 1 ||
      r.columnEnd <= r.column ||
      r.rowEnd <= r.row ||
      r.columnEnd > columns.length + 1 ||
      r.rowEnd > rows + 1
    )
      return `${r.name} is not within the lines.`
    const other = regions.slice(i + 1).find((o) => overlap(r, o))
    if (other) return `${r.name} and ${other.name} share cells.`
    if (r.source !== null && regions.some((o) => o !== r && o.source === r.source))
      return `${r.name} and another region are the same element.`
  }
  if (regions.filter((r) => r.tag === 'main' && r.source === null).length > 1) return 'A page has one main (HTML §4.4.14).'
  return null
}

/** The class that a layout of the container is best called by: one that it alone has on its page, else a new one. */
export function classForLayout(project: Project, container: string): string {
  const found = project.element(container)
  if (!found) return 'layout'
  const all = found.tree.elements.filter((e) => e.startTag)
  const count = (name: string) => all.filter((e) => classesOf(e).includes(name)).length
  const own = classesOf(found.element).find((c) => count(c) === 1)
  if (own) return own
  for (let n = 1; ; n++) if (count(n === 1 ? 'layout' : `layout-${n}`) === 0) return n === 1 ? 'layout' : `layout-${n}`
}

/** A drawing as one edit: the elements, the container's rule with its areas, a rule for each region, and the narrow version. */
export function blockOutIntent(project: Project, drawn: BlockOut): Intent | Refused {
  const why = whyNotDrawn(drawn)
  if (why) return refuse('bad-value', why)
  const ref = editableSheet(project, drawn.sheet)
  if ('ok' in ref) return ref
  const container = editableElement(project, drawn.container)
  if (!container.ok) return container
  const { tree, element } = container
  if (drawn.regions.some((r) => r.tag === 'main' && r.source === null) && tree.elements.some((e) => e.tag === 'main'))
    return refuse('not-allowed', 'The page has a main already (HTML §4.4.14).')
  const regions = inReadingOrder(drawn.regions)
  const css: Intent[] = []
  const put = (selector: string, declarations: readonly Wanted[], under = '') =>
    css.push(...ruleIntents(ref, selector, declarations, under))
  const layout = `.${escapeName(drawn.className)}`
  const rows = areaRows(regions, drawn.columns.length, drawn.rows)
  put(layout, [
    { name: 'display', value: 'grid' },
    { name: 'grid-template-columns', value: tracks(drawn.columns) },
    ...(drawn.leastRow.trim() ? [{ name: 'grid-auto-rows', value: `minmax(${drawn.leastRow.trim()}, auto)` }] : []),
    { name: 'grid-template-areas', value: areasValue(ref, layout, rows) },
    ...(drawn.gap.trim() ? [{ name: 'gap', value: drawn.gap.trim() }] : []),
  ])
  const html: Intent[] = []
  if (!classesOf(element).includes(drawn.className)) html.push(classIntent(drawn.container, element, drawn.className))
  const selectors = new Map<Region, string>()
  for (const r of regions) {
    const { selector, className } = selectorIn(tree, element, r, regions)
    selectors.set(r, `${layout} > ${selector}`)
    const own = r.source === null ? null : project.element(r.source)
    if (own && className && !classesOf(own.element).includes(className)) html.push(classIntent(r.source!, own.element, className))
  }
  html.push(...newElements(tree, drawn.container, regions, selectors))
  for (const r of regions) put(selectors.get(r)!, [{ name: 'grid-area', value: areaName(r.name) }])
  if (drawn.narrow) {
    put(
      layout,
      [
        { name: 'grid-template-columns', value: 'minmax(0, 1fr)' },
        {
          name: 'grid-template-areas',
          value: areasValue(ref, layout, areaRows(oneBelowAnother(regions), 1, regions.length), drawn.narrow),
        },
      ],
      drawn.narrow,
    )
  }
  return {
    kind: 'together',
    intents: [...css, ...html],
    label: layout,
    told: { name: 'layout', after: regions.map((r) => areaName(r.name)).join(', ') },
  }
}

// `1fr 1fr 1fr` is said as a repetition, as it would be typed.
const tracks = (sizes: readonly string[]): string =>
  sizes.length > 2 && sizes.every((s) => s === sizes[0]) ? `repeat(${sizes.length}, ${sizes[0]})` : sizes.join(' ')

// A row a line, as it is drawn; on one line in a rule that stands on one.
function areasValue(ref: SheetRef, layout: string, rows: readonly string[], under = ''): string {
  const { style } = ref
  const quoted = rows.map((r) => `${style.quote}${r}${style.quote}`)
  if (style.minified) return quoted.join('')
  const rule = under ? null : ruleOf(ref, layout)
  const site = rule === null ? null : ref.sheet.site(rule)
  if (rows.length === 1 || (site && !/[\r\n]/.test(textOf(site, site.rule.span)))) return quoted.join(' ')
  const indent = style.indent.repeat(under ? 3 : 2)
  return quoted.map((q) => style.lineEnd + indent + q).join('')
}

function classIntent(source: string, element: SourceElement, className: string): Intent {
  const now = attribute(element, 'class')
  return { kind: 'set-attribute', source, name: 'class', value: now?.trim() ? `${now.trim()} ${className}` : className }
}

// By its tag where no other child of the container has it, else by a class.
function selectorIn(
  tree: ElementTree,
  container: SourceElement,
  region: Region,
  all: readonly Region[],
): { selector: string; className: string } {
  const others = tree.elements.filter((e) => e.parent === container && (region.source === null || !region.source.endsWith(`.${e.id}`)))
  const own = region.source === null ? null : tree.elements.find((e) => region.source!.endsWith(`.${e.id}`))
  const tag = own?.tag ?? region.tag
  const isAlone =
    !/^(div|section)$/.test(tag) &&
    !others.some((e) => e.tag === tag) &&
    all.filter((r) => r.source === null && r.tag === tag).length <= (own ? 0 : 1)
  if (isAlone) return { selector: tag, className: '' }
  const taken = (name: string) => others.some((e) => classesOf(e).includes(name))
  const mine = own && classesOf(own).find((c) => !taken(c))
  const className = mine ?? areaName(region.name)
  return { selector: `.${escapeName(className)}`, className }
}

// New elements stand in reading order, between those that are there already.
function newElements(tree: ElementTree, container: string, regions: readonly Region[], selectors: ReadonlyMap<Region, string>): Intent[] {
  const navs = tree.elements.filter((e) => e.tag === 'nav').length + regions.filter((r) => r.tag === 'nav' && r.source === null).length
  const htmlFor = (r: Region): string => {
    const className = /> \.(.*)$/.exec(selectors.get(r)!)?.[1]
    // Landmarks of one kind are distinguished by a name (WAI-ARIA 1.2 §5.3.4).
    const label = r.tag === 'nav' && navs > 1 ? ` aria-label="${escapeAttribute(r.name.trim(), '"')}"` : ''
    return `<${r.tag}${className ? ` class="${escapeAttribute(className.replaceAll('\\', ''), '"')}"` : ''}${label}></${r.tag}>`
  }
  const out: Intent[] = []
  let after: string | null = null
  let run: Region[] = []
  const flush = (before: string | null) => {
    if (run.length === 0) return
    const place =
      after !== null
        ? { source: after, where: 'after' as const }
        : before !== null
          ? { source: before, where: 'before' as const }
          : { source: container, where: 'last' as const }
    out.push({ kind: 'insert-html', place, html: run.map(htmlFor).join('\n'), what: run.map((r) => r.name).join(', ') })
    run = []
  }
  for (const r of regions) {
    if (r.source === null) run.push(r)
    else {
      flush(r.source)
      after = r.source
    }
  }
  flush(null)
  return out
}

// What is declared goes into the rule that the sheet has, else into one that comes last.
function ruleIntents(ref: SheetRef, selector: string, declarations: readonly Wanted[], under: string): Intent[] {
  const rule = under ? null : ruleOf(ref, selector)
  if (rule === null) return [{ kind: 'add-rule', sheet: ref.key, selector, declarations, under }]
  const declared = declarationsOf(ref.sheet.site(rule).rule).map((d) => d.name)
  return declarations.map(({ name, value }): Intent => ({
    kind: 'set',
    aim: { kind: 'rule', sheet: ref.key, rule },
    name,
    value: declared.includes(name) ? value.trim() : value,
  }))
}
