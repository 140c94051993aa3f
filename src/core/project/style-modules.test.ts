import { expect, test } from 'vitest'
import { Project } from './project'
import { modulesIn } from './style-modules'

const PAGE = "import a from './Card.module.css'\nimport b from '@/parts/Card.module.css'\nexport const B = () => <b className={b.card} />\n"
const CONFIG = `{
  // Where names of our own lead to.
  "compilerOptions": { "paths": { "@/*": ["./app/*"], "~": [4], }, /* the rest */ },
}`

const modules = (files: Readonly<Record<string, string>>) => {
  const all = Object.entries({ 'app/page.tsx': PAGE, ...files })
  const project = new Project(all.map(([path, text], key) => ({ key: key + 1, path, bytes: new TextEncoder().encode(text) })))
  return [...modulesIn(project, 'app/page.tsx')].sort((a, b) => (a.name < b.name ? -1 : 1))
}

test('an import by a name of the bundler leads to the one module that ends so, and of several to the one that is configured', () => {
  const own = { name: 'a', path: 'app/Card.module.css' }
  const one = { 'app/parts/Card.module.css': '.card {}' }
  const two = { ...one, 'old/parts/Card.module.css': '.card {}' }
  expect(modules(one)).toEqual([own, { name: 'b', path: 'app/parts/Card.module.css' }])
  // Which of them it is cannot be told: neither is taken for the other.
  expect(modules(two)).toEqual([own])
  expect(modules({ ...two, 'tsconfig.json': CONFIG })).toEqual([own, { name: 'b', path: 'app/parts/Card.module.css' }])
  for (const broken of ['{', '[]', '{"compilerOptions":4}', '{"compilerOptions":{"paths":[3]}}'])
    expect(modules({ ...two, 'tsconfig.json': broken })).toEqual([own])
})
