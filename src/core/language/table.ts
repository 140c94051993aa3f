import { COMPONENT } from './component-language'
import { CSS } from './css-language'
import { HTML } from './html-language'
import type { SourceLanguage } from './language'
import { PLAIN_TEXT } from './plain-text'
import { languageNameOf, type LanguageName } from './roles'

const LANGUAGES: Partial<Record<LanguageName, SourceLanguage>> = { html: HTML, css: CSS, component: COMPONENT, text: PLAIN_TEXT }

/** Languages whose parsers are large, and not needed for most pages. */
const LATER: Partial<Record<LanguageName, () => Promise<SourceLanguage>>> = { jsx: async () => (await import('./jsx-language')).JSX }

/** Loads the languages of files that are not there yet: a file is read after that. */
export async function loadLanguages(paths: Iterable<string>): Promise<void> {
  for (const name of new Set([...paths].map(languageNameOf))) if (name) LANGUAGES[name] ??= await LATER[name]?.()
}

/** The language of a file, by its extension; null for what is no source. @throws RangeError where it is to be loaded first. */
export function languageOf(path: string): SourceLanguage | null {
  const name = languageNameOf(path)
  if (name === null) return null
  const language = LANGUAGES[name]
  if (!language) throw new RangeError(`The language of ${path} is not loaded`)
  return language
}
