import type { Evidence, NewRuleRef, PropertyAim } from '../core/aim'
import { type Refused, classesNamed, declarationsOf, resolvedSelectors, sameCondition, textOf } from '../core/css'
import type { BlockOut, Intent, RenameClassIntent } from '../core/edit'
import { attribute, classesOf, languageNameOf } from '../core/language'
import { type ColorPlace, type DeadLink, memberRenames, type RuleNote, type SheetRef, scaleOf, type Unused } from '../core/project'
import { applySplices, createPatch, fileNamed } from '../core/text'
import { urlsIn } from '../core/value'
import type { ClassRow, Completion, NamedState } from './class-rows'
import type { OpenProject } from './open-project'
import type { Places } from './places'
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

/** What the project says when it is asked of aims, rules, classes and names. */
export class Reading {
  constructor(
    private readonly current: OpenProject,
    private readonly places: Places,
  ) {}

  /** How many elements the selectors, of a rule of `sheet` where that is one rule, match in the whole project, and on how many of its pages; null when that cannot be determined. */
  async projectReach(selectors: readonly string[], sheet: string | null): Promise<{ elements: number; pages: number } | null> {
    const { projectReach } = await planning()
    return projectReach(this.current.project, selectors, sheet)
  }

  /** Where edits of a picked element would land and where it stands; or the declarations, as `name: value`, that the engine has yet to be asked about before that is known. */
  async picked(evidence: Evidence, properties: readonly string[], source: string | null): Promise<PickReading> {
    const { unknownDeclarations } = await planning()
    const unknown = unknownDeclarations(this.current.project, evidence)
    if (unknown.length) return { unknown }
    return { aims: await this.aims(evidence, properties), place: source === null ? null : this.places.place(source) }
  }

  /** Files that values written into `path` name and the project does not have, as they are named. */
  missingFiles(path: string, values: readonly string[]): string[] {
    return values.flatMap((value) =>
      urlsIn(value).filter((url) => {
        if (url === '' || /^([a-z][a-z\d+.-]*:|\/\/|#)/i.test(url)) return false
        const file = fileNamed(url, path)
        return file === null || !this.hasFile(file)
      }),
    )
  }

  /** Where the project's own sheets say a colour. */
  async colorPlaces(color: string): Promise<ColorPlace[]> {
    const { colorPlaces } = await planning()
    return colorPlaces(this.current.project, color)
  }

  /** What writes another colour in each of these places; null where there is none. */
  async recolor(color: string, to: string): Promise<Intent | null> {
    const { recolorable, recolored } = await planning()
    const intents = recolorable(await this.colorPlaces(color), to).map(({ sheet, rule, name, value }): Intent => ({
      kind: 'set',
      aim: { kind: 'rule', sheet, rule },
      name,
      value: recolored(name, value, color, to),
    }))
    return intents.length ? { kind: 'together', intents, label: `${to} for ${color}` } : null
  }

  /** What gives a colour a name, and uses it in each of these places; or why not. */
  async nameColor(color: string, token: string): Promise<Intent | Refused> {
    const { recolored, parseColor } = await planning()
    const name = token.startsWith('--') ? token : `--${token}`
    if (this.current.project.definesVariable(name))
      return { ok: false, reason: 'bad-name', why: `The project has a token ${name} already.` }
    const places = await this.colorPlaces(color)
    const first = places.find(({ value }) => parseColor(value) !== null)
    if (!first)
      return {
        ok: false,
        reason: 'not-found',
        why: 'No declaration says just this colour. Make a token of one that does, and use it for the others.',
      }
    const others = places.filter((p) => p !== first)
    return {
      kind: 'together',
      intents: [
        { kind: 'make-token', aim: { kind: 'rule', sheet: first.sheet, rule: first.rule }, name: first.name, token: name },
        ...others.map(({ sheet, rule, name: property, value }): Intent => ({
          kind: 'set',
          aim: { kind: 'rule', sheet, rule },
          name: property,
          value: recolored(property, value, color, `var(${name})`),
        })),
      ],
      label: `${name} for ${color}`,
    }
  }

  private readonly looks = { unused: 0, links: 0 }

  // Lets what the interface asks of the desk meanwhile go first; whether what is looked for is still wanted then.
  private resting(what: keyof Reading['looks']): () => Promise<boolean> {
    const look = ++this.looks[what]
    const { project } = this.current
    const { textRevision } = project
    return async () => {
      await new Promise((go) => setTimeout(go))
      // What is being gone through must not become another meanwhile.
      return look === this.looks[what] && project === this.current.project && textRevision === project.textRevision
    }
  }

  /** The rules that nothing in the project's sources matches; null where it was asked for again meanwhile, or given up. */
  async unused(): Promise<Unused | null> {
    const goesOn = this.resting('unused')
    const { unusedRules } = await planning()
    return unusedRules(this.current.project, goesOn)
  }

  /** The addresses in the project's sources that lead to nothing in it; null as above. */
  async deadLinks(): Promise<DeadLink[] | null> {
    const goesOn = this.resting('links')
    const { deadLinks } = await planning()
    return deadLinks(this.current.project, (path) => this.hasFile(path), goesOn)
  }

  /** Gives up what is looked for in all of the project. */
  stopLooking(): void {
    this.looks.unused++
    this.looks.links++
  }

  private hasFile(path: string): boolean {
    const { project, others, folder } = this.current
    // What a build would write is served in its place.
    return project.has(path) || project.sheet(path) !== null || others.has(path) || folder?.has(path) === true
  }

  learn(answers: Readonly<Record<string, boolean>>): void {
    for (const [text, taken] of Object.entries(answers)) this.current.project.taken.set(text, taken)
  }

  async aims(evidence: Evidence, properties: readonly string[]): Promise<PropertyAim[]> {
    const { ElementAims } = await planning()
    const aims = new ElementAims(this.current.project, evidence)
    return properties.map((p) => aims.aim(p))
  }

  /** For each longhand, the declaration that decides it on the element itself: its line and value; null where none does. */
  async winners(evidence: Evidence, longhands: readonly string[]): Promise<({ line: number; value: string; level: number } | null)[]> {
    const { ElementCascade } = await planning()
    const cascade = new ElementCascade(this.current.project, evidence)
    return longhands.map((l) => cascade.winner(l))
  }

  /** What a rule's declarations apply to, without nesting; empty when the rule is gone. */
  selectors(sheet: string, rule: number): string[] {
    const ref = this.current.project.sheet(sheet)
    return ref?.sheet.hasRule(rule) ? resolvedSelectors(ref.sheet.site(rule)) : []
  }

  /** What a custom property reaches from where a rule defines it; empty when the rule is gone. */
  async tokenReach(sheet: string, rule: number, name: string): Promise<string[]> {
    const { reachOfToken } = await planning()
    const ref = this.current.project.sheet(sheet)
    return ref?.sheet.hasRule(rule) ? reachOfToken(this.current.project, { ref, site: ref.sheet.site(rule) }, name) : []
  }

  /** What a rule that is not there yet would apply to, without nesting. */
  async newSelectors(ref: NewRuleRef): Promise<readonly string[]> {
    const { planIntent } = await planning()
    const plan = planIntent(this.current.project, { kind: 'set', aim: ref, name: '--reach', value: '0' })
    return plan.ok ? plan.selectors : [ref.selector]
  }

  /** A selector of the elements that have just the class list of this one. */
  listSelector(source: string): string[] {
    const value = attribute(this.current.project.element(source)?.element, 'class')
    return value ? [`[class=${JSON.stringify(value).replace(/\\n/g, '\\a ')}]`] : []
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
                line: this.current.project.lineIn(ref, site.statement.start + site.rule.span.from),
              },
            ]
          : []
      }),
    }))
  }

  /** The last rule of a sheet with just this selector, right under a media condition; null where there is none. */
  ruleUnder(sheet: string, selector: string, media: string): number | null {
    const found = [...(this.current.project.sheet(sheet)?.sheet.rules() ?? [])].findLast((site) => {
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

  ownSheets(pageSheets: readonly string[]): SheetRef[] {
    return pageSheets.flatMap((key) => this.current.project.sheet(key) ?? []).filter((ref) => this.current.project.isEditable(ref))
  }

  /** What an intent would write, file by file; or why it cannot be. */
  async wouldWrite(intent: Intent): Promise<WouldWrite> {
    const { planIntent } = await planning()
    const plan = planIntent(this.current.project, intent)
    if (!plan.ok) return { ok: false, why: plan.why }
    const files = plan.changes.map(({ path, splices }) => {
      const before = this.current.project.text(path)
      return {
        path,
        places: splices.length,
        patch: createPatch([{ path, before, after: applySplices(before, splices), bom: this.current.project.hasBom(path) }]),
      }
    })
    return { ok: true, files, selectors: plan.selectors }
  }

  /** What names a rule: its selector list as written, and the classes in it. Null where it is gone or has none. */
  namesOf(sheet: string, rule: number): { readonly selector: string; readonly classes: readonly string[] } | null {
    const ref = this.current.project.sheet(sheet)
    const site = ref?.sheet.hasRule(rule) ? ref.sheet.site(rule) : null
    if (site?.rule.kind !== 'style') return null
    return {
      selector: textOf(site, site.rule.prelude).trim(),
      classes: [...new Set(resolvedSelectors(site).flatMap(classesNamed))],
    }
  }

  /** What renaming a class leaves as it is: the lines of scripts that say it, and whether the project has the new name already. */
  besidesRename({ from, to, module }: RenameClassIntent): {
    readonly scripts: readonly { readonly path: string; readonly line: number }[]
    readonly taken: boolean
  } {
    const word = new RegExp(`(?<![\\w-])${from.replace(/[^\w-]/g, '\\$&')}(?![\\w-])`)
    const scripts = this.current.project
      .textPaths()
      .filter(
        (path) =>
          /\.[cm]?[jt]sx?$/i.test(path) && (module === undefined || this.current.project.text(path).includes(module.split('/').at(-1)!)),
      )
      .flatMap((path) => {
        const renamed = this.renamedLines(path, { from, to, module })
        const lines = this.current.project.text(path).split('\n')
        return lines.flatMap((text, i) => (word.test(text) && !renamed.has(i + 1) ? [{ path, line: i + 1 }] : []))
      })
    const taken =
      module === undefined
        ? this.names().classes.includes(to)
        : [...(this.current.project.sheet(module)?.sheet.rules() ?? [])].some((site) =>
            resolvedSelectors(site).flatMap(classesNamed).includes(to),
          )
    return { scripts, taken }
  }

  // Those of a component's file whose class lists are renamed with the class.
  private renamedLines(path: string, { from, to, module }: Omit<RenameClassIntent, 'kind'>): ReadonlySet<number> {
    const { project } = this.current
    if (languageNameOf(path) !== 'jsx' || project.readOnly(path) || !project.text(path).includes(from)) return new Set()
    const tree = project.tree(path)
    const splices = module === undefined ? tree.renameClass(from, to) : memberRenames(project, path, module, from, to)
    return new Set(splices.map((s) => tree.lineAt(s.from)))
  }

  /** The states that classes of an element, or of those beside and around it, wait for. */
  async statesOfClasses(source: string): Promise<NamedState[]> {
    const { statesOfClasses } = await planning()
    return statesOfClasses(this.current.project, source)
  }

  /** The classes of an element, each with what it does and whether it counts. `evidence` is of the element itself; null for one around it. */
  async classList(source: string, evidence: Evidence | null): Promise<ClassRow[]> {
    const { readClassRows } = await planning()
    return readClassRows(this.current.project, source, evidence)
  }

  /** The classes that could stand in a class's place, in order. */
  async familyOf(name: string): Promise<string[]> {
    const { familyOf } = await planning()
    return familyOf(this.current.project, name)
  }

  /** Classes that answer what was typed, the best first. */
  async completions(typed: string): Promise<Completion[]> {
    const { completions } = await planning()
    return completions(this.current.project, typed)
  }

  /** The font files that `@font-face` rules name, with what they are (CSS Fonts 4 §4). */
  faces(): { family: string; weight: string; style: string; bytes: Uint8Array }[] {
    const out: { family: string; weight: string; style: string; bytes: Uint8Array }[] = []
    for (const ref of this.current.project.allSheets()) {
      for (const site of ref.sheet.rules()) {
        if (site.rule.kind !== 'at' || site.rule.name !== 'font-face') continue
        const of = (name: string) =>
          declarationsOf(site.rule)
            .filter((d) => d.name === name)
            .map((d) => textOf(site, d.value))
            .at(-1) ?? ''
        const url = /url\(\s*["']?([^"')]+)/i.exec(of('src'))?.[1]
        const path = url && fileNamed(url, ref.path)
        const bytes = path ? this.current.others.get(path) : undefined
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
    const font = [...this.current.others.keys()].find((path) => /\.(woff2?|ttf|otf)$/i.test(path))
    return home ? { sheet: home.key, folder: font ? font.split('/').slice(0, -1).join('/') : 'fonts' } : null
  }

  /** Names that the project has, for completion: classes, ids, custom properties. */
  names(): {
    readonly classes: readonly string[]
    readonly ids: readonly string[]
    readonly tokens: readonly string[]
  } {
    const classes = new Set<string>()
    const ids = new Set<string>()
    for (const page of this.current.project.pages()) {
      if (this.current.project.readOnly(page)) continue
      for (const e of this.current.project.tree(page).elements) {
        for (const c of classesOf(e)) classes.add(c)
        const id = attribute(e, 'id')
        if (id) ids.add(id)
      }
    }
    for (const ref of this.current.project.allSheets())
      if (ref.generated === null) for (const [, name] of ref.sheet.text.matchAll(/\.(-?[a-z_][\w-]*)(?=[^{}]*\{)/gi)) classes.add(name)
    return { classes: [...classes], ids: [...ids], tokens: scaleOf(this.current.project).tokens.map((t) => t.name) }
  }

  async rulesWithId(id: string): Promise<readonly RuleNote[]> {
    const { rulesWithId } = await planning()
    return rulesWithId(this.current.project, id)
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
    const found = this.current.project.element(source)!
    const children = found.tree.elements.filter((e) => e.parent === found.element && e.startTag)
    const own = this.ownSheets(pageSheets)
    return {
      className: classForLayout(this.current.project, source),
      hasMain: found.tree.elements.some((e) => e.tag === 'main'),
      children: children.map((e) => ({ source: this.current.project.sourceOf(found.path, e.id), name: nameOf(e), tag: e.tag })),
      sheets: [...new Map(own.map((ref) => [ref.key, { key: ref.key, path: ref.path }])).values()],
    }
  }

  /** A drawn layout as an edit, or why it is none. */
  async blockOut(drawn: BlockOut): Promise<Intent | Refused> {
    const { blockOutIntent } = await planning()
    return blockOutIntent(this.current.project, drawn)
  }

  /** What a drawn layout would write; or why it cannot be. */
  async blockOutWrites(drawn: BlockOut): Promise<WouldWrite> {
    const { blockOutIntent } = await planning()
    const intent = blockOutIntent(this.current.project, drawn)
    return 'ok' in intent ? { ok: false, why: intent.why } : this.wouldWrite(intent)
  }
}
