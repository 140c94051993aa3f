import { declarationsOf, refuse, textOf, type Refused } from '../css'
import { attribute } from '../language'
import { isVendored, type Project, type SheetRef } from '../project'
import { mapOffset, normalizeSplices, type Splice } from '../text'
import type { PlannedEdit, RenameTokenIntent } from './intent'

const NAME = /^--[\w-]+$/

/** Scripts, and files with scripts in them. */
const SCRIPT = /\.([cm]?[jt]sx?|vue|svelte|astro)$/i

/** What is gone over whole in a value: strings, addresses and comments name no custom property. */
const OPAQUE = /"(?:[^"\\]|\\[^])*"|'(?:[^'\\]|\\[^])*'|url\([^)]*\)|\/\*[^]*?\*\//gi

// Where a text says a name, between its first and last letter and no further.
function namedIn(text: string, name: string, base: number): { readonly from: number; readonly to: number }[] {
  const bare = text.replace(OPAQUE, (t) => ' '.repeat(t.length))
  return [...bare.matchAll(new RegExp(`(?<![\\w-])${name}(?![\\w-])`, 'g'))].map((m) => ({
    from: base + m.index,
    to: base + m.index + name.length,
  }))
}

/** Where a sheet says a name; offsets of its file. */
function inSheet(ref: SheetRef, name: string, usesOnly: boolean) {
  return [...ref.sheet.rules()].flatMap((site) => {
    const at = ref.base + site.statement.start
    const said = declarationsOf(site.rule).flatMap((d) => [
      ...(d.name === name && !usesOnly ? [{ from: at + d.nameSpan.from, to: at + d.nameSpan.to }] : []),
      ...namedIn(textOf(site, d.value), name, at + d.value.from),
    ])
    // `@property --x`, and queries of a container's style (CSS Properties and Values 1 §2, CSS Conditional 5 §6).
    const isNamed = site.rule.kind === 'at' && (site.rule.name === 'container' || (site.rule.name === 'property' && !usesOnly))
    return isNamed ? [...said, ...namedIn(textOf(site, site.rule.prelude), name, at + site.rule.prelude.from)] : said
  })
}

/** Where `style` attributes and class lists of a page say a name. */
function inAttributes(project: Project, path: string, name: string) {
  const tree = project.tree(path)
  return tree.elements.flatMap((e) => {
    if (!e.startTag || !['style', 'class'].some((a) => attribute(e, a)?.includes(name))) return []
    const tag = tree.text.slice(e.startTag.from, e.startTag.to)
    return [...tag.matchAll(/\s(?:style|class)\s*=\s*("[^"]*"|'[^']*'|[^\s"'>]+)/gi)].flatMap((m) => {
      const from = m.index + m[0].length - m[1].length
      const quote = /^["']/.test(m[1]) ? 1 : 0
      return namedIn(m[1].slice(quote, m[1].length - quote), name, e.startTag!.from + from + quote)
    })
  })
}

/** Where a script says a name as one: in `var()`, as a whole string, or in a class in brackets. */
function inScript(text: string, name: string, base = 0) {
  return [...text.matchAll(new RegExp(`(?<=["'\`(:]\\s*)${name}(?=\\s*[,)"'\`\\]])|(?<=\\[)${name}(?=[\\]:])`, 'g'))].map((m) => ({
    from: base + m.index,
    to: base + m.index + name.length,
  }))
}

/** Where the scripts that stand in a page say a name. */
const inScriptsOf = (text: string, name: string) =>
  [...text.matchAll(/(<script\b[^>]*>)([^]*?)<\/script/gi)].flatMap((m) => inScript(m[2], name, m.index + m[1].length))

/** A custom property under another name: in sheets, in `style` attributes and in scripts; refused where a file names it that is not written here. */
export function planRenameToken(project: Project, { from, to, usesOnly = false }: RenameTokenIntent): PlannedEdit | Refused {
  if (!NAME.test(to) || to === '--') return refuse('bad-name', `“${to}” cannot be the name of a token.`)
  if (!NAME.test(from) || !project.definesVariable(from)) return refuse('not-found', `The project has no token ${from}.`)
  if (from === to) return refuse('bad-name', 'The token has that name already.')
  if (project.definesVariable(to) !== usesOnly)
    return refuse('bad-name', usesOnly ? `The project has no token ${to}.` : `The project has a token ${to} already.`)
  const byPath = new Map<string, Splice[]>()
  const note = (path: string, spans: readonly { readonly from: number; readonly to: number }[]) => {
    if (spans.length) byPath.set(path, [...(byPath.get(path) ?? []), ...spans.map((s) => ({ ...s, insert: to }))])
  }
  for (const ref of project.allSheets()) {
    if (ref.generated !== null) continue
    const said = inSheet(ref, from, usesOnly)
    if (said.length && definesInTheme(ref, from))
      return refuse('not-allowed', `${from} is of the theme: classes are named by it, so it is renamed with them, in Source.`)
    if (said.length && (!project.isEditable(ref) || isVendored(ref)))
      return refuse('read-only', `${ref.path} names ${from}, and is not written here.`)
    note(ref.path, said)
  }
  const pages = new Set(project.pages())
  for (const path of [...pages, ...project.textPaths()]) {
    if (!project.text(path).includes(from)) continue
    const isPage = pages.has(path)
    if (project.readOnly(path) !== null) return refuse('read-only', `${path} names ${from}, and cannot be written.`)
    const said = isPage ? inAttributes(project, path, from) : []
    const scripted = isPage ? inScriptsOf(project.text(path), from) : SCRIPT.test(path) ? inScript(project.text(path), from) : []
    if (/\.(s[ac]ss|less|styl)$/i.test(path) && namedIn(project.text(path), from, 0).length)
      return refuse('not-allowed', `${path} names ${from}, and is not edited here. Rename it there too.`)
    note(path, [...said, ...scripted])
  }
  const once = (splices: readonly Splice[]) => [...new Map(splices.map((s) => [s.from, s])).values()]
  const changes = [...byPath].map(([path, splices]) => ({ path, splices: normalizeSplices(once(splices)) }))
  const [first] = changes
  if (!first) return refuse('not-found', usesOnly ? `Nothing uses ${from}.` : `No file that is written here names ${from}.`)
  return {
    ok: true,
    changes,
    path: first.path,
    name: 'token',
    before: from,
    after: to,
    at: mapOffset(first.splices, first.splices[0].from, 'before'),
    selectors: [],
    label: from,
    preview: [],
  }
}

const definesInTheme = (ref: SheetRef, name: string): boolean =>
  [...ref.sheet.rules()].some(
    (site) => site.rule.kind === 'at' && site.rule.name === 'theme' && declarationsOf(site.rule).some((d) => d.name === name),
  )
