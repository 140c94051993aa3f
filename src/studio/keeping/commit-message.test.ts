import fc from 'fast-check'
import { expect, test } from 'vitest'
import { draftMessage } from './commit-message'

const edit = (label: string, name: string, after: string, path = 'css/a.css') => ({ label, name, after, path })

test('one edit is one line; several are named, with a line for each', () => {
  expect(draftMessage([])).toBe('')
  expect(draftMessage([edit('.card', 'padding-top', '12px')])).toBe('Set padding-top of .card to 12px')
  expect(draftMessage([edit('.card', 'top', '1px'), edit('.card', 'left', '2px'), edit('.note', 'color', 'teal', 'b.css')])).toBe(
    'Adjust .card and .note\n\n- css/a.css: .card, top 1px\n- css/a.css: .card, left 2px\n- b.css: .note, color teal',
  )
  const many = ['a', 'b', 'c', 'd'].map((label) => edit(label, 'top', '1px'))
  expect(draftMessage(many).split('\n')[0]).toBe('Adjust a, b and 2 more')
})

test('the first line is never longer than what lists of commits show, and every edit has its own', () => {
  const text = fc.string({ minLength: 1, maxLength: 90 }).map((s) => s.replace(/\s/g, 'x'))
  fc.assert(
    fc.property(fc.array(fc.tuple(text, text, text), { minLength: 1, maxLength: 6 }), (list) => {
      const [subject, gap, ...lines] = draftMessage(list.map(([label, name, after]) => edit(label, name, after))).split('\n')
      expect(subject.length).toBeLessThanOrEqual(68)
      expect(subject).toMatch(/^(Set|Adjust) /)
      expect([gap, lines.length]).toEqual(list.length === 1 ? [undefined, 0] : ['', list.length])
    }),
  )
})
