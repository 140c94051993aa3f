import { declarationsOf, resolvedSelectors, subjectKey, textOf, type RuleSite } from '../css'
import { attribute, classesOf, languageNameOf, type SourceElement } from '../language'
import { pagesWithSheet } from './page-sheets'
import type { Project } from './project'
import { isStandard, isWithout, namesAsked, staticSelector } from './reach'
import { isLibrary, type SheetRef } from './sheet-ref'
import { inSlices } from './slices'

/** A rule that nothing in the sources of the project matches. */
export interface UnusedRule {
  readonly sheet: string
  readonly rule: number
  readonly path: string
  /** 1-based. */
  readonly line: number
  readonly selector: string
  /** Of its text; UTF-16 units. */
  readonly size: number
  /** A name of its selector that a script, or another file, says, or makes up the beginning of; null where none does. */
  readonly named: string | null
}

/** How much of a sheet is used. */
export interface SheetUse {
  readonly sheet: string
  readonly path: string
  /** Of all its style rules, and of those that nothing matches; UTF-16 units. */
  readonly size: number
  readonly unused: number
  /** Whether it came with what the project uses: nothing is taken out of it. */
  readonly isLibrary: boolean
}

export interface Unused {
  readonly sheets: readonly SheetUse[]
  /** Of the project's own sheets, in their order. */
  readonly rules: readonly UnusedRule[]
  /** Whether there are scripts, which may make what no source says. */
  readonly hasScripts: boolean
}

/** Whether things are open is nobody's source: people open them. */
const OPEN = /\[open\]/gi

/** A selector without its strings. */
const bare = (selector: string): string => selector.replace(/"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'/g, '')

/** Names of classes, ids, attributes and states that a selector asks for, but for those of functions such as `:not()`. */
const namesIn = (selector: string): string[] =>
  [...bare(selector).matchAll(/[.#[:]\s*((?:[\w-]|\\.|[^\x00-\x7f])+)(\()?/g)].flatMap(([, name, isFunction]) =>
    isFunction ? [] : [name.replace(/\\(.)/g, '$1')],
  )

/** Names of elements that a selector asks for. */
const tagsIn = (selector: string): string[] =>
  [...bare(selector).matchAll(/(?<![\w.#:[\\=-])[a-z][\w-]*/gi)].map(([name]) => name.toLowerCase())

/** The texts that may make elements, classes and states while a page runs. */
function scriptsOf(project: Project): string[] {
  const files = project.textPaths().filter((p) => !/\.(md|txt|svg|scss|sass|less|styl)$/i.test(p))
  const inPages = project.pages().flatMap((page) => [...project.text(page).matchAll(/<script\b[^>]*>([^]*?)<\/script/gi)].map((m) => m[1]))
  return [...files.map((p) => project.text(p)), ...inPages.filter((t) => t.trim() !== '')]
}

/** The names that scripts say, and those that they make: read once, since scripts can be large and names many. */
class Said {
  private readonly words = new Set<string>()
  private readonly begun = new Set<string>()
  private readonly tags = new Set<string>()

  constructor(scripts: readonly string[]) {
    for (const text of scripts) {
      for (const [word] of text.matchAll(/[\w-]+/g)) this.words.add(word)
      // `'is-' + state` and `is-${state}` make names that begin so.
      for (const [, stem] of text.matchAll(/([\w-]+[-_])(?=['"`]|\$\{)/g)) this.begun.add(stem)
      // `<select>` in a text that becomes elements, and `createElement('select')`.
      for (const [, tag, name] of text.matchAll(/<([a-z][\w-]*)|['"`]([a-z][\w-]*)['"`]/gi)) this.tags.add((tag ?? name).toLowerCase())
      // As scripts have the name of a data attribute (HTML §3.2.6.6).
      for (const [, name] of text.matchAll(/\bdataset\.(\w+)/g))
        this.words.add(`data-${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`)
    }
  }

  hasTag(name: string): boolean {
    return this.tags.has(name)
  }

  has(name: string): boolean {
    const stem = /^(.*[-_])[^-_]+$/.exec(name)?.[1]
    return this.words.has(name) || (stem !== undefined && this.begun.has(stem))
  }
}

/** The elements of pages by what the subjects of selectors ask for. */
class ElementIndexes {
  private readonly known = new Map<string, ReadonlyMap<string, readonly SourceElement[]>>()
  private readonly standard = new Map<string, boolean>()

  constructor(private readonly project: Project) {}

  isStandard(page: string): boolean {
    let is = this.standard.get(page)
    if (is === undefined) this.standard.set(page, (is = isStandard(this.project.text(page))))
    return is
  }

  /** Whether an element of a page matches a selector, states aside. What cannot be read counts as one that does. */
  matches(page: string, selector: string): boolean {
    const plain = staticSelector(selector)
    if (plain === null) return true
    // Without a standard doctype, names match in any case.
    const candidates = this.of(page).get(this.isStandard(page) ? subjectKey(plain) : '*') ?? []
    if (candidates.length === 0) return false
    const test = this.project.tree(page).matching(plain)
    return test === null || candidates.some(test)
  }

  private of(page: string): ReadonlyMap<string, readonly SourceElement[]> {
    let index = this.known.get(page)
    if (!index) this.known.set(page, (index = this.read(page)))
    return index
  }

  private read(page: string): Map<string, SourceElement[]> {
    const index = new Map<string, SourceElement[]>()
    for (const e of this.project.tree(page).elements) {
      const id = attribute(e, 'id')
      for (const key of new Set(['*', e.tag.toLowerCase(), ...classesOf(e).map((c) => `.${c}`), ...(id ? [`#${id}`] : [])])) {
        const list = index.get(key)
        if (list) list.push(e)
        else index.set(key, [e])
      }
    }
    return index
  }
}

/** Whether a rule is one of style that stands for itself: not a step of an animation, and with nothing nested in it. */
const isLeaf = ({ rule, parents }: RuleSite): boolean =>
  rule.kind === 'style' &&
  !rule.children.some((c) => c.kind === 'style' || c.kind === 'at') &&
  declarationsOf(rule).length > 0 &&
  !parents.some((p) => p.kind === 'at' && !/^(media|supports|container|layer|starting-style)$/.test(p.name))

/**
 * The rules that match no element of any page's source, states, pseudo-elements and conditions aside. Of each sheet the pages
 * are looked at that ask for it. What scripts make is not known: rules whose names they say are marked. `rest` is called now and
 * then, and says whether to go on; null where it says no.
 */
export async function unusedRules(project: Project, rest: () => Promise<boolean>): Promise<Unused | null> {
  const indexes = new ElementIndexes(project)
  const goesOn = inSlices(rest)
  const scripts = scriptsOf(project)
  const said = new Said(scripts)
  const refs = project.allSheets().filter((ref) => ref.generated === null && project.readOnly(ref.path) === null)
  const rules: UnusedRule[] = []
  const sheets: SheetUse[] = []
  for (const ref of refs) {
    const pages = pagesWithSheet(project, ref.key)
    // The elements of a component are in no page's source.
    if (pages.length === 0 || languageNameOf(ref.path) === 'component') continue
    const isOthers = isLibrary(ref)
    let [size, unused] = [0, 0]
    for (const site of ref.sheet.rules()) {
      if (!isLeaf(site)) continue
      if (!(await goesOn())) return null
      const length = site.rule.span.to - site.rule.span.from
      size += length
      const selectors = resolvedSelectors(site).map((s) => s.replace(OPEN, ''))
      const names = selectors.map(namesAsked)
      const isUsed = pages.some(
        (page) => !(indexes.isStandard(page) && isWithout(project.text(page), names)) && selectors.some((s) => indexes.matches(page, s)),
      )
      if (isUsed) continue
      unused += length
      if (!isOthers) rules.push(noteOf(project, ref, site, said))
    }
    if (size > 0) sheets.push({ sheet: ref.key, path: ref.path, size, unused, isLibrary: isOthers })
  }
  return { sheets, rules, hasScripts: scripts.length > 0 }
}

function noteOf(project: Project, ref: SheetRef, site: RuleSite, said: Said): UnusedRule {
  const { from, to } = site.rule.span
  const selectors = resolvedSelectors(site)
  return {
    sheet: ref.key,
    rule: site.rule.id,
    path: ref.path,
    line: project.lineIn(ref, site.statement.start + from),
    selector: textOf(site, site.rule.prelude).replace(/\s+/g, ' '),
    size: to - from,
    named: selectors.flatMap(namesIn).find((name) => said.has(name)) ?? selectors.flatMap(tagsIn).find((tag) => said.hasTag(tag)) ?? null,
  }
}
