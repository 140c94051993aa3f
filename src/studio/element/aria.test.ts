import { expect, test } from 'vitest'
import { ariaFor, ariaValues, namesIds } from './aria'

test.each<[string, Readonly<Record<string, string>>, string, readonly string[], readonly string[]]>([
  ['button', {}, 'button', ['aria-expanded', 'aria-pressed'], ['aria-checked', 'aria-level']],
  ['input', { type: 'checkbox' }, 'checkbox', ['aria-checked'], ['aria-pressed']],
  ['a', { href: '#' }, 'link', ['aria-expanded'], ['aria-checked']],
  ['div', { role: 'slider' }, 'slider', ['aria-valuenow'], ['aria-level']],
  ['h2', {}, 'heading', ['aria-level'], ['aria-checked']],
])('<%s> with %j is a %s', (tag, attributes, role, has, hasNot) => {
  const found = ariaFor(
    tag,
    Object.entries(attributes).map(([name, value]) => ({ name, value })),
  )
  expect(found.role).toBe(role)
  expect(found.names).toEqual(expect.arrayContaining([...has]))
  for (const name of hasNot) expect(found.names).not.toContain(name)
})

test('what ARIA attributes take', () => {
  expect(ariaFor('div', [{ name: 'role', value: 'slider' }]).required).toEqual(['aria-valuenow'])
  expect(ariaValues('aria-expanded')).toEqual(['true', 'false'])
  expect(ariaValues('aria-current')).toEqual(expect.arrayContaining(['page', 'step']))
  expect([namesIds('aria-labelledby'), namesIds('aria-activedescendant'), namesIds('aria-label')]).toEqual([true, true, false])
})
