import { declarationsOf, escapeName, isStyleModule, refuse, renameClass, textOf, type Refused } from '../css'
import { memberRenames, type Project, type SheetRef } from '../project'
import { fileNamed, mapOffset, normalizeSplices, type Splice } from '../text'
import type { PlannedEdit, RenameClassIntent } from './intent'
import { inFile } from './target'

/**
 * Every use of the class: selectors in sheets and `<style>` elements, and class lists in pages and components; one of a style
 * module in that module, in what composes it, and where scripts take it from there. Other scripts are not read.
 */
export function planRenameClass(project: Project, { from, to, module }: RenameClassIntent): PlannedEdit | Refused {
  if (to === '' || /[\s\0]/.test(to)) return refuse('bad-name', `“${to}” cannot be the name of a class.`)
  if (from === to) return refuse('bad-name', 'The class has that name already.')
  const changes = [...(module === undefined ? usesOf(project, from, to) : usesOfMember(project, module, from, to))]
    .filter(([, splices]) => splices.length > 0)
    .map(([path, splices]) => ({ path, splices: normalizeSplices(splices) }))
  if (changes.length === 0) return refuse('not-found', module ? `${module} has no class ${from}.` : `The project has no class ${from}.`)
  const [first] = changes
  return {
    ok: true,
    changes,
    path: first.path,
    name: 'class',
    before: from,
    after: to,
    at: mapOffset(first.splices, first.splices[0].from, 'before'),
    selectors: [`.${escapeName(to)}`],
    label: `.${from}`,
    preview: [],
  }
}

type Uses = ReadonlyMap<string, readonly Splice[]>

function collected(parts: Iterable<readonly [path: string, splices: readonly Splice[]]>): Uses {
  const out = new Map<string, readonly Splice[]>()
  for (const [path, splices] of parts) out.set(path, [...(out.get(path) ?? []), ...splices])
  return out
}

function usesOf(project: Project, from: string, to: string): Uses {
  return collected([
    ...project
      .allSheets()
      // A class of a style module is another, whatever it is called.
      .filter((ref) => project.isEditable(ref) && !isStyleModule(ref.path))
      .map((ref) => [ref.path, inFile(ref, renameClass(ref.sheet, from, to))[0].splices] as const),
    ...[...project.pages(), ...project.componentPaths(from)]
      .filter((path) => !project.readOnly(path))
      .map((path) => [path, project.tree(path).renameClass(from, to)] as const),
  ])
}

function usesOfMember(project: Project, module: string, from: string, to: string): Uses {
  const ref = project.sheet(module)
  if (!ref || !project.isEditable(ref)) return new Map()
  const others = project.allSheets().filter((r) => r.path !== module && isStyleModule(r.path) && project.isEditable(r))
  return collected([
    [ref.path, inFile(ref, [...renameClass(ref.sheet, from, to), ...composed(ref, module, from, to)])[0].splices],
    ...others.map((r) => [r.path, inFile(r, composed(r, module, from, to))[0].splices] as const),
    ...project
      .componentPaths(from)
      .filter((path) => !project.readOnly(path))
      .map((path) => [path, memberRenames(project, path, module, from, to)] as const),
  ])
}

/** What follows the classes that a rule composes where they are of another module. */
const FROM = /\sfrom\s+(?:"([^"]*)"|'([^']*)'|global)\s*$/

// Where rules of a sheet compose a class of a module (CSS Modules, `composes`).
function composed(ref: SheetRef, module: string, from: string, to: string): Splice[] {
  const word = new RegExp(`(?<![\\w-])${escapeName(from).replace(/[^\w-]/g, '\\$&')}(?![\\w-])`, 'g')
  return [...ref.sheet.rules()].flatMap((site) =>
    declarationsOf(site.rule)
      .filter((d) => d.name === 'composes')
      .flatMap(({ value }) => {
        const text = textOf(site, value)
        const at = FROM.exec(text)
        const other = at ? (at[1] ?? at[2]) : undefined
        const isHere = at === null ? ref.path === module : other !== undefined && fileNamed(other, ref.path) === module
        if (!isHere) return []
        const start = site.statement.start + value.from
        return [...text.slice(0, at?.index).matchAll(word)].map((m) => ({
          from: start + m.index,
          to: start + m.index + m[0].length,
          insert: escapeName(to),
        }))
      }),
  )
}
