import { expect, test } from 'vitest'
import { Project } from './project'
import { applySplices } from '../text'
import { memberRenames, modulesIn } from './style-modules'

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

test.each([
  [
    'by the name that it has there, wherever it is used',
    'import { card, lead } from \'./Card.module.css\'\nconst all = { card, is: all.card }\nexport const B = () => <b className={cn(card, lead)} title="card" />\n',
    'fare',
    'import { fare, lead } from \'./Card.module.css\'\nconst all = { card: fare, is: all.card }\nexport const B = () => <b className={cn(fare, lead)} title="card" />\n',
  ],
  [
    'by another',
    "import { card as own } from './Card.module.css'\nexport const B = () => <b className={own} />\n",
    'fare',
    "import { fare as own } from './Card.module.css'\nexport const B = () => <b className={own} />\n",
  ],
  [
    'where the new name is taken',
    "import { card } from './Card.module.css'\nexport const B = ({ fare }) => <b className={card}>{fare}</b>\n",
    'fare',
    "import { fare as card } from './Card.module.css'\nexport const B = ({ fare }) => <b className={card}>{fare}</b>\n",
  ],
  [
    'where the new name is none of a variable',
    "import { card } from './Card.module.css'\nexport const B = () => <b className={card} />\n",
    'fare-card',
    "import { 'fare-card' as card } from './Card.module.css'\nexport const B = () => <b className={card} />\n",
  ],
  [
    'of another module',
    "import { card } from './Other.module.css'\nexport const B = () => <b className={card} />\n",
    'fare',
    "import { card } from './Other.module.css'\nexport const B = () => <b className={card} />\n",
  ],
])('a class that is imported by itself is renamed: %s', (_, before, to, after) => {
  const project = new Project([{ key: 1, path: 'app/b.tsx', bytes: new TextEncoder().encode(before) }])
  expect(applySplices(before, memberRenames(project, 'app/b.tsx', 'app/Card.module.css', 'card', to))).toBe(after)
})
