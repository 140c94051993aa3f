import fc from 'fast-check'
import { expect, test } from 'vitest'
import { applySplices } from '../text'
import { literalsSaying, literalSplice } from './literals'

const SAYS = `import { x } from 'Tern'
type Boat = 'Tern' | 'Gannet'
export const boats: { name: Boat; Tern: number }[] = [{ name: 'Tern', Tern: 1 }, { name: \`Tern\`, Tern: 2 }]
export const is = (b: string) => b === 'Tern'
export const A = () => <p title="Tern" className="Tern"> Tern </p>
`

test('a text is found where it is said to people, and not where it is compared, named or imported', () => {
  const found = literalsSaying(SAYS, 'boats.tsx', 'Tern')
  expect(found.map((l) => [l.is, SAYS.slice(0, l.from).split('\n').length])).toEqual([
    ['string', 3],
    ['template', 3],
    ['attribute', 5],
  ])
  expect(literalsSaying('{ "Tern": ["Tern", "Tern 2"], "n": "T\\u0065rn" }', 'a.json', 'Tern').map((l) => l.from)).toEqual([11, 35])
  expect(literalsSaying('const a = <T>(x: T) => "Tern"', 'a.ts', 'Tern')).toHaveLength(1)
  expect(literalsSaying('const a = "Tern', 'a.ts', 'Tern')).toEqual([])
})

test('whatever a literal is made to say, it says', () => {
  const text = fc.stringMatching(/^[a-z'"`\\${}<>&é ]{1,12}$/).filter((t) => t.trim() === t && t !== '')
  const shells: readonly (readonly [path: string, before: string, after: string])[] = [
    ['a.ts', 'export const a = ["', '"]'],
    ['a.ts', "export const a = ['", "']"],
    ['a.ts', 'export const a = [`', '`]'],
    ['a.json', '{ "a": "', '" }'],
    ['a.jsx', 'const A = () => <p title="', '" />'],
    ['a.jsx', 'const A = () => <p>', '</p>'],
  ]
  fc.assert(
    fc.property(text, fc.constantFrom(...shells), (next, [path, before, after]) => {
      const source = `${before}Tern${after}`
      const [literal] = literalsSaying(source, path, 'Tern')
      const splice = literalSplice(source, literal, next)
      if (splice === null) return
      const written = applySplices(source, [splice])
      expect(literalsSaying(written, path, next).map((l) => l.is)).toEqual([literal.is])
      expect([written.startsWith(before), written.endsWith(after)]).toEqual([true, true])
    }),
  )
})
