import { declarationsOf, resolvedSelectors, valueOf } from '../css'
import { parseColor, sameColor } from '../value'
import type { Project } from './project'
import { isLibrary } from './sheet-ref'

/** A declaration of the project's own sheets that says a colour. */
export interface ColorPlace {
  readonly sheet: string
  readonly rule: number
  readonly path: string
  /** 1-based. */
  readonly line: number
  readonly selector: string
  readonly name: string
  readonly value: string
}

/** Colours as values write them: hexadecimal, as functions, or as names (CSS Color 4 §4 to §10). */
const COLORS = /#[\da-f]{3,8}\b|\b(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\([^()]*\)|(?<![-\w#.$@/])[a-z]{3,20}(?![-\w(])/gi

/** Properties that take no colour: a word in their value that is also one's name is a name of the author's. */
const WITHOUT_COLOR = /^(font|animation|transition|grid|counter|container|view-transition|will-change|list-style|quotes|content)/

/** A value of a property with another colour wherever it says one, in whatever notation; strings and addresses stay. */
export function recolored(name: string, value: string, from: string, to: string): string {
  if (WITHOUT_COLOR.test(name)) return value
  const wanted = parseColor(from)
  const parts = value.split(/("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'|url\([^)]*\))/i)
  return parts.map((part, i) => (i % 2 ? part : part.replace(COLORS, (text) => (sameColor(parseColor(text), wanted) ? to : text)))).join('')
}

/** The places that are given another colour: a token is not given itself, since it would have no value then (CSS Variables 1 §2.3). */
export const recolorable = (places: readonly ColorPlace[], to: string): readonly ColorPlace[] =>
  places.filter(({ name }) => to.replace(/\s/g, '') !== `var(${name})`)

/** Where the project's own sheets say a colour, in whatever notation, in the order of the sheets. */
export function colorPlaces(project: Project, color: string): ColorPlace[] {
  return project.allSheets().flatMap((ref) => {
    if (!project.isEditable(ref) || isLibrary(ref)) return []
    return [...ref.sheet.rules()].flatMap((site) =>
      declarationsOf(site.rule).flatMap((declaration): ColorPlace[] => {
        const value = valueOf(site, declaration)
        if (recolored(declaration.name, value, color, '') === value) return []
        return [
          {
            sheet: ref.key,
            rule: site.rule.id,
            path: ref.path,
            line: project.lineIn(ref, site.statement.start + declaration.span.from),
            selector: resolvedSelectors(site).join(', '),
            name: declaration.name,
            value,
          },
        ]
      }),
    )
  })
}
