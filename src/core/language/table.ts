import { COMPONENT } from './component-language'
import { CSS } from './css-language'
import { HTML } from './html-language'
import { JSX } from './jsx-language'
import type { SourceLanguage } from './language'
import { PLAIN_TEXT } from './plain-text'
import { languageNameOf, type LanguageName } from './roles'

const LANGUAGES: Readonly<Record<LanguageName, SourceLanguage>> = { html: HTML, css: CSS, jsx: JSX, component: COMPONENT, text: PLAIN_TEXT }

/** The language of a file, by its extension; null for what is no source. */
export function languageOf(path: string): SourceLanguage | null {
  const name = languageNameOf(path)
  return name && LANGUAGES[name]
}
