import fc from 'fast-check'
import { expect, test } from 'vitest'
import { attributedLines, changedParts, type ChangedLine } from './changed-lines'

const text = fc.array(fc.constantFrom('a', 'b', 'c', '}', ''), { maxLength: 12 }).map((lines) => lines.map((l) => `${l}\n`).join(''))
const join = (lines: readonly ChangedLine[], without: ChangedLine['kind']) =>
  lines
    .filter((l) => l.kind !== without)
    .map((l) => l.text)
    .join('')

test('what is the same and what goes is the committed text, what is the same and what comes is the text now', () => {
  fc.assert(
    fc.property(text, text, text, (committed, without, now) => {
      const lines = attributedLines(committed, without, now)
      expect(join(lines, 'comes')).toBe(committed)
      expect(join(lines, 'goes')).toBe(now)
      // With all lines of a small text around them the parts are the same two texts.
      for (const { lines: part, line } of changedParts(committed, without, now)) {
        expect(committed).toContain(join(part, 'comes'))
        const rest = now
          .split('\n')
          .slice(line - 1)
          .join('\n')
        expect(rest.startsWith(join(part, 'goes'))).toBe(true)
        expect(part.some((l) => l.kind !== 'same')).toBe(true)
      }
    }),
  )
})

test('what only we or only others changed is told so, line by line', () => {
  fc.assert(
    fc.property(text, text, (committed, now) => {
      expect(attributedLines(committed, committed, now).every((l) => l.kind === 'same' || l.isOurs)).toBe(true)
      expect(attributedLines(committed, now, now).some((l) => l.isOurs)).toBe(false)
      expect(changedParts(now, committed, now)).toEqual([])
    }),
  )
})

test('a line of ours beside one of somebody else', () => {
  const sheet = ['.a { top: 0 }', '.b { top: 0 }', '.c { top: 0 }'].map((l) => `${l}\n`)
  const outside = [sheet[0], '.b { top: 2px }\n', sheet[2]]
  const now = ['.a { top: 1px }\n', outside[1], sheet[2]]
  const [part] = changedParts(sheet.join(''), outside.join(''), now.join(''))
  expect(part.line).toBe(1)
  expect(part.lines.map((l) => `${l.kind} ${l.isOurs} ${l.text.trim()}`)).toEqual([
    'goes true .a { top: 0 }',
    'goes false .b { top: 0 }',
    'comes true .a { top: 1px }',
    'comes false .b { top: 2px }',
    'same false .c { top: 0 }',
  ])
})
