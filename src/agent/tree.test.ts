// @vitest-environment jsdom
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { ID_ATTRIBUTE, INTERFACE_ATTRIBUTE } from '../core/html'
import { Handles, parentOf } from './handles'
import { Hiding } from './hiding'
import { findIn, treeOf, watchTree } from './tree'

let handles: Handles

beforeEach(() => {
  handles = new Handles()
  document.head.innerHTML = `<title>Quay</title><script ${INTERFACE_ATTRIBUTE}="x">ours()</script>`
  document.body.innerHTML = `
    <main ${ID_ATTRIBUTE}="1.4" style="display: grid">
      <p ${ID_ATTRIBUTE}="1.5" class="tide" title="High Water">High   at
        six</p><p ${ID_ATTRIBUTE}="1.6" class="tide">Low</p>
      <div ${ID_ATTRIBUTE}="1.7" style="display: none"><b ${ID_ATTRIBUTE}="1.8">Hidden</b></div>
      <i style="visibility: hidden">made by a script</i>
    </main>`
})
afterEach(() => vi.useRealTimers())

const rows = () => treeOf(document, handles)
const row = (tag: string) => rows().find((r) => r.info.tag === tag)!

test('the tree has each element of the page in order, as deep as it stands, and not our own script', () => {
  expect(rows().map((r) => [r.depth, r.info.tag])).toEqual([
    [0, 'html'],
    [1, 'head'],
    [2, 'title'],
    [1, 'body'],
    [2, 'main'],
    [3, 'p'],
    [3, 'p'],
    [3, 'div'],
    [4, 'b'],
    [3, 'i'],
  ])
  expect(row('p').text).toBe('High at six')
  expect([row('main').layout, row('p').layout]).toEqual(['grid', ''])
  expect(['main', 'div', 'b', 'i'].map((tag) => row(tag).hidden)).toEqual([false, true, true, true])
})

test('a row says where its element comes from, and which of its twins it is', () => {
  expect(['html', 'main', 'i'].map((tag) => [row(tag).info.origin, row(tag).info.source])).toEqual([
    ['parser', null],
    ['source', '1.4'],
    ['script', null],
  ])
  expect(
    rows()
      .filter((r) => r.info.tag === 'p')
      .map((r) => r.info.twin),
  ).toEqual([1, 2])
  expect(row('div').info.twin).toBeNull()
})

test('an element keeps its handle, which is nothing once it left the page, and itself again when it is back', () => {
  const main = document.querySelector('main')!
  const handle = handles.handle(main)
  expect([handles.handle(main), handles.element(handle), handles.element(999)]).toEqual([handle, main, null])
  main.remove()
  expect(handles.element(handle)).toBeNull()
  document.body.append(main)
  expect(handles.element(handle)).toBe(main)
})

test('elements are found by selector, by their text and by an attribute, in the order of the page; our marks are none of these', () => {
  const found = (query: string) => findIn(document, query, handles).map((h) => handles.element(h)!.textContent!.trim().slice(0, 3))
  expect(found('.tide')).toEqual(['Hig', 'Low'])
  expect(found('low')).toEqual(['Low'])
  expect(found('HIGH WATER')).toEqual(['Hig'])
  expect(found('title="high')).toEqual(['Hig'])
  expect([found('  '), found('>>'), found('1.5'), found('ours')]).toEqual([[], [], [], []])
})

test('a change of the tree is reported once it rests, and no more when nobody looks', async () => {
  vi.useFakeTimers()
  const told = vi.fn()
  const end = watchTree(document, told)
  for (let i = 0; i < 5; i++) {
    document.body.append(document.createElement('p'))
    await vi.advanceTimersByTimeAsync(100)
  }
  expect(told).not.toHaveBeenCalled()
  await vi.advanceTimersByTimeAsync(300)
  expect(told).toHaveBeenCalledTimes(1)
  document.body.append('text')
  end()
  await vi.advanceTimersByTimeAsync(1000)
  expect(told).toHaveBeenCalledTimes(1)
})

test('what is taken off the page for now has its own style again afterwards', () => {
  const [main, b] = [document.querySelector('main')!, document.querySelector('b')!]
  const before = document.body.innerHTML
  const hiding = new Hiding()
  hiding.hide([main, b])
  expect([main.style.display, b.style.getPropertyPriority('display')]).toEqual(['none', 'important'])
  hiding.hide([main, b])
  hiding.hide([b])
  expect([main.getAttribute('style'), b.style.display]).toEqual(['display: grid', 'none'])
  hiding.hide([])
  expect(document.body.innerHTML).toBe(before)
})

test('from the root of a shadow tree, its host is what stands around', () => {
  const host = document.createElement('x-buoy')
  document.body.append(host)
  const inner = document.createElement('p')
  host.attachShadow({ mode: 'open' }).append(inner)
  expect([parentOf(inner, document), parentOf(document.documentElement, document)]).toEqual([host, null])
})
