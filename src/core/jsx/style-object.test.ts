import { parseExpression } from '@babel/parser'
import type * as t from '@babel/types'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { applySplices } from '../text'
import { JsxDocument } from './document'
import { removeJsxStyle, setJsxStyle } from './edit'
import { removeFromStyle, setInStyle, styleEntries } from './style-object'

/** A style object as a file has it, and what stands around it there. */
interface Written {
  readonly text: string
  readonly object: Parameters<typeof setInStyle>[1]
}
function read(text: string): Written {
  const node = parseExpression(text, { plugins: ['typescript'] })
  return { text, object: node as t.ObjectExpression & { start: number; end: number } as Written['object'] }
}

const after = (text: string, property: string, value: string): string => {
  const { object } = read(text)
  const quote = text.includes('"') ? '"' : "'"
  const plan = setInStyle(text, object, property, value, quote)
  return plan.ok ? applySplices(text, plan.splices) : plan.why
}
const without = (text: string, property: string): string | null => {
  const plan = removeFromStyle(text, read(text).object, property)
  return plan?.ok ? applySplices(text, plan.splices) : null
}

test.each([
  // Numbers and strings as the object has them.
  ["{ paddingTop: 8, color: 'teal' }", 'padding-top', '12px', "{ paddingTop: 12, color: 'teal' }"],
  ["{ paddingTop: '8px' }", 'padding-top', '12px', "{ paddingTop: '12px' }"],
  ["{ paddingTop: '8px' }", 'margin-top', '4px', "{ paddingTop: '8px', marginTop: '4px' }"],
  ['{ paddingTop: 8 }', 'margin-top', '4px', '{ paddingTop: 8, marginTop: 4 }'],
  ['{ paddingTop: 8 }', 'padding-top', '1.5rem', "{ paddingTop: '1.5rem' }"],
  ['{ marginTop: -4 }', 'margin-top', '-6px', '{ marginTop: -6 }'],
  // What has no unit stays without one.
  ['{ lineHeight: 1.5 }', 'line-height', '1.6', '{ lineHeight: 1.6 }'],
  ['{ opacity: 1 }', 'z-index', '2', '{ opacity: 1, zIndex: 2 }'],
  ['{ lineHeight: 1.5 }', 'line-height', '24px', "{ lineHeight: '24px' }"],
  // Custom properties are strings under their own names.
  ["{ '--gap': '4px' }", '--gap', '8px', "{ '--gap': '8px' }"],
  ['{}', '--gap', '2', "{ '--gap': '2' }"],
  ['{}', 'padding', '4px', '{ padding: 4 }'],
  ['{ color: "teal" }', 'font-family', '"Pier Sans", serif', `{ color: "teal", fontFamily: '"Pier Sans", serif' }`],
  // Vendor names begin with a capital, that of ms without.
  ["{ color: 'teal' }", '-webkit-line-clamp', '3', "{ color: 'teal', WebkitLineClamp: 3 }"],
  // What is spread and worked out stays, and what comes after it decides.
  ['{ ...base, top: 1 }', 'top', '2px', '{ ...base, top: 2 }'],
  ['{ top: 1, ...base }', 'left', '2px', '{ top: 1, ...base, left: 2 }'],
  // A shorthand that comes later decides, so the longhand goes behind it.
  ['{ paddingTop: 1, padding: 8 }', 'padding-top', '2px', '{ padding: 8, paddingTop: 2 }'],
  // Lines as they are broken.
  ['{\n  top: 1,\n  left: 2,\n}', 'color', 'teal', "{\n  top: 1,\n  left: 2,\n  color: 'teal',\n}"],
  ['{\n  top: 1\n}', 'color', 'teal', "{\n  top: 1,\n  color: 'teal'\n}"],
  // With a type around the value.
  ['{ top: 1 as number }', 'top', '2px', '{ top: 2 as number }'],
])('%s with %s: %s reads %s', (text, property, value, wanted) => {
  expect(after(text, property, value)).toBe(wanted)
})

test('what is worked out while the page runs is not written over; what cannot be a value is refused', () => {
  expect(after('{ top: gap }', 'top', '2px')).toBe('top is worked out while the page runs.')
  expect(after('{ top: 1 }', 'top', '2px; left: 3px')).toBe('“2px; left: 3px” cannot stand as the value of top.')
})

test.each([
  ['{ top: 1, left: 2 }', 'top', '{ left: 2 }'],
  ['{ top: 1, left: 2 }', 'left', '{ top: 1 }'],
  ['{ top: 1 }', 'top', '{  }'],
  ['{ top: 1, }', 'top', '{  }'],
  ['{\n  top: 1,\n  left: 2,\n}', 'left', '{\n  top: 1,\n}'],
  ['{ ...base, left: 2 }', 'left', '{ ...base }'],
])('%s without %s reads %s', (text, property, wanted) => {
  expect(without(text, property)).toBe(wanted)
  expect(without(text, 'color')).toBeNull()
})

const KEYS = ['top', 'left', 'paddingTop', 'opacity', 'lineHeight', 'color', 'zIndex'] as const
const HYPHENATED: Record<(typeof KEYS)[number], string> = {
  top: 'top',
  left: 'left',
  paddingTop: 'padding-top',
  opacity: 'opacity',
  lineHeight: 'line-height',
  color: 'color',
  zIndex: 'z-index',
}
const UNITLESS = new Set(['opacity', 'lineHeight', 'zIndex'])
const VALUE = fc.oneof(
  fc.integer({ min: -40, max: 99 }).map(String),
  fc.constantFrom("'4px'", "'1.5rem'", '"2em"', "'auto'", '`3px`', '0', '-2.5'),
)
const OBJECT = fc
  .record({
    keys: fc.uniqueArray(fc.tuple(fc.constantFrom(...KEYS), VALUE), { selector: ([k]) => k, maxLength: 5 }),
    lines: fc.boolean(),
    comma: fc.boolean(),
    spread: fc.boolean(),
  })
  .map(({ keys, lines, comma, spread }) => {
    const parts = [...(spread ? ['...base'] : []), ...keys.map(([k, v]) => `${k}: ${v}`)]
    if (parts.length === 0) return '{}'
    return lines ? `{\n    ${parts.join(',\n    ')}${comma ? ',' : ''}\n  }` : `{ ${parts.join(', ')}${comma ? ',' : ''} }`
  })

/** What React makes of an object: lengths that are numbers are in px (React DOM, `style`). */
function asReact(text: string): Record<string, string> {
  const object = new Function('base', `return (${text})`)({ bottom: 7 }) as Record<string, string | number>
  return Object.fromEntries(
    Object.entries(object).map(([key, v]) => [key, typeof v === 'number' && v !== 0 && !UNITLESS.has(key) ? `${v}px` : String(v)]),
  )
}

test('after an edit the object has that value and all others as they were, in the same order; taken out, it is gone alone', () => {
  fc.assert(
    fc.property(OBJECT, fc.constantFrom(...KEYS), fc.constantFrom('0', '5px', '-3px', '1.25rem', '2', 'inherit'), (text, key, value) => {
      const before = asReact(text)
      const now = after(text, HYPHENATED[key], value)
      const expected = value === '2' && !UNITLESS.has(key) ? '2' : value
      expect(asReact(now)).toEqual({ ...before, [key]: expected })
      expect(Object.keys(asReact(now)).filter((k) => k in before)).toEqual(Object.keys(before))
      const entries = styleEntries(read(now).object)
      expect(entries.find((e) => e.property === HYPHENATED[key])?.value).toBe(expected)
      const gone = without(now, HYPHENATED[key])!
      const { [key]: _, ...rest } = before
      expect(asReact(gone)).toEqual(rest)
      // Set again, nothing more is written.
      expect(after(now, HYPHENATED[key], value)).toBe(now)
    }),
    { numRuns: 400 },
  )
})

const RECORD = `const styles = {
  box: { padding: 8 },
  line: { color: 'teal' },
}
export const Pier = () => <p style={styles.box}>{tags}</p>
`
test.each<[what: string, before: string, after: string]>([
  ['which one tag takes', RECORD, RECORD.replace('padding: 8', 'padding: 12')],
  [
    'beside others that are taken',
    RECORD.replace('{tags}', '<b style={styles.line} />'),
    RECORD.replace('{tags}', '<b style={styles.line} />').replace('padding: 8', 'padding: 12'),
  ],
  ['which two tags take', RECORD.replace('{tags}', '<b style={styles.box} />'), 'The style is worked out while the page runs.'],
  ['of a record that is taken whole', RECORD.replace('{tags}', '<Dock all={styles} />'), 'The style is worked out while the page runs.'],
  [
    'of a record whose members are looked up',
    RECORD.replace('{tags}', '<b style={styles[kind]} />'),
    'The style is worked out while the page runs.',
  ],
  [
    'of a record that other files may take',
    RECORD.replace('const styles', 'export const styles'),
    'The style is worked out while the page runs.',
  ],
])('a member of a record of styles %s', (_, before, after) => {
  const doc = new JsxDocument(before, 'Pier.tsx')
  const plan = setJsxStyle(doc, doc.elements[0], 'padding', '12px')
  expect(plan.ok ? applySplices(before, plan.splices) : plan.why).toBe(after)
})

test('the last declaration of such a member leaves an empty object, and the tag as it is', () => {
  const doc = new JsxDocument(RECORD, 'Pier.tsx')
  expect(doc.elements[0].attributes).toEqual([{ name: 'style', value: 'padding: 8px' }])
  const plan = removeJsxStyle(doc, doc.elements[0], 'padding')
  const after = plan.ok && applySplices(RECORD, plan.splices)
  expect(after).toContain('style={styles.box}')
  expect(after).toMatch(/box: \{\s*\},/)
})
