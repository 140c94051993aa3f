import { type Refused, resolvedSelectors } from '../core/css'
import type { Head, HeadField, Intent, SourcePlace } from '../core/edit'
import type { Stamp } from '../core/html'
import { type SourceElement, attribute, languageNameOf, languageOf, roleOf } from '../core/language'
import { type MatchChange, type SheetRef, sourceOfRule } from '../core/project'
import { tagOffset } from '../core/sfc'
import { LineFeeds, lineSplices, mapOffset, textMark, type Span } from '../core/text'
import type { OpenProject } from './open-project'
import { planning } from './planning'
import type { ElementSource, TagPlace, UsageProperties } from './types'

const isJsx = (path: string): boolean => languageNameOf(path) === 'jsx'

/** What stands where in the source: elements and their files, offsets and lines. */
export class Places {
  constructor(private readonly current: OpenProject) {}

  /** Of some elements by their sources, which are the element `outer` or stand in it. */
  areWithin(sources: readonly string[], outer: string | null): boolean[] {
    const of = outer === null ? null : this.current.project.element(outer)
    return sources.map((source) => {
      const found = this.current.project.element(source)
      if (!of || found?.path !== of.path) return false
      for (let e: SourceElement | null = found.element; e; e = e.parent) if (e === of.element) return true
      return false
    })
  }

  /** Where elements would land if they were put at a place, in words, or why they cannot be. */
  async tellDrop(sources: readonly string[], place: SourcePlace): Promise<{ readonly ok: boolean; readonly words: string }> {
    const { tellDrop } = await planning()
    return tellDrop(this.current.project, sources, place)
  }

  /** The same for HTML that is not there yet. */
  async tellInsert(place: SourcePlace, html: string): Promise<{ readonly ok: boolean; readonly words: string }> {
    const { tellInsert } = await planning()
    return tellInsert(this.current.project, place, html)
  }

  /** What puts HTML at an offset of a page's file, told with line feeds alone: between elements as a place of its own, within a text as it is typed; or why not. */
  async insertAt(
    path: string,
    offset: number,
    html: string,
    what: string,
  ): Promise<{
    readonly ok: boolean
    readonly words: string
    readonly intent: Extract<Intent, { kind: 'insert-html' | 'typed' }> | null
  }> {
    const { nameOf, tellInsert } = await planning()
    const at = new LineFeeds(this.current.project.text(path)).toFile(offset)
    const inner = this.elementAround(path, at)
    if (inner === null) return { ok: false, words: 'The caret stands in no element.', intent: null }
    const { tree } = this.current.project.element(inner)!
    let { element } = this.current.project.element(inner)!
    // Before its first letter and behind its last, the caret stands beside an element and not in it.
    for (
      let span = tree.spanOf(element);
      span && (span.from === at || span.to === at) && element.parent?.startTag;
      span = tree.spanOf(element)
    )
      element = element.parent
    const around = this.current.project.sourceOf(path, element.id)
    const before = tree.elements.findLast((e) => e.parent === element && e.startTag && tree.spanOf(e)!.to <= at)
    const from = before ? tree.spanOf(before)!.to : element.startTag!.to
    const next =
      tree.elements.find((e) => e.parent === element && e.startTag && e.startTag.from >= at)?.startTag?.from ?? element.endTag?.from ?? at
    const place: SourcePlace = before
      ? { source: this.current.project.sourceOf(path, before.id), where: 'after' }
      : { source: around, where: 'first' }
    const told = tellInsert(this.current.project, place, html)
    if (!told.ok || tree.text.slice(from, next).trim() === '')
      return { ...told, intent: told.ok ? { kind: 'insert-html', place, html, what } : null }
    if (at < element.startTag!.to || (element.endTag && at > element.endTag.from))
      return { ok: false, words: 'The caret stands in a tag.', intent: null }
    return {
      ok: true,
      words: `in the text of ${nameOf(element)}, where the caret stands`,
      intent: { kind: 'typed', path, splices: [{ from: at, to: at, insert: html }] },
    }
  }

  /** The elements as their file has them, one after the other. */
  async html(sources: readonly string[]): Promise<string> {
    const { htmlOf } = await planning()
    const found = sources.flatMap((s) => this.current.project.element(s) ?? [])
    return found.map((f) => htmlOf(f.tree, [f.element])).join('\n')
  }

  lineAt(path: string, offset: number): number {
    return this.current.project.has(path) ? this.current.project.lineAt(path, Math.min(offset, this.current.project.text(path).length)) : 1
  }

  /** Where an element stands in its file; null when it is gone. */
  place(source: string): { path: string; line: number } | null {
    const found = this.current.project.element(source)
    return found?.element.startTag ? { path: found.path, line: found.tree.lineAt(found.element.startTag.from) } : null
  }

  /**
   * Where the tag stands that a page says made an element of that name, or, with null, used a component, whose tag may have
   * another name than it has itself; what the page says is held against the text. `classes` are those that the element has there.
   */
  tagAt({ path, nth, mark }: Stamp, name: string | null, classes: readonly string[] = []): TagPlace {
    const { project } = this.current
    if (languageNameOf(path) === 'component') return this.tagInComponent({ path, nth, mark }, name)
    if (!project.has(path) || !isJsx(path)) return { ok: false, path, why: `the project has no file ${path}` }
    if (project.readOnly(path) !== null) return { ok: false, path, why: `${path}: ${project.readOnly(path)}` }
    const tree = project.tree(path)
    const found = tree.elementOfTag?.(nth, mark) ?? this.ofSavedTag(path, nth, mark)
    if (!found) return { ok: false, path, why: `${path} was changed since` }
    // A component of a library may hand what its tag says on to an element of another name.
    if (found.isHtml && found.tag !== name) return { ok: false, path, why: `no tag of that name stands there in ${path}` }
    tree.noteShown?.(found, classes)
    const component = found.isHtml ? null : found.tag
    return { ok: true, path, line: tree.lineAt(found.startTag!.from), source: project.sourceOf(path, found.id), component }
  }

  // In a component of one file: what its compiler says is looked up in the text.
  private tagInComponent({ path, nth, mark }: Stamp, name: string | null): TagPlace {
    const { project } = this.current
    if (!project.has(path)) return { ok: false, path, why: `the project has no file ${path}` }
    const text = project.text(path)
    const at = tagOffset(text, nth, mark, name ?? '')
    if (at === null) return { ok: false, path, why: `${path} was changed since` }
    return { ok: true, path, line: project.lineAt(path, at), source: null, component: null }
  }

  /** How a page says the tag of an element of a component; null where its source is none. */
  stampOf(source: string): Stamp | null {
    const found = this.current.project.element(source)
    const tag = found?.tree.tagOf?.(found.element)
    return found && tag ? { path: found.path, ...tag } : null
  }

  /** The children of an element of a component, by their place among the tags of the file: those that are elements there each time, and all. Null for a component, whose children stand where it puts them. */
  childTags(source: string): { readonly each: readonly number[]; readonly all: readonly number[] } | null {
    const found = this.current.project.element(source)
    if (!found?.tree.tagOf || !found.element.isHtml) return null
    const { tree, element } = found
    const own = tree.elements.filter((e) => e.parent === element)
    const nth = (list: readonly SourceElement[]) => list.map((e) => tree.tagOf!(e).nth)
    // A component may hand its stamp on to an element, or to several.
    return { each: nth(own.filter((e) => e.isHtml && tree.isMadeOnce!(e))), all: nth(own) }
  }

  // The page may have what was saved, and more may have been written since.
  private ofSavedTag(path: string, nth: number, mark: string): SourceElement | null {
    const [text, saved] = [this.current.project.text(path), this.current.savedText(path)]
    const from = textMark(saved) === mark ? this.tagsOf(path, saved)[nth]?.startTag?.from : undefined
    if (from === undefined) return null
    const at = mapOffset(lineSplices(saved, text), from, 'after')
    return this.current.project.tree(path).elements.find((e) => e.startTag?.from === at) ?? null
  }

  /** How many tags of the project use a component of that name, and in how many files; what else has the name is counted too. */
  usagesOf(name: string): { readonly tags: number; readonly files: number } {
    let [tags, files] = [0, 0]
    for (const path of this.current.project.componentPaths(`<${name}`)) {
      if (this.current.project.readOnly(path) !== null) continue
      const n = this.tagsOf(path).filter((t) => !t.isHtml && t.tag === name).length
      tags += n
      if (n) files++
    }
    return { tags, files }
  }

  /** Pictures of the project as the file of an element names them; null where pages name them by their own address. */
  pictureNames(source: string, pictures: readonly string[]): readonly string[] | null {
    const tree = this.current.project.element(source)?.tree
    return tree?.pictureName ? pictures.map((path) => tree.pictureName!(path)) : null
  }

  /** What the tag of a component gives it, and may: `root` is an element that the component shows. Null where that is no such tag. */
  propertiesOf(usage: string, root: string | null): UsageProperties | null {
    const { project } = this.current
    const tag = project.element(usage)
    if (!tag?.tree.givenProperties || tag.element.isHtml) return null
    const name = tag.element.tag.split('.').at(-1)!
    // The file that declares it, or that of what it shows, where the imports do not tell.
    const files = [tag.tree.declaredIn?.(tag.element) ?? null, (root === null ? null : project.element(root)?.path) ?? null]
    const path = files.find((p) => p !== null && isJsx(p) && project.has(p) && project.readOnly(p) === null) ?? null
    const taken = path === null ? null : (project.tree(path).componentProperties?.(name) ?? null)
    const given = tag.tree.givenProperties(tag.element)
    const others = given.filter((g) => !taken?.some((p) => p.name === g.name))
    const value = (p: string) => given.find((g) => g.name === p) ?? null
    return {
      readOnly: project.readOnly(tag.path),
      properties: [
        ...(taken ?? []).map((p) => ({ ...p, given: value(p.name) })),
        ...others.map((g) => ({ name: g.name, kind: g.kind, choices: [], initial: null, given: g })),
      ],
    }
  }

  private readonly tags = new Map<string, { readonly text: string; readonly tags: readonly SourceElement[] }>()

  // The tags of a file as it is, or in another text of it; none of one that cannot be read.
  private tagsOf(path: string, text = this.current.project.text(path)): readonly SourceElement[] {
    if (text === this.current.project.text(path)) return this.current.project.tree(path).elements
    const known = this.tags.get(path)
    if (known?.text === text) return known.tags
    const tags = languageOf(path)!.read(text, path).tree?.elements ?? []
    this.tags.set(path, { text, tags })
    return tags
  }

  elementOf(source: string): ElementSource | null {
    const found = this.current.project.element(source)
    const sourceOf = (e: { readonly id: number; readonly startTag: unknown }) =>
      e.startTag ? [this.current.project.sourceOf(found!.path, e.id)] : []
    if (!found) return null
    const { element } = found
    return {
      children: found.tree.elements.filter((e) => e.parent === element).flatMap(sourceOf),
      parent: element.parent ? (sourceOf(element.parent)[0] ?? null) : null,
      tag: element.tag,
      attributes: element.attributes.map(({ prefix, name, value }) => ({
        name: prefix ? `${prefix}:${name}` : name,
        value,
      })),
      texts: element.texts,
    }
  }

  /** What stands at an offset of a file, with line feeds alone: an element, or the rule's selectors. */
  standsAt(
    path: string,
    offset: number,
  ): { readonly source: string } | { readonly sheet: string; readonly rule: number; readonly selectors: readonly string[] } | null {
    const at = new LineFeeds(this.current.project.text(path)).toFile(offset)
    const sheet = this.current.project.sheetsIn(path).find((s) => at >= s.base && at <= s.base + s.sheet.length)
    if (sheet) return this.ruleAt(sheet, at - sheet.base)
    if ((roleOf(path) !== 'page' && !isJsx(path)) || this.current.project.readOnly(path) !== null) return null
    const source = this.elementAround(path, at)
    return source === null ? null : { source }
  }

  ruleAt(ref: SheetRef | null, at: number): { sheet: string; rule: number; selectors: string[] } | null {
    const statement = ref?.sheet.statementAt(at)
    const site =
      statement &&
      [...ref!.sheet.rulesOf(statement)].findLast(
        (s) => s.rule.kind === 'style' && at >= s.statement.start + s.rule.span.from && at <= s.statement.start + s.rule.span.to,
      )
    return site ? { sheet: ref!.key, rule: site.rule.id, selectors: resolvedSelectors(site) } : null
  }

  /** The innermost element that an offset of a page's file stands in. */
  elementAround(path: string, at: number): string | null {
    const tree = this.current.project.tree(path)
    const found = tree.elements.findLast((e) => {
      const span = tree.spanOf(e)
      return span !== null && at >= span.from && at <= span.to
    })
    return found ? this.current.project.sourceOf(path, found.id) : null
  }

  /** Where the tags of an element, and the selectors of rules, stand in a file; offsets with line feeds alone. */
  marks(path: string, source: string | null, rules: readonly { readonly sheet: string; readonly rule: number }[]): Span[] {
    if (!this.current.project.has(path)) return []
    const feeds = new LineFeeds(this.current.project.text(path))
    const spans: Span[] = []
    const found = source ? this.current.project.element(source) : null
    if (found?.path === path) for (const s of [found.element.startTag, found.element.endTag]) if (s) spans.push(s)
    for (const r of rules) {
      const ref = this.current.project.sheet(r.sheet)
      if (!ref?.sheet.hasRule(r.rule)) continue
      const own = ref.sheet.site(r.rule)
      const place = ref.generated === null ? { ref, site: own } : sourceOfRule(this.current.project, ref, own)
      if (place?.ref.path !== path) continue
      const start = place.ref.base + place.site.statement.start
      spans.push({ from: start + place.site.rule.prelude.from, to: start + place.site.rule.prelude.to })
    }
    return spans
      .filter((s) => s.to > s.from)
      .sort((a, b) => a.from - b.from)
      .map((s) => ({ from: feeds.fromFile(s.from), to: feeds.fromFile(s.to) }))
  }

  /** The line of a file at which an element's tag stands, or the last of some rules; 1 where it has none. */
  lineIn(path: string, source: string | null, rules: readonly { readonly sheet: string; readonly rule: number }[]): number {
    const spans = this.marks(path, source, rules)
    const span = roleOf(path) === 'sheet' ? spans.at(-1) : spans[0]
    return span ? this.lineAt(path, new LineFeeds(this.current.project.text(path)).toFile(span.from)) : 1
  }

  /** The ids of the page that an element is on. */
  idsBeside(source: string): string[] {
    const found = this.current.project.element(source)
    return found ? found.tree.elements.flatMap((e) => attribute(e, 'id') ?? []) : []
  }

  async head(page: string): Promise<Head | null> {
    const { readHead } = await planning()
    return this.current.project.has(page) && this.current.project.readOnly(page) === null ? readHead(this.current.project, page) : null
  }

  /** What gives a field of a page's head a value, or takes it away with null. */
  async headIntent(page: string, field: HeadField, value: string | null): Promise<Intent | Refused> {
    const { headIntent } = await planning()
    return headIntent(this.current.project, page, field, value)
  }

  /** What another tag name would change: the rules that would match other elements, or why it cannot be. */
  async retag(source: string, tag: string): Promise<{ readonly why: string | null; readonly changes: readonly MatchChange[] }> {
    const { planIntent, changedByTag } = await planning()
    const plan = planIntent(this.current.project, { kind: 'set-tag', source, tag })
    return {
      why: plan.ok ? null : plan.why,
      changes: plan.ok ? changedByTag(this.current.project, source, tag.toLowerCase()) : [],
    }
  }
}
