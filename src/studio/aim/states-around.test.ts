import { expect, test } from 'vitest'
import type { NodeInfo } from '../../agent/protocol'
import { statesAround } from './states-around'

const around = (...elements: readonly (readonly [tag: string, ...classes: string[]])[]): NodeInfo[] =>
  elements.map(([tag, ...classes]) => ({ tag, classes }) as unknown as NodeInfo)

test('an element around is named by its first class, or by its tag where that is a thing one points at', () => {
  expect(statesAround(around(['div', 'card', 'wide'], ['section'], ['a'], ['body', 'page']), false)).toEqual([
    '.card:hover &',
    '.card:focus-within &',
    'a:hover &',
    'a:focus-within &',
  ])
})

test('where classes are no names, those that mark a group are, and things by their tags', () => {
  expect(statesAround(around(['div', 'flex', 'group/card'], ['li', 'p-4'], ['div', 'grid']), true)).toEqual([
    String.raw`.group\/card:hover &`,
    String.raw`.group\/card:focus-within &`,
    'li:hover &',
    'li:focus-within &',
  ])
})

test('a dark scheme by a class around is one to wait for; of many elements the nearest few are named, each once', () => {
  const many = around(['div', 'a'], ['div', 'a'], ['div', 'b'], ['div', 'c'], ['div', 'd'], ['html', 'dark'])
  expect(statesAround(many, false)).toEqual([
    '.dark &',
    '.a:hover &',
    '.a:focus-within &',
    '.b:hover &',
    '.b:focus-within &',
    '.c:hover &',
    '.c:focus-within &',
  ])
})
