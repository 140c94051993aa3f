import { expect, test } from 'vitest'
import { planIntent } from '../edit'
import { attribute } from '../language'
import { Project } from '../project'

const CARD = `import { clsx } from 'clsx'
import { base, sizes, button } from './styles'
import * as theme from '@/theme'
import { join } from './join'
import lead from './lead'

export function Card({ size = 'small', open }) {
  return (
    <article className={clsx(base, open && theme.wide)}>
      <h2 className={sizes[size]}>Tides</h2>
      <p className={join('mt-2', lead)}>Text</p>
      <button className={button({ size })}>Go</button>
    </article>
  )
}
`
const FILES = {
  'src/Card.jsx': CARD,
  'src/styles.ts': `import { cva } from 'class-variance-authority'
export const base = 'card p-4'
export const sizes: Record<string, string> = { small: 'text-sm', large: 'text-lg' } as const
export const button = cva('rounded px-2', { variants: { size: { small: 'h-6', large: 'h-10' } } })
`,
  'src/theme/index.ts': "export * from './colors'\nexport { wide } from './widths'\n",
  'src/theme/colors.ts': "export const calm = 'bg-tide'\n",
  'src/theme/widths.ts': "const broad = 'w-full max-w-none'\nexport { broad as wide }\n",
  'src/join.js': "export function join(...names) {\n  return names.filter(Boolean).join(' ')\n}\n",
  'src/lead.ts': "const lead = 'text-lg leading-6'\nexport default lead\n",
}

const open = (files: Readonly<Record<string, string>> = FILES) =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))

function find(project: Project, tag: string, shown: readonly string[]) {
  const tree = project.tree('src/Card.jsx')
  const element = tree.elements.find((e) => e.tag === tag)!
  tree.noteShown!(element, shown)
  return { tree, element, source: project.sourceOf('src/Card.jsx', element.id) }
}
/** The pieces of a tag's class list that count while it shows these classes: where each stands and what it says. */
function piecesOf(project: Project, tag: string, shown: string): string[] {
  const { tree, element } = find(project, tag, shown.split(' '))
  return tree.classPieces(element).map((p) => `${p.path ?? 'here'}: ${p.text}${p.isShared ? ' (shared)' : ''}`)
}
/** The files that a change of classes makes others, each with the lines that are new in it. */
function changed(
  project: Project,
  tag: string,
  shown: string,
  remove: readonly string[],
  add: readonly { name: string; instead?: string }[],
) {
  const { source } = find(project, tag, shown.split(' '))
  const plan = planIntent(project, { kind: 'change-classes', sources: [source], remove, add })
  if (!plan.ok) return plan.why
  const before = new Map(plan.changes.map((c) => [c.path, project.text(c.path)]))
  for (const c of plan.changes) project.apply(c.path, c.splices)
  return plan.changes.map((c) => {
    const old = before.get(c.path)!.split('\n')
    const lines = project
      .text(c.path)
      .split('\n')
      .filter((line, i) => line !== old[i])
    return `${c.path}: ${lines.map((line) => line.trim()).join(' | ')}`
  })
}

test('classes that a file imports are read where they are written, through names, records, variants and modules that pass them on', () => {
  const project = open()
  expect(piecesOf(project, 'article', 'card p-4 w-full max-w-none')).toEqual([
    'src/styles.ts: card p-4 (shared)',
    'src/theme/widths.ts: w-full max-w-none (shared)',
  ])
  expect(piecesOf(project, 'article', 'card p-4')).toEqual(['src/styles.ts: card p-4 (shared)'])
  expect(piecesOf(project, 'h2', 'text-lg')).toEqual(['src/styles.ts: text-lg (shared)'])
  expect(piecesOf(project, 'p', 'mt-2 text-lg leading-6')).toEqual(['here: mt-2', 'src/lead.ts: text-lg leading-6 (shared)'])
  expect(piecesOf(project, 'button', 'rounded px-2 h-6')).toEqual(['src/styles.ts: rounded px-2 (shared)', 'src/styles.ts: h-6 (shared)'])
})

test('what takes the place of a class is written where that stands; what only comes, in the file of the element', () => {
  expect(changed(open(), 'article', 'card p-4', ['p-4'], [{ name: 'p-6', instead: 'p-4' }])).toEqual([
    "src/styles.ts: export const base = 'card p-6'",
  ])
  expect(changed(open(), 'h2', 'text-lg', ['text-lg'], [{ name: 'text-xl', instead: 'text-lg' }])).toEqual([
    "src/styles.ts: export const sizes: Record<string, string> = { small: 'text-sm', large: 'text-xl' } as const",
  ])
  expect(changed(open(), 'button', 'rounded px-2 h-6', ['h-6'], [{ name: 'h-8', instead: 'h-6' }])).toEqual([
    "src/styles.ts: export const button = cva('rounded px-2', { variants: { size: { small: 'h-8', large: 'h-10' } } })",
  ])
  expect(changed(open(), 'article', 'card p-4', [], [{ name: 'mt-4' }])).toEqual([
    "src/Card.jsx: <article className={clsx(base, 'mt-4', open && theme.wide)}>",
  ])
  expect(changed(open(), 'p', 'mt-2 text-lg leading-6', ['text-lg'], [{ name: 'mb-1' }])).toEqual([
    "src/Card.jsx: <p className={join('mt-2 mb-1', lead)}>Text</p>",
    "src/lead.ts: const lead = 'leading-6'",
  ])
})

test('what another file says now counts, also while it is only tried', () => {
  const project = open()
  const list = (tag: string, shown: string) => attribute(find(project, tag, shown.split(' ')).element, 'class')
  expect(list('article', 'card p-4')).toBe('card p-4')
  const at = FILES['src/styles.ts'].indexOf('card p-4')
  const splices = [{ from: at, to: at + 4, insert: 'tile' }]
  expect(project.trial((apply) => (apply('src/styles.ts', splices), list('article', 'tile p-4')))).toBe('tile p-4')
  expect(list('article', 'card p-4')).toBe('card p-4')
  const { inverse } = project.apply('src/styles.ts', splices)
  expect(list('article', 'tile p-4')).toBe('tile p-4')
  project.apply('src/styles.ts', inverse)
  expect(list('article', 'card p-4')).toBe('card p-4')
})

test('what another file does not say yet is read once it does', () => {
  const card = "import { base } from './styles'\nexport const Card = () => <p className={base}>x</p>\n"
  const project = open({ 'src/Card.jsx': card, 'src/styles.ts': 'export const other = 1\n' })
  expect(piecesOf(project, 'p', 'card')).toEqual([])
  project.apply('src/styles.ts', [{ from: 0, to: 0, insert: "export const base = 'card'\n" }])
  expect(piecesOf(project, 'p', 'card')).toEqual(['src/styles.ts: card (shared)'])
})

test.each([
  // As TypeScript and bundlers find files.
  ['./styles', ['src/styles.tsx', 'src/styles.ts'], 'src/styles.tsx'],
  ['./styles', ['src/styles/index.js'], 'src/styles/index.js'],
  ['./styles.js', ['src/styles.ts'], 'src/styles.ts'],
  ['../lib/styles', ['lib/styles.mjs'], 'lib/styles.mjs'],
  ['@/lib/styles', ['app/lib/styles.ts'], 'app/lib/styles.ts'],
  // Of two that may be meant, none is; nor is a file that a package's name ends like.
  ['@/styles', ['a/styles.ts', 'b/styles.ts'], null],
  ['@pier/styles', ['src/styles.ts'], null],
  ['styles', ['src/styles.ts'], null],
  ['./gone', ['src/styles.ts'], null],
  ['../../up', ['up.ts'], null],
  ['%E0%A4%A', ['src/styles.ts'], null],
])('an import of %s, of %j, leads to %s', (module, paths, wanted) => {
  const card = `import { base } from '${module}'\nexport const Card = () => <p className={base}>x</p>\n`
  const project = open({ 'src/Card.jsx': card, ...Object.fromEntries(paths.map((path) => [path, "export const base = 'card'\n"])) })
  const pieces = piecesOf(project, 'p', 'card')
  expect(pieces).toEqual(wanted === null ? [] : [`${wanted}: card (shared)`])
})

test('by the paths of TypeScript’s configuration an import leads to just that file', () => {
  const config = '{ "compilerOptions": { "baseUrl": ".", "paths": { "@parts/*": ["shared/parts/*"] } } }'
  const card = "import { base } from '@parts/styles'\nexport const Card = () => <p className={base}>x</p>\n"
  const files = { 'src/Card.jsx': card, 'tsconfig.json': config, 'shared/parts/styles.ts': "export const base = 'card'\n" }
  expect(piecesOf(open(files), 'p', 'card')).toEqual(['shared/parts/styles.ts: card (shared)'])
})

test('files that import each other, are at fault, or give something else end in what is worked out while the page runs', () => {
  const card = "import { base } from './a'\nexport const Card = () => <p className={base}>x</p>\n"
  const others: readonly Record<string, string>[] = [
    { 'src/a.ts': "export { base } from './b'\n", 'src/b.ts': "export { base } from './a'\n" },
    { 'src/a.ts': "import { base } from './a'\nexport { base }\n" },
    { 'src/a.ts': 'export const base = (\n' },
    { 'src/a.ts': 'export let base = "card"\n' },
    { 'src/a.ts': "export * from './a'\n" },
    { 'src/a.ts': 'export const other = "card"\n' },
  ]
  for (const more of others) {
    const project = open({ 'src/Card.jsx': card, ...more })
    expect([more, piecesOf(project, 'p', 'card')]).toEqual([more, []])
    expect(attribute(find(project, 'p', ['card']).element, 'class') ?? null).toBeNull()
  }
})
