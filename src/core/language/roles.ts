/** What files of a language are to a project: pages have elements, sheets have rules, text is neither and is carried along. */
export type Role = 'page' | 'sheet' | 'text'

/** The languages that sources are written in, by name, with the extensions of their files: in lower case, without the dot. Apart from what reads them, so that a window can ask without a parser. */
const KINDS = {
  html: { role: 'page', extensions: ['html', 'htm'] },
  css: { role: 'sheet', extensions: ['css'] },
  jsx: { role: 'text', extensions: ['jsx', 'tsx'] },
  component: { role: 'text', extensions: ['vue', 'svelte', 'astro'] },
  text: {
    role: 'text',
    extensions: ['js', 'mjs', 'cjs', 'ts', 'webmanifest', 'json', 'svg', 'txt', 'md', 'xml', 'scss', 'sass', 'less', 'styl'],
  },
} as const satisfies Record<string, { readonly role: Role; readonly extensions: readonly string[] }>

export type LanguageName = keyof typeof KINDS

const BY_EXTENSION = new Map(
  (Object.keys(KINDS) as LanguageName[]).flatMap((name) => KINDS[name].extensions.map((extension) => [extension as string, name])),
)

/** The name of a file's language, by its extension; null for what is no source, such as a picture. */
export const languageNameOf = (path: string): LanguageName | null =>
  BY_EXTENSION.get(/\.([^./]+)$/.exec(path)?.[1].toLowerCase() ?? '') ?? null

/** What a file is to its project, by its extension; null for what is no source. */
export function roleOf(path: string): Role | null {
  const name = languageNameOf(path)
  return name && KINDS[name].role
}
