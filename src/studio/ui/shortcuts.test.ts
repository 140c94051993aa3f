// @vitest-environment jsdom
import { expect, test } from 'vitest'
import { SHORTCUTS } from './shortcuts'

test('no two keys are the same, each is shown as it is pressed and says what it does', () => {
  const keys = SHORTCUTS.map((s) => `${s.alt ? 'Alt ' : ''}${s.key}`)
  expect(keys.filter((key, i) => keys.indexOf(key) !== i)).toEqual([])
  const names: Readonly<Record<string, string>> = {
    arrowup: '↑',
    arrowdown: '↓',
    arrowleft: '←',
    arrowright: '→',
    escape: 'Esc',
    delete: 'Del',
    enter: 'Enter',
  }
  for (const { key, shown, alt, hold, does } of SHORTCUTS) {
    const name = names[key] ?? key.toUpperCase()
    expect(shown).toBe(`${alt ? 'Alt ' : ''}${name}${hold ? ', held' : ''}`)
    expect(does).toMatch(/^\S/)
    // Letters with Ctrl are the browser's.
    expect(shown).not.toContain('Ctrl')
  }
})
