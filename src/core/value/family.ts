import { commaList } from './parts'

export const name = 'family'

/** A face of `font-family`: its name without quotes, and whether it is a generic one (CSS Fonts 4 §2.1). */
export interface Family {
  readonly name: string
  readonly generic: boolean
  /** Null when it is written without quotes. */
  readonly quote: '"' | "'" | null
}

const GENERIC =
  /^(serif|sans-serif|monospace|cursive|fantasy|system-ui|ui-serif|ui-sans-serif|ui-monospace|ui-rounded|math|emoji|fangsong)$/i

export const parse = (text: string): Family[] =>
  commaList(text).map((item) => {
    const quote = item[0] === '"' || item[0] === "'" ? (item[0] as '"' | "'") : null
    const bare = quote ? item.slice(1, -1) : item.replace(/\s+/g, ' ')
    return { name: bare, generic: !quote && GENERIC.test(bare), quote }
  })

/** A name that is no sequence of identifiers has to be quoted (CSS Fonts 4 §2.1.1). */
const needsQuotes = (f: Family): boolean => !f.generic && (GENERIC.test(f.name) || !/^-?[a-z_][\w-]*( -?[a-z_][\w-]*)*$/i.test(f.name))

export const format = (list: readonly Family[], house: '"' | "'" = '"'): string =>
  list
    .map((f) => {
      const quote = f.quote ?? (needsQuotes(f) ? house : '')
      return `${quote}${f.name}${quote}`
    })
    .join(', ')
