import { declarationsOf, isRootRule, isStyleModule, resolvedSelectors, textOf, type RuleSite } from '../css'
import { inSlices, isLibrary, scaleOf, type Project, type SheetRef } from '../project'
import { contrast, family, isLengthText, nearlySameColor, parseColor, parseLength, sameColor, shadow } from '../value'

/** A place where a token is given a value. */
export interface TokenPlace {
  readonly sheet: string
  readonly rule: number
  readonly path: string
  /** 1-based. */
  readonly line: number
  /** As it is written. */
  readonly value: string
  /** What has to hold for it: `.dark`, `(prefers-color-scheme: dark)`; `''` where it always counts. */
  readonly under: string
}

export type TokenKind = 'color' | 'length' | 'face' | 'shadow' | 'other'

/** A custom property that the project defines at its root, with what becomes of it. */
export interface ThemeToken {
  readonly name: string
  readonly kind: TokenKind
  /** As it is written where it always counts. */
  readonly value: string
  /** The same with the tokens that it names replaced by what they say; null where one is not known. */
  readonly resolved: string | null
  readonly places: readonly TokenPlace[]
  /** Declarations of sheets that use it. */
  readonly uses: number
  /** Whether utility classes are named by it, so that it keeps its name (Tailwind CSS, `@theme`). */
  readonly namesClasses: boolean
  /** Whether nothing in the project names it: no sheet, no page and no script. */
  readonly isUnused: boolean
  /** A token before it that says the same, or hardly another colour; null where there is none. */
  readonly like: { readonly name: string; readonly isSame: boolean } | null
}

/** Colours of one name in steps: `--sea-100`, `--sea-200`. */
export interface Ramp {
  readonly name: string
  readonly tokens: readonly string[]
}

/** Two tokens that a rule uses on each other: for its text, and for what lies behind it. */
export interface ColorPair {
  readonly text: string
  readonly ground: string
  /** WCAG 2.2 §1.4.3. */
  readonly contrast: number
  readonly path: string
  readonly line: number
  readonly selector: string
}

/** The tokens of a project. */
export interface Theme {
  readonly tokens: readonly ThemeToken[]
  readonly ramps: readonly Ramp[]
  readonly pairs: readonly ColorPair[]
}

/** Steps that make a ramp. */
const LEAST_STEPS = 3

/** How deep a value is followed through tokens, and how many of them at most. */
const DEPTH = 12
const MOST_NAMED = 400

const USE = /var\(\s*(--[^\s,()]+)\s*(?:,((?:[^()]|\([^()]*\))*))?\)/g

/** A value with the tokens that it names replaced by what they say (CSS Variables 1 §3); null where one is not known, or names itself. */
export function resolved(value: string, valueOf: (name: string) => string | null): string | null {
  return followed(value, valueOf, 0, { left: MOST_NAMED })
}

function followed(value: string, valueOf: (name: string) => string | null, depth: number, named: { left: number }): string | null {
  if (depth > DEPTH) return null
  let isKnown = true
  const text = value.replace(USE, (_, name: string, fallback: string | undefined) => {
    const own = named.left-- > 0 ? (valueOf(name) ?? fallback?.trim() ?? null) : null
    const said = own === null ? null : followed(own, valueOf, depth + 1, named)
    if (said === null) isKnown = false
    return said ?? ''
  })
  return isKnown && !text.includes('var(') ? text : null
}

function kindOf(name: string, said: string | null): TokenKind {
  if (said === null) return 'other'
  if (parseColor(said)) return 'color'
  if (isLengthText(said)) return 'length'
  const shadows = shadow.parse(said)
  if (shadows?.length && shadows.every((s) => s.color !== null || s.blur !== null)) return 'shadow'
  const families = family.parse(said)
  return families.some((f) => f.generic) || (/font|face|family/.test(name) && /^["'a-z]/i.test(said) && parseLength(said) === null)
    ? 'face'
    : 'other'
}

// What has to hold for a rule besides standing at the root.
function conditionOf(site: RuleSite): string {
  const around = site.parents.flatMap((p) =>
    p.kind === 'at' && p.name !== 'layer' && p.name !== 'theme' ? [textOf(site, p.prelude).replace(/\s+/g, ' ')] : [],
  )
  const selector = site.rule.kind === 'style' && !isRootRule(site) ? [resolvedSelectors(site).join(', ')] : []
  return [...around, ...selector].join(' ')
}

interface Definition extends TokenPlace {
  readonly name: string
}

function* definitionsIn(project: Project, ref: SheetRef, names: ReadonlySet<string>): Generator<Definition> {
  for (const site of ref.sheet.rules())
    for (const d of declarationsOf(site.rule))
      if (names.has(d.name))
        yield {
          name: d.name,
          sheet: ref.key,
          rule: site.rule.id,
          path: ref.path,
          line: project.lineIn(ref, site.statement.start + d.span.from),
          value: textOf(site, d.value),
          under: conditionOf(site),
        }
}

const ownSheets = (project: Project): SheetRef[] => project.allSheets().filter((ref) => project.isEditable(ref) && !isLibrary(ref))

// Names of custom properties that stand in files besides sheets; null where that is given up.
async function namedElsewhere(project: Project, goesOn: () => Promise<boolean>): Promise<ReadonlySet<string> | null> {
  const rest = inSlices(goesOn)
  const found = new Set<string>()
  for (const path of [...project.pages(), ...project.textPaths()]) {
    // The custom properties of what `<style>` elements say are counted as those of sheets.
    const text = project.text(path).replace(/<style\b[^]*?<\/style>/gi, '')
    for (const [name] of text.matchAll(/--[\w-]+/g)) found.add(name)
    if (!(await rest())) return null
  }
  return found
}

const SHADE = /^(--.*?[^\d-])-?(\d{1,4})$/

function rampsOf(tokens: readonly ThemeToken[]): Ramp[] {
  const byName = new Map<string, { readonly token: string; readonly step: number }[]>()
  for (const { name, kind } of tokens) {
    const [, stem, step] = (kind === 'color' && SHADE.exec(name)) || []
    if (stem) byName.set(stem, [...(byName.get(stem) ?? []), { token: name, step: Number(step) }])
  }
  return [...byName].flatMap(([name, steps]) =>
    steps.length < LEAST_STEPS ? [] : [{ name, tokens: steps.sort((a, b) => a.step - b.step).map((s) => s.token) }],
  )
}

// Rules that give text one token and what lies behind it another.
function pairsOf(project: Project, colors: ReadonlyMap<string, string>): ColorPair[] {
  const found = new Map<string, ColorPair>()
  for (const ref of ownSheets(project))
    for (const site of ref.sheet.rules()) {
      const tokenOf = (of: RegExp): string | null => {
        const d = declarationsOf(site.rule).findLast((x) => of.test(x.name))
        const name = d && /^var\(\s*(--[^\s,()]+)\s*\)$/.exec(textOf(site, d.value))?.[1]
        return name && colors.has(name) ? name : null
      }
      const [text, ground] = [tokenOf(/^color$/), tokenOf(/^background(-color)?$/)]
      if (text === null || ground === null || found.has(`${text} ${ground}`)) continue
      const [a, b] = [parseColor(colors.get(text)!)!, parseColor(colors.get(ground)!)!]
      // What shines through shows more than the two.
      if ((a.alpha ?? 1) < 1 || (b.alpha ?? 1) < 1) continue
      found.set(`${text} ${ground}`, {
        text,
        ground,
        contrast: contrast(a, b),
        path: ref.path,
        line: project.lineIn(ref, site.statement.start + site.rule.span.from),
        selector: resolvedSelectors(site).join(', '),
      })
    }
  return [...found.values()].sort((a, b) => a.contrast - b.contrast)
}

function likeBefore(
  { kind, value, resolved: own }: Pick<ThemeToken, 'kind' | 'value' | 'resolved'>,
  before: readonly ThemeToken[],
): ThemeToken['like'] {
  // A name for another token is meant to be the same.
  const color = kind === 'color' && own !== null && !value.includes('var(') ? parseColor(own) : null
  if (!color) return null
  for (const { name, kind: other, resolved: said } of before) {
    const known = other === 'color' && said !== null ? parseColor(said) : null
    if (known && sameColor(known, color)) return { name, isSame: true }
    if (known && nearlySameColor(known, color)) return { name, isSame: false }
  }
  return null
}

/** The tokens of the project's own sheets, in their order. `goesOn` lets other work go first, and says whether to go on; null where it does not. */
export async function readTheme(project: Project, goesOn: () => Promise<boolean>): Promise<Theme | null> {
  const sheets = ownSheets(project)
  const own = new Set(sheets.map((ref) => ref.sheet))
  const { tokens: defined } = scaleOf(project, (sheet) => own.has(sheet))
  const names = new Set(defined.map((t) => t.name))
  const places = new Map<string, TokenPlace[]>()
  for (const ref of sheets)
    // The rules of a style module are its own.
    if (!isStyleModule(ref.path))
      for (const { name, ...place } of definitionsIn(project, ref, names)) places.set(name, [...(places.get(name) ?? []), place])
  const elsewhere = await namedElsewhere(project, goesOn)
  if (!elsewhere) return null
  const valueOf = (name: string): string | null => mainPlace(places.get(name) ?? [])?.value ?? null
  const tokens: ThemeToken[] = []
  for (const { name } of defined) {
    const token = tokenOf(project, name, places.get(name) ?? [], valueOf, elsewhere)
    if (token) tokens.push({ ...token, like: likeBefore(token, tokens) })
  }
  const colors = new Map(tokens.flatMap((t) => (t.kind === 'color' && t.resolved !== null ? [[t.name, t.resolved] as const] : [])))
  return { tokens, ramps: rampsOf(tokens), pairs: pairsOf(project, colors) }
}

/** The place that decides where nothing else has to hold: the last of those that always count (CSS Cascade 5 §6.4). */
export const mainPlace = (places: readonly TokenPlace[]): TokenPlace | undefined => places.findLast((p) => p.under === '') ?? places[0]

function tokenOf(
  project: Project,
  name: string,
  places: readonly TokenPlace[],
  valueOf: (name: string) => string | null,
  elsewhere: ReadonlySet<string>,
): Omit<ThemeToken, 'like'> | null {
  const place = mainPlace(places)
  if (!place) return null
  const said = resolved(place.value, valueOf)
  const uses = project.tokenUsers(name).length
  const namesClasses = places.some((p) => project.sheet(p.sheet)?.sheet.site(p.rule).rule.kind === 'at')
  return {
    name,
    kind: kindOf(name, said),
    value: place.value,
    resolved: said,
    places,
    uses,
    namesClasses,
    isUnused: uses === 0 && !namesClasses && !elsewhere.has(name),
  }
}
