import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { Project } from '../project'
import { planIntent, type Intent } from '.'

const ferry = (): Project => {
  const root = 'demo/brinewick'
  const files = readdirSync(root, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile() && /\.(html|css)$/.test(e.name))
    .map((e) => join(e.parentPath, e.name))
  return new Project(files.map((file, i) => ({ key: i + 1, path: file.slice(root.length + 1), bytes: readFileSync(file) })))
}

/** All that an edit counts on: texts, the ids of elements and rules with where they stand, and the revisions. */
const stateOf = (project: Project) => ({
  texts: project.writtenPaths().map((path) => [path, project.text(path)]),
  elements: project
    .pages()
    .map((page) => project.tree(page).elements.map((e) => [e.id, e.tag, e.startTag, e.endTag, e.parent?.id, e.attributes, e.texts])),
  rules: project
    .allSheets()
    .map((ref) => [ref.key, ref.base, ref.sheet.revision, [...ref.sheet.rules()].map((s) => [s.rule.id, s.rule.span, s.statement.start])]),
  found: project
    .allSheets()
    .map((ref) => [...ref.sheet.rules()].map((s) => ref.sheet.hasRule(s.rule.id) && ref.sheet.site(s.rule.id).rule === s.rule)),
  revisions: [project.ruleRevision, project.treeRevision],
})

/** Numbers that choose among what the project has. */
const numbers = fc.array(fc.nat(1_000_000), { minLength: 6, maxLength: 6 })

function intentOf(project: Project, kind: string, [a, b, c, d, e]: readonly number[]): Intent {
  const page = project.pages()[a % project.pages().length]
  const own = project.tree(page).elements.filter((x) => x.startTag && !/^(html|head|body)$/.test(x.tag))
  const source = (n: number) => project.sourceOf(page, own[n % own.length].id)
  const ref = project.allSheets()[c % project.allSheets().length]
  const sites = [...ref.sheet.rules()].filter((s) => s.rule.kind === 'style')
  const aim = { kind: 'rule' as const, sheet: ref.key, rule: sites[d % sites.length]?.rule.id ?? 0 }
  switch (kind) {
    case 'set':
      return { kind, aim, name: ['padding-top', 'color', '--deck'][e % 3], value: '7px' }
    case 'inline':
      return { kind: 'set', aim: { kind: 'inline', source: source(b) }, name: 'margin', value: '1px' }
    case 'remove':
      return { kind, aim, name: 'padding' }
    case 'add-rule':
      return {
        kind,
        sheet: ref.key,
        selector: '.new',
        declarations: [{ name: 'gap', value: '1px' }],
        under: e % 2 ? '(min-width: 600px)' : '',
      }
    case 'rename-class':
      return { kind, from: 'card', to: 'slip' }
    case 'set-selector':
      return { kind, aim, selector: '.other' }
    case 'set-attribute':
      return { kind, source: source(b), name: e % 2 ? 'class' : 'title', value: e % 3 ? 'x y' : null }
    case 'set-text':
      return { kind, source: source(b), index: 0, text: 'Another <text>' }
    case 'set-tag':
      return { kind, source: source(b), tag: 'section' }
    case 'insert-html':
      return { kind, place: { source: source(b), where: 'after' }, html: '<p id="x">new</p>', what: 'p' }
    case 'move':
      return { kind, sources: [source(b)], place: { source: source(d), where: 'before' } }
    case 'wrap':
      return { kind, sources: [source(b)], tag: 'div' }
    default:
      return { kind: kind as 'delete' | 'duplicate' | 'unwrap', sources: [source(b)] }
  }
}

const KINDS = [
  'set',
  'inline',
  'remove',
  'add-rule',
  'rename-class',
  'set-selector',
  'set-attribute',
  'set-text',
  'set-tag',
  'insert-html',
  'move',
  'wrap',
  'delete',
  'duplicate',
  'unwrap',
]

test('planning changes nothing: text, ids and revisions are as they were, whatever is planned, alone or with others', () => {
  const project = ferry()
  const planned = new Map<string, number>()
  const before = stateOf(project)
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constantFrom(...KINDS), numbers), { minLength: 1, maxLength: 4 }), (wanted) => {
      const intents = wanted.flatMap(([kind, ns]) => {
        try {
          return [intentOf(project, kind, ns)]
        } catch (error) {
          throw new Error(kind, { cause: error })
        }
      })
      for (const intent of [...intents, { kind: 'together' as const, intents, label: 'all' }]) {
        let isPlanned = false
        try {
          isPlanned = planIntent(project, intent).ok
        } catch (error) {
          // What an earlier part took away is asked for no more.
          if (!(error instanceof RangeError)) throw error
        }
        if (isPlanned) planned.set(intent.kind, (planned.get(intent.kind) ?? 0) + 1)
      }
      expect(stateOf(project)).toEqual(before)
    }),
    { numRuns: 60 },
  )
  // Most of them were plans and no refusals.
  expect(planned.get('together')).toBeGreaterThan(10)
  expect(planned.size).toBeGreaterThan(12)
})
