import fc from 'fast-check'
import { expect, test } from 'vitest'
import { onto } from './drafts'

test('a draft follows edits of other places of its file, and is as it was where they are of the same', () => {
  expect(onto({ base: 'a{}b{}c{}', text: 'a{x:}b{}c{}', fault: '' }, 'a{}b{}c{d}')).toEqual({
    base: 'a{}b{}c{d}',
    text: 'a{x:}b{}c{d}',
    fault: '',
  })
  expect(onto({ base: 'a{}b{}c{}', text: 'a{}b{}c{x:}', fault: '' }, 'b{}c{}')).toEqual({
    base: 'b{}c{}',
    text: 'b{}c{x:}',
    fault: '',
  })
  expect(onto({ base: 'a{}', text: 'a{x:}', fault: '' }, 'a{y}')).toEqual({ base: 'a{}', text: 'a{x:}', fault: '' })
  // What is typed stays in it, whatever the other edit is.
  fc.assert(
    fc.property(
      fc.string(),
      fc.string({ minLength: 1 }),
      fc.string(),
      fc.nat(40),
      fc.nat(40),
      fc.nat(9),
      (base, typed, edit, at, from, length) => {
        const [i, j] = [at % (base.length + 1), from % (base.length + 1)]
        const after = onto(
          { base, text: base.slice(0, i) + `[${typed}]` + base.slice(i), fault: '' },
          base.slice(0, j) + edit + base.slice(j + length),
        )
        expect(after.text).toContain(`[${typed}]`)
      },
    ),
  )
})
