import type { Evidence, NewRuleRef, PropertyAim } from '../../core/aim'
import { classesNamed, declarationsOf, resolvedSelectors, sameCondition, textOf, type Refused } from '../../core/css'
import type { BlockOut, Head, HeadField, Intent, SourcePlace } from '../../core/edit'
import { type MatchChange, type RuleNote, scaleOf, type SheetRef, sourceOfRule } from '../../core/project'
import { applySplices, createPatch, fileNamed, LineFeeds, type Span } from '../../core/text'
import { attribute, classesOf, roleOf, type SourceElement } from '../../core/language'
import type { ClassRow, Completion, NamedState } from './class-rows'
import { OpenDesk } from './open-desk'
import type { ElementSource } from './types'
import { planning } from './planning'

export type PickReading =
  | { readonly unknown: readonly string[] }
  | {
      readonly unknown?: never
      readonly aims: readonly PropertyAim[]
      readonly place: { readonly path: string; readonly line: number } | null
    }

/** A sheet that a new rule can stand in. */
export interface RuleHome {
  readonly sheet: string
  readonly path: string
  readonly layers: readonly string[]
  /** Rules that it can follow or be nested in. */
  readonly rules: readonly { readonly rule: number; readonly selector: string; readonly line: number }[]
}

/** What an intent would write: each file as a patch, and what its rules then match; or why it cannot be written. */
export type WouldWrite =
  | {
      readonly ok: true
      readonly files: readonly { readonly path: string; readonly places: number; readonly patch: string }[]
      readonly selectors: readonly string[]
    }
  | { readonly ok: false; readonly why: string }

/** What the open project says when it is asked: of elements, places, rules and names. */
export class ReadingDesk extends OpenDesk {
  /** How many elements the selectors, of a rule of `sheet` where that is one rule, match in the whole project, and on how many of its pages; null when that cannot be told. */
  async projectReach(selectors: readonly string[], sheet: string | null): Promise<{ elements: number; pages: number } | null> {
    const { projectReach } = await planning()
    return projectReach(this.opened, selectors, sheet)
  }

  /** Where edits of a picked element would land and where it stands; or the declarations, as `name: value`, that the engine has yet to be asked about before that is known. */
  async picked(evidence: Evidence, properties: readonly string[], source: string | null): Promise<PickReading> {
    const { unknownDeclarations } = await planning()
    const unknown = unknownDeclarations(this.opened, evidence)
    if (unknown.length) return { unknown }
    return { aims: await this.aims(evidence, properties), place: source === null ? null : this.place(source) }
  }

  /** Files that values written into `path` name and the project does not have, as they are named. */
  missingFiles(path: string, values: readonly string[]): string[] {
    return values.flatMap((value) =>
      [...value.matchAll(/url\(\s*(?:"([^"]*)"|'([^']*)'|([^"')\s]+))\s*\)/gi)].flatMap(([, double, single, bare]) => {
        const url = double ?? single ?? bare ?? ''
        if (url === '' || /^([a-z][a-z\d+.-]*:|\/\/|#)/i.test(url)) return []
        const file = fileNamed(url, path)
        return file !== null && (this.opened.has(file) || this.others.has(file) || this.folder?.has(file)) ? [] : [url]
      }),
    )
  }

  learn(answers: Readonly<Record<string, boolean>>): void {
    for (const [text, taken] of Object.entries(answers)) this.opened.taken.set(text, taken)
  }

  async aims(evidence: Evidence, properties: readonly string[]): Promise<PropertyAim[]> {
    const { ElementAims } = await planning()
    const aims = new ElementAims(this.opened, evidence)
    return properties.map((p) => aims.aim(p))
  }

  /** For each longhand, the declaration that decides it on the element itself: its line and value; null where none does. */
  async winners(evidence: Evidence, longhands: readonly string[]): Promise<({ line: number; value: string; level: number } | null)[]> {
    const { ElementCascade } = await planning()
    const cascade = new ElementCascade(this.opened, evidence)
    return longhands.map((l) => cascade.winner(l))
  }

  /** What a rule's declarations apply to, without nesting; empty when the rule is gone. */
  selectors(sheet: string, rule: number): string[] {
    const ref = this.opened.sheet(sheet)
    return ref?.sheet.hasRule(rule) ? resolvedSelectors(ref.sheet.site(rule)) : []
  }

  /** What a custom property reaches from where a rule defines it; empty when the rule is gone. */
  async tokenReach(sheet: string, rule: number, name: string): Promise<string[]> {
    const { reachOfToken } = await planning()
    const ref = this.opened.sheet(sheet)
    return ref?.sheet.hasRule(rule) ? reachOfToken(this.opened, { ref, site: ref.sheet.site(rule) }, name) : []
  }

  /** What a rule that is not there yet would apply to, without nesting. */
  async newSelectors(ref: NewRuleRef): Promise<readonly string[]> {
    const { planIntent } = await planning()
    const plan = planIntent(this.opened, { kind: 'set', aim: ref, name: '--reach', value: '0' })
    return plan.ok ? plan.selectors : [ref.selector]
  }

  /** A selector of the elements that have just the class list of this one. */
  listSelector(source: string): string[] {
    const value = attribute(this.opened.element(source)?.element, 'class')
    return value ? [`[class=${JSON.stringify(value).replace(/\\n/g, '\\a ')}]`] : []
  }

  /** Of some elements by their sources, which are the element `outer` or stand in it. */
  areWithin(sources: readonly string[], outer: string | null): boolean[] {
    const of = outer === null ? null : this.opened.element(outer)
    return sources.map((source) => {
      const found = this.opened.element(source)
      if (!of || found?.path !== of.path) return false
      for (let e: SourceElement | null = found.element; e; e = e.parent) if (e === of.element) return true
      return false
    })
  }

  /** Where elements would land if they were put at a place, in words, or why they cannot be. */
  async tellDrop(sources: readonly string[], place: SourcePlace): Promise<{ readonly ok: boolean; readonly words: string }> {
    const { tellDrop } = await planning()
    return tellDrop(this.opened, sources, place)
  }

  /** The same for HTML that is not there yet. */
  async tellInsert(place: SourcePlace, html: string): Promise<{ readonly ok: boolean; readonly words: string }> {
    const { tellInsert } = await planning()
    return tellInsert(this.opened, place, html)
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
    const at = new LineFeeds(this.opened.text(path)).toFile(offset)
    const inner = this.elementAround(path, at)
    if (inner === null) return { ok: false, words: 'The caret stands in no element.', intent: null }
    const { tree } = this.opened.element(inner)!
    let { element } = this.opened.element(inner)!
    // Before its first letter and behind its last, the caret stands beside an element and not in it.
    for (
      let span = tree.spanOf(element);
      span && (span.from === at || span.to === at) && element.parent?.startTag;
      span = tree.spanOf(element)
    )
      element = element.parent
    const around = this.opened.sourceOf(path, element.id)
    const before = tree.elements.findLast((e) => e.parent === element && e.startTag && tree.spanOf(e)!.to <= at)
    const from = before ? tree.spanOf(before)!.to : element.startTag!.to
    const next =
      tree.elements.find((e) => e.parent === element && e.startTag && e.startTag.from >= at)?.startTag?.from ?? element.endTag?.from ?? at
    const place: SourcePlace = before
      ? { source: this.opened.sourceOf(path, before.id), where: 'after' }
      : { source: around, where: 'first' }
    const told = tellInsert(this.opened, place, html)
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

  /** A class that the project does not have, and the last sheet of a page that a rule for it can stand in; null where there is none. */
  newRuleHome(stem: string, pageSheets: readonly string[]): { readonly className: string; readonly sheet: string } | null {
    const sheet = this.ownSheets(pageSheets).at(-1)
    const { classes } = this.names()
    let className = stem
    for (let n = 2; classes.includes(className); n++) className = `${stem}-${n}`
    return sheet ? { className, sheet: sheet.key } : null
  }

  /** Where a new rule can stand in the sheets of a page: each with its layers, and those of some rules that stand in it. */
  ruleHomes(pageSheets: readonly string[], rules: readonly { readonly sheet: string; readonly rule: number }[]): RuleHome[] {
    return this.ownSheets(pageSheets).map((ref) => ({
      sheet: ref.key,
      path: ref.path,
      layers: [
        ...new Set(
          [...ref.sheet.rules()].flatMap((site) =>
            site.rule.kind === 'at' && site.rule.name === 'layer' && site.parents.length === 0
              ? textOf(site, site.rule.prelude)
                  .split(',')
                  .map((n) => n.trim())
                  .filter(Boolean)
              : [],
          ),
        ),
      ],
      rules: rules.flatMap(({ sheet, rule }) => {
        if (sheet !== ref.key || !ref.sheet.hasRule(rule)) return []
        const site = ref.sheet.site(rule)
        return site.rule.kind === 'style' && site.rule.closed
          ? [
              {
                rule,
                selector: resolvedSelectors(site).join(', '),
                line: this.opened.lineIn(ref, site.statement.start + site.rule.span.from),
              },
            ]
          : []
      }),
    }))
  }

  /** The last rule of a sheet with just this selector, right under a media condition; null where there is none. */
  ruleUnder(sheet: string, selector: string, media: string): number | null {
    const found = [...(this.opened.sheet(sheet)?.sheet.rules() ?? [])].findLast((site) => {
      const around = site.parents.filter((p) => p.kind === 'style' || p.name !== 'layer')
      return (
        site.rule.kind === 'style' &&
        site.rule.closed &&
        around.length === 1 &&
        around[0].kind === 'at' &&
        around[0].name === 'media' &&
        sameCondition(textOf(site, around[0].prelude), media) &&
        textOf(site, site.rule.prelude).trim() === selector
      )
    })
    return found?.rule.id ?? null
  }

  protected ownSheets(pageSheets: readonly string[]): SheetRef[] {
    return pageSheets.flatMap((key) => this.opened.sheet(key) ?? []).filter((ref) => this.opened.isEditable(ref))
  }

  /** What a layout over an element can be made of: its children, a class for it, and the sheets its rule can stand in, those of the page first. */
  async blockOutOf(
    source: string,
    pageSheets: readonly string[],
  ): Promise<{
    readonly className: string
    readonly children: readonly { readonly source: string; readonly name: string; readonly tag: string }[]
    readonly sheets: readonly { readonly key: string; readonly path: string }[]
    readonly hasMain: boolean
  }> {
    const { classForLayout, nameOf } = await planning()
    const found = this.opened.element(source)!
    const children = found.tree.elements.filter((e) => e.parent === found.element && e.startTag)
    const own = this.ownSheets(pageSheets)
    return {
      className: classForLayout(this.opened, source),
      hasMain: found.tree.elements.some((e) => e.tag === 'main'),
      children: children.map((e) => ({ source: this.opened.sourceOf(found.path, e.id), name: nameOf(e), tag: e.tag })),
      sheets: [...new Map(own.map((ref) => [ref.key, { key: ref.key, path: ref.path }])).values()],
    }
  }

  /** A drawn layout as an edit, or why it is none. */
  async blockOut(drawn: BlockOut): Promise<Intent | Refused> {
    const { blockOutIntent } = await planning()
    return blockOutIntent(this.opened, drawn)
  }

  /** What a drawn layout would write; or why it cannot be. */
  async blockOutWrites(drawn: BlockOut): Promise<WouldWrite> {
    const { blockOutIntent } = await planning()
    const intent = blockOutIntent(this.opened, drawn)
    return 'ok' in intent ? { ok: false, why: intent.why } : this.wouldWrite(intent)
  }

  /** What an intent would write, file by file; or why it cannot be. */
  async wouldWrite(intent: Intent): Promise<WouldWrite> {
    const { planIntent } = await planning()
    const plan = planIntent(this.opened, intent)
    if (!plan.ok) return { ok: false, why: plan.why }
    const files = plan.changes.map(({ path, splices }) => {
      const before = this.opened.text(path)
      return {
        path,
        places: splices.length,
        patch: createPatch([{ path, before, after: applySplices(before, splices), bom: this.opened.hasBom(path) }]),
      }
    })
    return { ok: true, files, selectors: plan.selectors }
  }

  /** What names a rule: its selector list as written, and the classes in it. Null where it is gone or has none. */
  namesOf(sheet: string, rule: number): { readonly selector: string; readonly classes: readonly string[] } | null {
    const ref = this.opened.sheet(sheet)
    const site = ref?.sheet.hasRule(rule) ? ref.sheet.site(rule) : null
    if (site?.rule.kind !== 'style') return null
    return {
      selector: textOf(site, site.rule.prelude).trim(),
      classes: [...new Set(resolvedSelectors(site).flatMap(classesNamed))],
    }
  }

  /** What renaming a class leaves as it is: the lines of scripts that say it, and whether the project has the new name already. */
  besidesRename(
    from: string,
    to: string,
  ): { readonly scripts: readonly { readonly path: string; readonly line: number }[]; readonly taken: boolean } {
    const word = new RegExp(`(?<![\\w-])${from.replace(/[^\w-]/g, '\\$&')}(?![\\w-])`)
    const scripts = this.opened
      .textPaths()
      .filter((path) => /\.[cm]?[jt]sx?$/i.test(path))
      .flatMap((path) =>
        this.opened
          .text(path)
          .split('\n')
          .flatMap((text, i) => (word.test(text) ? [{ path, line: i + 1 }] : [])),
      )
    return { scripts, taken: this.names().classes.includes(to) }
  }

  /** The elements as their file has them, one after the other. */
  async html(sources: readonly string[]): Promise<string> {
    const { htmlOf } = await planning()
    const found = sources.flatMap((s) => this.opened.element(s) ?? [])
    return found.map((f) => htmlOf(f.tree, [f.element])).join('\n')
  }

  /** The classes of an element, each with what it does and whether it counts. `evidence` is of the element itself; null for one around it. */
  /** The states that classes of an element, or of those beside and around it, wait for. */
  async statesOfClasses(source: string): Promise<NamedState[]> {
    const { statesOfClasses } = await planning()
    return statesOfClasses(this.opened, source)
  }

  async classList(source: string, evidence: Evidence | null): Promise<ClassRow[]> {
    const { readClassRows } = await planning()
    return readClassRows(this.opened, source, evidence)
  }

  /** The classes that could stand in a class's place, in order. */
  async familyOf(name: string): Promise<string[]> {
    const { familyOf } = await planning()
    return familyOf(this.opened, name)
  }

  /** Classes that answer what was typed, the best first. */
  async completions(typed: string): Promise<Completion[]> {
    const { completions } = await planning()
    return completions(this.opened, typed)
  }

  /** The font files that `@font-face` rules name, with what they are (CSS Fonts 4 §4). */
  faces(): { family: string; weight: string; style: string; bytes: Uint8Array }[] {
    const out: { family: string; weight: string; style: string; bytes: Uint8Array }[] = []
    for (const ref of this.opened.allSheets()) {
      for (const site of ref.sheet.rules()) {
        if (site.rule.kind !== 'at' || site.rule.name !== 'font-face') continue
        const of = (name: string) =>
          declarationsOf(site.rule)
            .filter((d) => d.name === name)
            .map((d) => textOf(site, d.value))
            .at(-1) ?? ''
        const url = /url\(\s*["']?([^"')]+)/i.exec(of('src'))?.[1]
        const path = url && fileNamed(url, ref.path)
        const bytes = path ? this.others.get(path) : undefined
        if (bytes)
          out.push({
            family: of('font-family').replace(/^["']|["']$/g, ''),
            weight: of('font-weight') || 'normal',
            style: of('font-style') || 'normal',
            bytes: bytes.slice(),
          })
      }
    }
    return out
  }

  /** Where a face would come into the project: the first sheet of the page that has one, else its first; and the folder of its fonts. */
  faceHome(sheets: readonly string[]): { sheet: string; folder: string } | null {
    const own = this.ownSheets(sheets)
    const home = own.find((ref) => [...ref.sheet.rules()].some((s) => s.rule.kind === 'at' && s.rule.name === 'font-face')) ?? own[0]
    const font = [...this.others.keys()].find((path) => /\.(woff2?|ttf|otf)$/i.test(path))
    return home ? { sheet: home.key, folder: font ? font.split('/').slice(0, -1).join('/') : 'fonts' } : null
  }

  lineAt(path: string, offset: number): number {
    return this.opened.has(path) ? this.opened.lineAt(path, Math.min(offset, this.opened.text(path).length)) : 1
  }

  /** Where an element stands in its file; null when it is gone. */
  place(source: string): { path: string; line: number } | null {
    const found = this.opened.element(source)
    return found?.element.startTag ? { path: found.path, line: found.tree.lineAt(found.element.startTag.from) } : null
  }

  elementOf(source: string): ElementSource | null {
    const found = this.opened.element(source)
    const sourceOf = (e: { readonly id: number; readonly startTag: unknown }) =>
      e.startTag ? [this.opened.sourceOf(found!.path, e.id)] : []
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
    const at = new LineFeeds(this.opened.text(path)).toFile(offset)
    const sheet = this.opened.sheetsIn(path).find((s) => at >= s.base && at <= s.base + s.sheet.length)
    if (sheet) return this.ruleAt(sheet, at - sheet.base)
    if (roleOf(path) !== 'page') return null
    const source = this.elementAround(path, at)
    return source === null ? null : { source }
  }

  protected ruleAt(ref: SheetRef | null, at: number): { sheet: string; rule: number; selectors: string[] } | null {
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
    const tree = this.opened.tree(path)
    const found = tree.elements.findLast((e) => {
      const span = tree.spanOf(e)
      return span !== null && at >= span.from && at <= span.to
    })
    return found ? this.opened.sourceOf(path, found.id) : null
  }

  /** Where the tags of an element, and the selectors of rules, stand in a file; offsets with line feeds alone. */
  marks(path: string, source: string | null, rules: readonly { readonly sheet: string; readonly rule: number }[]): Span[] {
    if (!this.opened.has(path)) return []
    const feeds = new LineFeeds(this.opened.text(path))
    const spans: Span[] = []
    const found = source ? this.opened.element(source) : null
    if (found?.path === path) for (const s of [found.element.startTag, found.element.endTag]) if (s) spans.push(s)
    for (const r of rules) {
      const ref = this.opened.sheet(r.sheet)
      if (!ref?.sheet.hasRule(r.rule)) continue
      const own = ref.sheet.site(r.rule)
      const place = ref.generated === null ? { ref, site: own } : sourceOfRule(this.opened, ref, own)
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
    return span ? this.lineAt(path, new LineFeeds(this.opened.text(path)).toFile(span.from)) : 1
  }

  /** Names that the project has, for completion: classes, ids, custom properties. */
  names(): {
    readonly classes: readonly string[]
    readonly ids: readonly string[]
    readonly tokens: readonly string[]
  } {
    const classes = new Set<string>()
    const ids = new Set<string>()
    for (const page of this.opened.pages()) {
      if (this.opened.readOnly(page)) continue
      for (const e of this.opened.tree(page).elements) {
        for (const c of classesOf(e)) classes.add(c)
        const id = attribute(e, 'id')
        if (id) ids.add(id)
      }
    }
    for (const ref of this.opened.allSheets())
      if (ref.generated === null) for (const [, name] of ref.sheet.text.matchAll(/\.(-?[a-z_][\w-]*)(?=[^{}]*\{)/gi)) classes.add(name)
    return { classes: [...classes], ids: [...ids], tokens: scaleOf(this.opened).tokens.map((t) => t.name) }
  }

  /** The ids of the page that an element is on. */
  idsBeside(source: string): string[] {
    const found = this.opened.element(source)
    return found ? found.tree.elements.flatMap((e) => attribute(e, 'id') ?? []) : []
  }

  async head(page: string): Promise<Head | null> {
    const { readHead } = await planning()
    return this.opened.has(page) && this.opened.readOnly(page) === null ? readHead(this.opened, page) : null
  }

  /** What gives a field of a page's head a value, or takes it away with null. */
  async headIntent(page: string, field: HeadField, value: string | null): Promise<Intent | Refused> {
    const { headIntent } = await planning()
    return headIntent(this.opened, page, field, value)
  }

  /** What another tag name would change: the rules that would match other elements, or why it cannot be. */
  async retag(source: string, tag: string): Promise<{ readonly why: string | null; readonly changes: readonly MatchChange[] }> {
    const { planIntent, changedByTag } = await planning()
    const plan = planIntent(this.opened, { kind: 'set-tag', source, tag })
    return {
      why: plan.ok ? null : plan.why,
      changes: plan.ok ? changedByTag(this.opened, source, tag.toLowerCase()) : [],
    }
  }

  async rulesWithId(id: string): Promise<readonly RuleNote[]> {
    const { rulesWithId } = await planning()
    return rulesWithId(this.opened, id)
  }
}
