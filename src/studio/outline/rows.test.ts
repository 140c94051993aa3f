import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { TreeRow } from '../../agent/protocol'
import { around, outlineOf, unfolded } from './rows'

const row = (node: number, depth: number): TreeRow => ({
  info: { node, origin: 'source', source: `1.${node}`, tag: 'div', id: '', classes: [], twin: null },
  component: '',
  depth,
  text: '',
  layout: '',
  hidden: false,
})

// Depths of a tree in document order: each at most one deeper than the one before it.
const tree = fc.array(fc.nat(), { maxLength: 40 }).map((steps) => {
  const depths = [0]
  for (const s of steps) depths.push(1 + (s % (depths.at(-1)! + 1)))
  return outlineOf(depths.map((depth, i) => row(i + 1, depth)))
})

test('each row stands in the nearest row before it that is less deep, and is counted there', () => {
  fc.assert(
    fc.property(tree, (rows) => {
      for (const r of rows) {
        expect(r.parent).toBe(rows.slice(0, r.index).findLastIndex((x) => x.depth < r.depth))
        const siblings = rows.filter((x) => x.parent === r.parent)
        expect([siblings[r.place - 1], siblings.length]).toEqual([r, r.of])
      }
    }),
  )
})

test('a row is on show exactly while nothing around it is folded', () => {
  fc.assert(
    fc.property(tree, fc.array(fc.integer({ min: 1, max: 41 })), (rows, list) => {
      const folded = new Set(list)
      expect(unfolded(rows, folded)).toEqual(rows.filter((r) => !around(rows, r.index).some((a) => folded.has(a.info.node))))
    }),
  )
})
