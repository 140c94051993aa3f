import { attribute, type ElementTree } from '../language'
import { fileNamed } from '../text'
import type { Project } from './project'

const known = new WeakMap<Project, { of: string; pages: Map<string, ReadonlySet<string>> }>()

/** The keys of the sheets that a page's source asks for: those it links, what those import, and its own `<style>` elements. */
export function sheetsOfPage(project: Project, page: string): ReadonlySet<string> {
  const of = `${project.treeRevision} ${project.ruleRevision}`
  let cache = known.get(project)
  if (cache?.of !== of) known.set(project, (cache = { of, pages: new Map() }))
  let found = cache.pages.get(page)
  if (!found) cache.pages.set(page, (found = readPage(project, page)))
  return found
}

/** What the addresses of a page are relative to: the page, or what its `<base>` names (HTML §4.2.3). */
export function baseOf(tree: ElementTree, page: string): string {
  const base = tree.elements.find((e) => e.tag === 'base')
  return base ? (fileNamed(attribute(base, 'href') ?? '', page) ?? page) : page
}

function readPage(project: Project, page: string): Set<string> {
  const out = new Set<string>()
  const add = (url: string, from: string): void => {
    const path = fileNamed(url, from)
    if (path === null || out.has(path)) return
    out.add(path)
    importsOf(project, path).forEach((inner) => add(inner, path))
  }
  const tree = project.tree(page)
  const from = baseOf(tree, page)
  for (const e of tree.elements) {
    if (e.tag === 'link' && /(^|\s)stylesheet(\s|$)/i.test(attribute(e, 'rel') ?? '')) add(attribute(e, 'href') ?? '', from)
    if (e.tag !== 'style') continue
    const key = `#${project.sourceOf(page, e.id)}`
    out.add(key)
    importsOf(project, key).forEach((inner) => add(inner, from))
  }
  return out
}

function importsOf(project: Project, key: string): string[] {
  const ref = project.sheet(key)
  return ref
    ? ref.sheet.statements.flatMap((statement) =>
        statement.items.flatMap((item) => {
          if (item.kind !== 'at' || item.name !== 'import') return []
          return /^(?:url\(\s*)?["']?([^"')\s]+)/i.exec(statement.text.slice(item.prelude.from, item.prelude.to))?.[1] ?? []
        }),
      )
    : []
}

/** The pages whose source asks for a sheet; all, where none does: a script may. */
export function pagesWithSheet(project: Project, key: string): string[] {
  const pages = project.pages().filter((page) => project.readOnly(page) === null)
  const own = pages.filter((page) => sheetsOfPage(project, page).has(key.replace(/^=/, '')))
  return own.length ? own : pages
}
