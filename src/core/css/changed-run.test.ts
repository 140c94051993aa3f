import fc from 'fast-check'
import { expect, test } from 'vitest'
import { changedRun, Sheet, unpackOutline } from '.'

const PIECES = [
  '.a { top: 0 }',
  '.b{left:1px}',
  '@media (width > 1px) {\n  .c { top: 1px }\n}',
  '/* a comment */',
  '\n\n',
  '.d { & p { top: 1px } color: red; }',
  '@font-face { font-family: Quay }',
  '@layer base { .e { gap: 1px } }',
  '.f:hover, .g { top: 2px }',
]
const sheets = fc.array(fc.constantFrom(...PIECES), { minLength: 1, maxLength: 14 }).map((list) => list.join('\n'))
const edits = fc.array(fc.tuple(fc.nat(1000), fc.nat(12), fc.constantFrom('', ' ', '.n { top: 9px }', '}', '{', '/*', 'top: 3px;', '\n')), {
  minLength: 1,
  maxLength: 4,
})

const idsOf = (sheet: Sheet) => [...sheet.rules()].filter((s) => s.parents.length === 0).map((s) => s.rule.id)

test('what changed of a sheet, put in the place of what is gone between the two rules around it, gives the sheet', () => {
  let told = 0
  fc.assert(
    fc.property(sheets, edits, (text, list) => {
      const sheet = new Sheet(text)
      const before = [...sheet.statements]
      const had = idsOf(sheet)
      for (const [at, length, insert] of list) {
        const from = Math.min(at, sheet.length)
        sheet.apply([{ from, to: Math.min(from + length, sheet.length), insert }])
      }
      const run = changedRun(before, sheet.statements)
      if (!run) return
      told++
      const [from, to] = [run.before === null ? 0 : had.indexOf(run.before) + 1, run.after === null ? had.length : had.indexOf(run.after)]
      expect(from <= to && (run.before === null || from > 0)).toBe(true)
      // All that stood between is said to be gone, and what comes is named by the ids of now.
      expect(run.gone).toEqual(expect.arrayContaining(had.slice(from, to)))
      const now = [...had.slice(0, from), ...unpackOutline(run.outline).map((r) => r.id), ...had.slice(to)]
      expect(now).toEqual(idsOf(sheet))
      expect(sheet.text).toContain(run.text)
    }),
    { numRuns: 400 },
  )
  expect(told).toBeGreaterThan(200)
})

test('a sheet whose head decides how the rest is read is told as a whole', () => {
  for (const head of ['@import "a.css";', '@namespace svg url(x);', '@charset "utf-8";', '@layer one, two;']) {
    const sheet = new Sheet(`${head}\n.a { top: 0 }\n`)
    const before = [...sheet.statements]
    sheet.apply([{ from: sheet.length - 3, to: sheet.length - 3, insert: '; left: 0' }])
    expect([head, changedRun(before, sheet.statements)]).toEqual([head, null])
  }
})
