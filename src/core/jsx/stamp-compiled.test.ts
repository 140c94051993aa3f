import { createRequire } from 'node:module'
import { transform } from 'esbuild'
import { createElement, type ComponentType, type ReactNode } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, test } from 'vitest'
import { stampCompiled } from './stamp-compiled'
import { stampTags } from './stamp'

const compile = async (source: string, path = 'src/a.tsx'): Promise<string> =>
  (await transform(source, { loader: 'tsx', jsx: 'automatic', jsxDev: true, sourcemap: 'inline', sourcefile: path })).code

/** The stamps of elements in a compiled module, by the type that they are of. */
const stampsIn = (code: string): string[] =>
  [...code.matchAll(/"data-steady-tag": ("(?:[^"\\]|\\.)*")/g)].map(([, text]) => JSON.parse(text) as string).sort()

const SOURCES = {
  'a tree with a list, an attribute that is a tag, and conditions': `
import { Card } from './Card'
export const Board = ({ boats, on }: { boats: string[]; on: boolean }) => (
  <section className="board" {...{ id: 'b' }}>
    <Card icon={<i title="a, b" />} lead={on ? <b>on</b> : null}>
      {boats.map((boat) => <li key={boat}>{boat}<br /></li>)}
      {on && <em></em>}
    </Card>
  </section>
)`,
  'fragments, members and components of React': `
import * as React from 'react'
import { Suspense, Fragment } from 'react'
import { Menu } from './Menu'
export const Page = () => (
  <>
    <Suspense fallback={<p>…</p>}><Menu.Item><span>x</span></Menu.Item></Suspense>
    <Fragment key="a"><u>y</u></Fragment>
    <React.StrictMode><s>“z”</s></React.StrictMode>
  </>
)`,
  'properties that are spread before a key': `
export const Row = (all: object) => <tr {...all} key="k"><td /></tr>`,
}

describe('a module that was compiled without stamps has them as its source would have', () => {
  test.each(Object.entries(SOURCES))('%s', async (_, source) => {
    const code = await compile(source)
    const stamped = stampCompiled(code, 'src/a.tsx')
    const own = stampsIn(await compile(stampTags(source, 'src/a.tsx')))
    // Those of components are taken off their properties again there; here they are none.
    const ofElements = stampsIn(stamped)
    expect(own).toEqual(expect.arrayContaining(ofElements))
    const tags = [...source.matchAll(/<([a-z]\w*)(?=[\s/>])/g)].length
    expect(ofElements.length).toBe(tags)
    expect(new Set(ofElements).size).toBe(tags)
    // It still runs, and makes the same tree.
    expect(await render(stamped)).toEqual(await render(code))
  })
})

test('components are noted by the properties that they are called with', async () => {
  const stamped = stampCompiled(await compile(SOURCES['a tree with a list, an attribute that is a tag, and conditions']), 'src/a.tsx')
  expect(stamped).toMatch(/__steadyUsed\(\/\*|__steadyUsed\(jsxDEV\(Card/)
  expect(stamped).toMatch(/, "1 \S+ src\/a\.tsx"\)/)
})

test('what does not fit its source, or has none, stays as it is', async () => {
  const code = await compile('export const A = () => <p><b /></p>')
  const hoisted = code.replace('"b"', '"i"')
  expect(stampCompiled(hoisted, 'src/a.tsx')).toBe(hoisted)
  const bare = code.replace(/\n\/\/# sourceMappingURL.*/, '')
  expect(stampCompiled(bare, 'src/a.tsx')).toBe(bare)
  const broken = `${bare}\n//# sourceMappingURL=data:application/json;base64,e30=`
  expect(stampCompiled(broken, 'src/a.tsx')).toBe(broken)
})

/** What a module's exports render, without stamps. */
async function render(code: string): Promise<string[]> {
  const { code: own } = await transform(code, { format: 'cjs', sourcemap: false })
  const Slot = ({ icon, lead, children }: Record<string, ReactNode>) => createElement('div', null, icon, lead, children)
  const modules: Readonly<Record<string, object>> = { './Card': { Card: Slot }, './Menu': { Menu: { Item: Slot } } }
  const module = { exports: {} as Record<string, ComponentType<{ boats: string[]; on: string }>> }
  const need = createRequire(import.meta.url)
  new Function('module', 'require', own)(module, (name: string) => modules[name] ?? need(name))
  return Object.values(module.exports).map((Export) =>
    renderToStaticMarkup(createElement(Export, { boats: ['a', 'b'], on: 'yes' })).replace(/ data-steady-tag="[^"]*"/g, ''),
  )
}
