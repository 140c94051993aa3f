import { roleOf } from '../language'
import type { Project } from '../project'
import { fileNamed } from '../text'

/** What a project gives Tailwind CSS to work from, and where the compiled sheet is looked for. */
export interface TailwindInput {
  readonly css: string
  /** The input's path; null where the project has none and the package's own theme is used. */
  readonly path: string | null
  /** Path that the compiled sheet is served at. */
  readonly target: string
  /** Whether pages name that path; else it has to be named for them. */
  readonly linked: boolean
  /** The path of a `tailwind.config` file; null where there is none. */
  readonly config: string | null
  /** The version that the project is set up for: version 3 has other defaults and fewer classes. */
  readonly version: 3 | 4
}

const INPUT = /@import\s+(url\(\s*)?["']?tailwindcss|@tailwind\s+(base|utilities|components|preflight|theme)|@theme\b|@utility\s/
const OUTPUT = /^\s*\/\*!\s*tailwindcss\s+v(\d+)/i
const UNLINKED = '__compiled-utilities.css'

const resolve = (from: string, href: string): string | null => {
  // From elsewhere, or given by a template when it is filled in.
  if (/^([a-z][a-z+.-]*:|\/\/)|\{\{|\{%|<[%?]|\$\{/i.test(href)) return null
  return fileNamed(href, from)
}

/** The path that an `@import`, `@config` or `@plugin` in a file names. */
export const resolvePath = (folder: string, id: string): string =>
  new URL(id, `http://x/${folder === '' ? '' : `${folder}/`}`).pathname.slice(1)

/** Looks for what Tailwind CSS would work from; null for a project that is not styled with it. `paths` are all files of the project. */
export function tailwindInput(project: Project, paths: readonly string[]): TailwindInput | null {
  const config = paths.filter((p) => /(^|\/)tailwind\.config\.(js|cjs|mjs|ts)$/.test(p)).sort((a, b) => a.length - b.length)[0] ?? null
  let asked: 3 | 4 | null = null
  for (const page of project.pages()) {
    const text = project.text(page)
    if (!/tailwindcss/i.test(text)) continue
    // What a page says of its own: a script that compiles in the page, or a style element for one.
    if (/<script[^>]+src=["'][^"']*cdn\.tailwindcss\.com/i.test(text)) asked = 3
    else if (/<script[^>]+src=["'][^"']*@tailwindcss\/browser/i.test(text) || /<style[^>]+text\/tailwindcss/i.test(text)) asked ??= 4
  }
  const path = inputSheet(project)
  if (!path && !asked && !config) return null
  const linked = new Map<string, number>()
  for (const page of project.pages()) {
    for (const [tag] of project.text(page).matchAll(/<link\b[^>]*>/gi)) {
      const href = /\srel\s*=\s*["']?stylesheet/i.test(tag) ? /\shref\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s>]+))/i.exec(tag) : null
      const path = href && resolve(page, href[1] ?? href[2] ?? href[3])
      if (path) linked.set(path, (linked.get(path) ?? 0) + 1)
    }
  }
  // What an older version compiled says more truly how the page is than this one could.
  const older = [...linked.keys()].some((p) => project.has(p) && Number(OUTPUT.exec(project.text(p))?.[1] ?? 4) < 4)
  if (older) return null
  const stale = [...linked.keys()].find((p) => project.has(p) && OUTPUT.test(project.text(p)))
  const missing = [...linked]
    .filter(([p]) => !project.has(p) && roleOf(p) === 'sheet' && !p.includes('node_modules/'))
    .sort((a, b) => b[1] - a[1])[0]?.[0]
  const target = path && linked.has(path) ? path : (stale ?? missing ?? UNLINKED)
  const text = path === null ? null : project.text(path)
  const version = text === null ? (asked ?? 3) : isOfVersion3(text) ? 3 : 4
  return {
    css: inputText(text, config !== null && relativeTo(path, config), version),
    path,
    target,
    linked: target !== UNLINKED,
    config,
    version,
  }
}

/** The path of the sheet that Tailwind CSS compiles from; null where the project has none. */
export function inputSheet(project: Project): string | null {
  const whole = (path: string) => Number(/@import\s+(url\(\s*)?["']tailwindcss["']|@tailwind\s+utilities/.test(project.text(path)))
  return (
    project
      .sheetPaths()
      .filter((p) => INPUT.test(project.text(p)) && !OUTPUT.test(project.text(p)))
      .sort((a, b) => whole(b) - whole(a) || a.length - b.length)[0] ?? null
  )
}

const relativeTo = (from: string | null, path: string): string => `${'../'.repeat((from?.split('/').length ?? 1) - 1) || './'}${path}`

const isOfVersion3 = (css: string): boolean =>
  /@tailwind\s+(base|components)/.test(css) || (!/@import\s+(url\(\s*)?["']?tailwindcss/.test(css) && /@tailwind\s/.test(css))

// Inputs of version 3 as version 4 has them.
function inputText(css: string | null, config: string | false, version: 3 | 4): string {
  let text = css ?? '@import "tailwindcss";'
  if (version === 3 && css !== null) {
    text = text
      .replace(
        /@tailwind\s+base\s*;/g,
        '@layer theme, base, components, utilities;\n@import "tailwindcss/theme" layer(theme);\n@import "tailwindcss/preflight" layer(base);',
      )
      .replace(/@tailwind\s+components\s*;/g, '')
    text = text.replace(
      /(@apply\s+)([^;{}]*?)\s+!important\s*;/g,
      (_, apply: string, list: string) =>
        `${apply}${list
          .trim()
          .split(/\s+/)
          .map((c) => `${c}!`)
          .join(' ')};`,
    )
  }
  if (!/@import\s+(url\(\s*)?["']?tailwindcss|@tailwind\s/.test(text)) text = `@import "tailwindcss";\n${text}`
  if (config && !/@config\b/.test(text) && version === 3) text += `\n@config "${config}";`
  return text
}
