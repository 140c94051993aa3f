import fc from 'fast-check'
import { expect, test } from 'vitest'
import { packFiles, unpackFiles } from './packed-files'

test('files come apart as they were put together, and what is cut off or of another number is refused', () => {
  const files = fc.array(fc.option(fc.uint8Array({ maxLength: 40 })), { minLength: 1, maxLength: 8 })
  fc.assert(
    fc.property(files, fc.nat(), (list, cut) => {
      const packed = packFiles(list)
      expect(unpackFiles(packed, list.length).map((f) => f && [...f])).toEqual(list.map((f) => f && [...f]))
      expect(() => unpackFiles(packed.subarray(0, cut % packed.length), list.length)).toThrow(RangeError)
      expect(() => unpackFiles(packed, list.length + 1)).toThrow(RangeError)
    }),
  )
})
