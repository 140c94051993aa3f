import { LineIndex } from '../text'
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

/**
 * The 1-based line of the rule in a text of Sass or Less that one of these selectors was compiled from, by the nesting that
 * it is written in (`.card { &-note {} }` is `.card-note`); null where that is not found, as for one that a mixin or a loop
 * makes.
 */
export function preprocessedLine(text: string, selectors: readonly string[]): number | null {
  const wanted = new Set(selectors.map(plain))
  const sheet = new Sheet(withoutLineComments(text))
  for (const site of sheet.rules()) {
    const chain = [...site.parents, site.rule].filter((r) => r.kind === 'style')
    if (site.rule.kind !== 'style') continue
    // What is declared before a rule, such as a variable, is read as a part of its selector.
    const own = chain.map((r) => textOf(site, r.prelude).replace(/^[^]*[;}]/, ''))
    const made = own.reduce<string[]>(
      (around, selector) =>
        selector.split(/,(?![^(]*\))/).flatMap((part) => {
          const s = part.trim()
          return around.length === 0 ? [s] : around.map((a) => (s.includes('&') ? s.replaceAll('&', a) : `${a} ${s}`))
        }),
      [],
    )
    if (!made.some((s) => wanted.has(plain(s)))) continue
    const said = textOf(site, site.rule.prelude)
    const lead = said.length - said.replace(/^[^]*[;}]/, '').trimStart().length
    return new LineIndex(text).lineAt(site.statement.start + site.rule.prelude.from + lead)
  }
  return null
}
