import fc from 'fast-check'
import { expect, test } from 'vitest'
import { applySplices } from './splice'
import { conflictsIn, linesOf, lineSplices, mergedText, mergeTexts } from './merge'

const line = fc.constantFrom('a\n', 'b\n', '}\n', '\n', 'c\r\n')
const text = fc.array(line, { maxLength: 14 }).map((lines) => lines.join(''))

test('what turns one text into another gives that other', () => {
  fc.assert(
    fc.property(text, text, (before, after) => {
      expect(applySplices(before, lineSplices(before, after))).toBe(after)
    }),
  )
})

test('a merge with one side unchanged is the other side; with both alike it is that; and each side is found whole in the parts', () => {
  fc.assert(
    fc.property(text, text, text, (base, ours, theirs) => {
      expect(mergedText(mergeTexts(base, ours, base))).toBe(ours)
      expect(mergedText(mergeTexts(base, base, theirs))).toBe(theirs)
      expect(mergedText(mergeTexts(base, ours, ours))).toBe(ours)
      const parts = mergeTexts(base, ours, theirs)
      const mirrored = mergeTexts(base, theirs, ours)
      const n = conflictsIn(parts)
      expect(conflictsIn(mirrored)).toBe(n)
      expect(mergedText(mirrored, Array(n).fill('theirs'))).toBe(mergedText(parts, Array(n).fill('ours')))
      // No line that a side added is in neither the merge nor a conflict.
      const shown = new Set(parts.flatMap((p) => (p.kind === 'same' ? p.lines : [...p.ours, ...p.theirs])))
      const had = new Set(linesOf(base))
      for (const l of [...linesOf(ours), ...linesOf(theirs)]) if (!had.has(l)) expect(shown.has(l)).toBe(true)
    }),
  )
})

test('a sheet of 3,000 rules that are much alike is merged', () => {
  const base = Array.from({ length: 3000 }, (_, i) => `.r${i} {\n  color: red;\n  padding: 0;\n}\n`).join('\n')
  const set = (t: string, rule: number, color: string) => t.replace(`.r${rule} {\n  color: red`, `.r${rule} {\n  color: ${color}`)
  expect(mergedText(mergeTexts(base, set(base, 10, 'blue'), set(base, 2900, 'green')))).toBe(set(set(base, 10, 'blue'), 2900, 'green'))
  expect(conflictsIn(mergeTexts(base, set(base, 10, 'blue'), set(base, 10, 'green')))).toBe(1)
})
