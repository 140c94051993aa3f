import { applySplices, LineIndex, normalizeSplices } from '../text'
import { classSpans, escapeName } from './rule-edit'
import { classesNamed } from './selector'
import { Sheet, textOf } from './sheet'

/** Whether a file is in a language that is compiled to CSS: Sass, Less or Stylus. */
export const isPreprocessed = (path: string): boolean => /\.(s[ac]ss|less|styl(us)?)$/i.test(path)

// Comments to the end of a line, and strings and comments of CSS, which these may stand in.
const TOKENS = /"(?:\\[^]|[^"\\\n])*"|'(?:\\[^]|[^'\\\n])*'|\/\*[^]*?\*\/|url\([^)]*\)|\/\/[^\n]*/g

/** The text in which comments to the end of a line are blanks, so that it can be read as CSS; offsets are the same. */
const withoutLineComments = (text: string): string => text.replace(TOKENS, (t) => (t.startsWith('//') ? ' '.repeat(t.length) : t))

const plain = (selector: string): string =>
  selector
    .trim()
    .replace(/\s+/g, ' ')
    .replace(/ ?([>+~,]) ?/g, '$1')

/** A rule as it is written in Sass or Less: the selectors that it is compiled to, by the nesting that it stands in, and where its own starts. */
interface WrittenRule {
  readonly selectors: readonly string[]
  readonly at: number
}

function* rulesOf(text: string): Generator<WrittenRule> {
  for (const site of new Sheet(withoutLineComments(text)).rules()) {
    if (site.rule.kind !== 'style') continue
    // What is declared before a rule, such as a variable, is read as a part of its selector.
    const own = (said: string) => said.replace(/^[^]*[;}]/, '')
    const chain = [...site.parents, site.rule].filter((r) => r.kind === 'style').map((r) => own(textOf(site, r.prelude)))
    const selectors = chain.reduce<string[]>(
      (around, selector) =>
        selector.split(/,(?![^(]*\))/).flatMap((part) => {
          const s = part.trim()
          return around.length === 0 ? [s] : around.map((a) => (s.includes('&') ? s.replaceAll('&', a) : `${a} ${s}`))
        }),
      [],
    )
    const said = textOf(site, site.rule.prelude)
    yield { selectors, at: site.statement.start + site.rule.prelude.from + said.length - own(said).trimStart().length }
  }
}

/**
 * The 1-based line of the rule in a text of Sass or Less that one of these selectors was compiled from, by the nesting that
 * it is written in (`.card { &-note {} }` is `.card-note`); null where that is not found, as for one that a mixin or a loop
 * makes.
 */
export function preprocessedLine(text: string, selectors: readonly string[]): number | null {
  const lines = linesOf(text)
  return selectors.map((s) => lines.get(plain(s))).find((line) => line !== undefined) ?? null
}

/** The lines of rules by their selectors, of the texts that were asked about last: each pick asks of many properties. */
const linesByText = new Map<string, ReadonlyMap<string, number>>()
const MOST_TEXTS = 8

function linesOf(text: string): ReadonlyMap<string, number> {
  const there = linesByText.get(text)
  if (there) return there
  const index = new LineIndex(text)
  const lines = new Map<string, number>()
  for (const { selectors, at } of rulesOf(text)) for (const s of selectors) if (!lines.has(plain(s))) lines.set(plain(s), index.lineAt(at))
  if (linesByText.size >= MOST_TEXTS) linesByText.delete(linesByText.keys().next().value!)
  linesByText.set(text, lines)
  return lines
}

/**
 * What a style module was compiled to, with the names that its source has for its classes in the place of those that the
 * compiler made of them (`_card-note_x1_2`, `Card_card-note__x1`); a name that stands in none of them stays.
 */
export function withSourceNames(compiled: string, source: string): string {
  const names = [...rulesOf(source)].flatMap(({ selectors }) => selectors.flatMap(classesNamed))
  // The longest first: `card` stands in `card-note` too.
  const sourceNames = [...new Set(names)].sort((a, b) => b.length - a.length)
  const isMadeOf = (made: string, name: string) => new RegExp(`(?:^|[_-])${name.replace(/[^\w-]/g, '\\$&')}(?:[_-]|$)`).test(made)
  const sheet = new Sheet(compiled)
  const splices = [...sheet.rules()].flatMap((site) => {
    if (site.rule.kind !== 'style') return []
    const start = site.statement.start + site.rule.prelude.from
    const selector = textOf(site, site.rule.prelude)
    return [...new Set(classesNamed(selector))].flatMap((made) => {
      const name = sourceNames.find((n) => isMadeOf(made, n))
      return name === undefined || name === made
        ? []
        : classSpans(selector, made).map(({ from, to }) => ({ from: start + from, to: start + to, insert: escapeName(name) }))
    })
  })
  return applySplices(compiled, normalizeSplices(splices))
}
