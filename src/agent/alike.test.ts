// @vitest-environment jsdom
import fc from 'fast-check'
import { beforeEach, expect, test, vi } from 'vitest'
import { escapeName } from '../core/css'
import { kinOf, likeElements, outermostWithin, uniqueSelector } from './alike'

beforeEach(() => {
  vi.stubGlobal('CSS', { escape: escapeName })
  document.body.innerHTML = ''
})

const all = (selector: string) => [...document.querySelectorAll(selector)]
const one = (selector: string) => document.querySelector(selector)!
const ids = (elements: readonly Element[]) => elements.map((e) => e.id || e.localName)

/** Trees as authors and scripts make them: classes with any characters, ids that stand twice, custom elements. No name begins with a digit, which jsdom does not find. */
const node = fc.letrec<{ node: string }>((tie) => {
  const name = fc.constantFrom('berth', 'tide', 'md:p-4', 'w-1/2', '-x', 'ü', 'a.b', 'x"y')
  const open = fc.tuple(
    fc.constantFrom('div', 'li', 'section', 'x-buoy'),
    fc.uniqueArray(name, { maxLength: 15 }),
    fc.option(fc.constantFrom('quay', 'mole:a', 'a b'), { freq: 4 }),
  )
  const html = ([tag, classes, id]: [string, string[], string | null], inner: readonly string[]) =>
    `<${tag}${classes.length ? ` class="${classes.join(' ').replaceAll('"', '&quot;')}"` : ''}${id === null ? '' : ` id="${id}"`}>${inner.join('')}</${tag}>`
  return {
    node: fc.oneof(
      { maxDepth: 4 },
      open.map((o) => html(o, [])),
      fc.tuple(open, fc.array(tie('node'), { maxLength: 4 })).map(([o, inner]) => html(o, inner)),
    ),
  }
}).node

test('a selector of its own matches the element and no other, whatever names the page has', () => {
  fc.assert(
    fc.property(fc.array(node, { minLength: 1, maxLength: 4 }), (html) => {
      document.body.innerHTML = html.join('')
      for (const element of all('body *')) expect(all(uniqueSelector(element))).toEqual([element])
    }),
    { numRuns: 150 },
  )
})

test('it is short where an id or a class is enough, and names the nearest that tells them apart', () => {
  document.body.innerHTML = `<main><ul id="fares"><li class="fare">a</li><li class="fare low">b</li></ul><ul><li class="fare">c</li></ul></main>`
  const [a, b, c] = all('li')
  expect([uniqueSelector(one('#fares')), uniqueSelector(b), uniqueSelector(a), uniqueSelector(c)]).toEqual([
    '#fares',
    '.fare.low',
    '#fares > .fare:nth-of-type(1)',
    'ul:nth-of-type(2) > .fare',
  ])
  for (const li of [a, b, c]) expect(all(uniqueSelector(li))).toEqual([li])
})

test('elements are like one with the same classes in any order, or with the same tag in a parent of the same kind', () => {
  document.body.innerHTML = `
    <ul class="fares wide"><li id="a" class="fare low">x</li><li id="b" class="low fare">x</li><li id="c" class="fare">x</li></ul>
    <ul class="wide fares"><li id="d">x</li></ul>
    <ol><li id="e">x</li></ol><p id="f">x</p><p id="g" class="">x</p>`
  const like = (id: string, how: 'classes' | 'place') => ids(likeElements(one(`#${id}`), how))
  expect(like('a', 'classes')).toEqual(['a', 'b'])
  expect(like('a', 'place')).toEqual(['a', 'b', 'c', 'd'])
  // Without a class, those of its tag that have none either.
  expect(like('f', 'classes')).toEqual(['f', 'g'])
  expect(like('d', 'classes')).toEqual(['d', 'e'])
})

test('to be like an element is mutual, and each is like itself', () => {
  fc.assert(
    fc.property(fc.array(node, { minLength: 1, maxLength: 3 }), (html) => {
      document.body.innerHTML = html.join('')
      const elements = all('body *')
      for (const how of ['classes', 'place'] as const)
        for (const e of elements) {
          const like = likeElements(e, how)
          expect(like).toContain(e)
          for (const other of like) expect(likeElements(other, how)).toContain(e)
        }
    }),
    { numRuns: 40 },
  )
})

test('kin share a class; without one, they play the same part in a like place', () => {
  document.body.innerHTML = `
    <article class="berth"><h2 id="a">x</h2><p id="b" class="tide">x</p></article>
    <article class="berth wide"><h2 id="c">x</h2><p id="d" class="tide low">x</p></article>
    <footer><h2 id="e">x</h2><p id="f" class="sign">x</p></footer>`
  const kin = (id: string) => {
    const { includes } = kinOf(one(`#${id}`))
    return ids(all('h2, p').filter(includes))
  }
  expect([kin('b'), kin('f'), kin('a')]).toEqual([['b', 'd'], ['f'], ['a', 'c']])
  expect(kinOf(one('#b')).isAskedFor('.tide > b')).toBe(false)
  expect([kinOf(one('#b')).isAskedFor('.berth .tide'), kinOf(one('#b')).isAskedFor('.berth p')]).toEqual([true, false])
})

test('a box takes in what stands wholly in it, the outermost of each branch', () => {
  document.body.innerHTML = `<section id="s"><p id="a">x</p><p id="b">x</p></section><p id="c">x</p><p id="d">x</p>`
  const boxes: Record<string, readonly [x: number, y: number, width: number, height: number]> = {
    s: [0, 0, 100, 100],
    a: [10, 10, 20, 20],
    b: [10, 40, 20, 20],
    c: [0, 110, 100, 20],
    d: [0, 130, 0, 0],
  }
  for (const e of all('body, body *')) {
    const [x, y, width, height] = boxes[e.id] ?? [0, 0, 500, 500]
    e.getBoundingClientRect = () => ({ left: x, top: y, width, height, right: x + width, bottom: y + height }) as DOMRect
  }
  const within = (x: number, y: number, width: number, height: number) => ids(outermostWithin(document, { x, y, width, height }))
  expect(within(0, 0, 200, 200)).toEqual(['s', 'c'])
  expect(within(5, 5, 60, 60)).toEqual(['a', 'b'])
  expect(within(5, 5, 60, 40)).toEqual(['a'])
  expect(within(300, 300, 10, 10)).toEqual([])
})
