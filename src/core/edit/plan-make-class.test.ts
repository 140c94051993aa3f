import { expect, test } from 'vitest'
import { tailwindOf } from '../../../proof/tailwind-files'
import { Project } from '../project'
import { applySplices } from '../text'
import { LearnedVocabulary, setVocabularies, type Vocabulary } from '../utility'
import { planIntent } from '.'

const tailwind = await tailwindOf('@import "tailwindcss";')

const bytes = (text: string) => new TextEncoder().encode(text)
const page = (...lists: string[]) => `<!DOCTYPE html>\n${lists.map((l) => `<p class="${l}">x</p>`).join('\n')}\n`

function projectOf(files: Readonly<Record<string, string>>, vocabulary: (project: Project) => Vocabulary | null): Project {
  const project = new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: bytes(text) })))
  const found = vocabulary(project)
  if (found) setVocabularies(project, [found])
  return project
}

/** The files after the list of the first paragraph was given a name; or why it was not. */
function made(project: Project, name: string): Record<string, string> | string {
  const p = project.tree('index.html').elements.find((e) => e.tag === 'p')!
  const plan = planIntent(project, { kind: 'make-class', source: project.sourceOf('index.html', p.id), name })
  if (!plan.ok) return plan.why
  const now = (path: string) =>
    applySplices(
      project.text(path),
      plan.changes.filter((c) => c.path === path).flatMap((c) => c.splices),
    )
  return Object.fromEntries(project.writtenPaths().map((path) => [path, now(path)]))
}

test('a list of compiled classes becomes one of the components, in its place in each list that is the same', () => {
  const files = {
    'index.html': page('note p-4 md:p-6 text-sm', 'note p-4 md:p-6 text-sm', 'p-4 text-sm'),
    'in.css': '@import "tailwindcss";\n\n@layer components {\n  .x {\n    @apply p-2;\n  }\n}\n',
  }
  const project = projectOf(files, () => tailwind)
  expect(made(project, 'memo')).toEqual({
    'index.html': page('note memo', 'note memo', 'p-4 text-sm'),
    'in.css': files['in.css'].replace('    @apply p-2;\n  }\n', '    @apply p-2;\n  }\n\n  .memo {\n    @apply p-4 md:p-6 text-sm;\n  }\n'),
  })
  // Nothing of it was made by planning.
  expect(project.text('in.css')).toBe(files['in.css'])
  const without = projectOf({ ...files, 'in.css': '@import "tailwindcss";\n' }, () => tailwind)
  expect(made(without, 'memo')).toMatchObject({
    'in.css': '@import "tailwindcss";\n\n@layer components {\n  .memo {\n    @apply p-4 md:p-6 text-sm;\n  }\n}\n',
  })
})

test('classes that are the project’s own say what they set, each as it is written there', () => {
  const scale = [1, 2, 3, 4, 5, 6, 7, 8]
  const rule = (name: string, declared: string) => `.${name} {\n  ${declared};\n}\n`
  const sheet = scale.map((n) => rule(`pad-${n}`, `padding: ${n}rem`) + rule(`size-${n}`, `font-size: ${n}em`)).join('')
  const project = projectOf({ 'index.html': page('pad-2 size-3'), 'u.css': sheet }, (p) => LearnedVocabulary.of(p))
  expect(made(project, 'sign')).toEqual({
    'index.html': page('sign'),
    'u.css': `${sheet}.sign {\n  padding: 2rem;\n  font-size: 3em;\n}\n`,
  })
})

test.each([
  ['a b', 'note p-4 text-sm', /cannot be the name of a class/],
  ['', 'note p-4 text-sm', /cannot be the name of a class/],
  ['mt-4', 'note p-4 text-sm', /has a class mt-4 already/],
  ['note', 'note p-4 text-sm', /has a class note already/],
  ['memo', 'note p-4', /no two utility classes/],
  ['memo', 'note', /no two utility classes/],
])('named %j, the list %j is not made one, with the reason', (name, list, why) => {
  const project = projectOf({ 'index.html': page(list), 'in.css': '@import "tailwindcss";\n.note {\n}\n' }, () => tailwind)
  expect(made(project, name)).toMatch(why)
})

test('without a sheet that it could be written in, it is not made', () => {
  expect(
    made(
      projectOf({ 'index.html': page('p-4 text-sm') }, () => tailwind),
      'memo',
    ),
  ).toMatch(/no style sheet/)
  expect(
    made(
      projectOf({ 'index.html': page('p-4 text-sm') }, () => null),
      'memo',
    ),
  ).toMatch(/no two utility classes/)
})
