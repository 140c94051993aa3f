import { refuse, type Refused } from '../css'
import { isDataPath, literalsSaying, literalSplice, type Literal } from '../jsx'
import type { Project } from '../project'
import type { PlannedEdit } from './intent'

/** Places that are named where a text stands in several. */
const MOST_NAMED = 3

interface Found extends Literal {
  readonly path: string
}

/** How near a file is to the one that shows the text: the file itself, one that it imports or that imports it, any other. */
function distance(project: Project, from: string, to: string): number {
  if (from === to) return 0
  const stem = (path: string) =>
    path
      .split('/')
      .at(-1)!
      .replace(/\.[^.]+$/, '')
  const names = (path: string, other: string) =>
    new RegExp(`['"\`/]${stem(other).replace(/[^\w]/g, '\\$&')}(\\.\\w+)?['"\`]`).test(project.text(path))
  return names(from, to) || names(to, from) ? 1 : 2
}

/** Another text where the one that an element shows comes from data: in the one literal of the project, or of the files nearest, that says it. */
export function planDataText(project: Project, path: string, source: string, was: string, text: string): PlannedEdit | Refused {
  const said = was.trim()
  if (said === '') return refuse('not-allowed', 'This text comes from data.')
  const found = project
    .textPaths()
    .filter((p) => isDataPath(p) && project.readOnly(p) === null)
    .flatMap((p): Found[] => literalsSaying(project.text(p), p, said).map((l) => ({ ...l, path: p })))
  const near = Math.min(...found.map((f) => distance(project, path, f.path)))
  const nearest = found.filter((f) => distance(project, path, f.path) === near)
  if (nearest.length === 0) return refuse('not-allowed', 'This text comes from data, and no literal of the project says it.')
  if (nearest.length > 1) {
    const places = [...new Set(nearest.map((f) => `${f.path}:${project.lineAt(f.path, f.from)}`))]
    const more = places.length > MOST_NAMED ? ` and ${places.length - MOST_NAMED} more` : ''
    return refuse(
      'not-allowed',
      `This text comes from data, which says it in ${places.slice(0, MOST_NAMED).join(', ')}${more}. Change it in Source.`,
    )
  }
  const [literal] = nearest
  const splice = literalSplice(project.text(literal.path), literal, text.trim())
  if (!splice) return refuse('bad-value', 'It cannot be written there: Text of a tag stands on one line.')
  return {
    ok: true,
    changes: [{ path: literal.path, splices: [splice] }],
    path: literal.path,
    at: literal.from,
    name: 'text',
    before: said,
    after: text.trim(),
    selectors: [],
    label: 'data that it shows',
    preview: [],
    element: source,
  }
}
