import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  applySplices,
  composeSplices,
  decodeSource,
  diffSplice,
  encodeSource,
  EncodingError,
  invertSplices,
  LineIndex,
  mapOffset,
  mapSpan,
  type Splice,
} from '.'

const text = fc.string({ unit: fc.constantFrom('a', 'b', '{', '\n', '\r\n', 'é', '𝛑'), maxLength: 40 })

/** Sorted splices that fit a text of `length`. */
const splicesFor = (length: number) =>
  fc.array(fc.tuple(fc.nat(length), fc.nat(length), fc.string({ maxLength: 4 })), { maxLength: 5 }).map((raw) => {
    const points = raw.flatMap(([a, b]) => [a, b]).sort((a, b) => a - b)
    return raw.map(([, , insert], i): Splice => ({ from: points[2 * i], to: points[2 * i + 1], insert }))
  })

const edited = text.chain((t) => fc.tuple(fc.constant(t), splicesFor(t.length)))

describe('splices', () => {
  test('an edit and its inverse give the same text back', () => {
    fc.assert(
      fc.property(edited, ([t, set]) => {
        expect(applySplices(applySplices(t, set), invertSplices(set, t))).toBe(t)
      }),
    )
  })

  test('composing equals applying in turn', () => {
    const twice = edited.chain(([t, a]) => fc.tuple(fc.constant(t), fc.constant(a), splicesFor(applySplices(t, a).length)))
    fc.assert(
      fc.property(twice, ([t, a, b]) => {
        expect(applySplices(t, composeSplices(a, b, t))).toBe(applySplices(applySplices(t, a), b))
      }),
      { numRuns: 500 },
    )
  })

  test('a span that no splice touches keeps its text', () => {
    fc.assert(
      fc.property(edited, fc.nat(40), fc.nat(40), ([t, set], x, y) => {
        const span = { from: Math.min(x, y), to: Math.min(Math.max(x, y), t.length) }
        fc.pre(span.from < span.to && set.every((s) => s.to <= span.from || s.from >= span.to))
        const mapped = mapSpan(set, span)!
        expect(applySplices(t, set).slice(mapped.from, mapped.to)).toBe(t.slice(span.from, span.to))
      }),
    )
  })

  test('sides differ only where text went in', () => {
    const set = [{ from: 2, to: 2, insert: 'xy' }]
    expect([mapOffset(set, 2, 'before'), mapOffset(set, 2, 'after'), mapOffset(set, 3, 'before')]).toEqual([2, 4, 5])
    expect(mapSpan([{ from: 1, to: 5, insert: '' }], { from: 2, to: 4 })).toBeNull()
  })

  test('the difference of two texts is one splice that makes the second', () => {
    fc.assert(
      fc.property(text, text, (a, b) => {
        const splice = diffSplice(a, b)
        expect(splice ? applySplices(a, [splice]) : a).toBe(b)
      }),
    )
  })

  test('a splice past the end is refused', () => {
    expect(() => applySplices('abc', [{ from: 2, to: 9, insert: '' }])).toThrow(RangeError)
  })
})

describe('bytes', () => {
  test('decoding and encoding give the same bytes, with and without a byte order mark', () => {
    fc.assert(
      fc.property(text, fc.boolean(), (t, bom) => {
        const bytes = encodeSource({ text: t, bom })
        expect(decodeSource(bytes)).toEqual({ text: t, bom })
        expect(encodeSource(decodeSource(bytes))).toEqual(bytes)
      }),
    )
  })

  test('another encoding is named', () => {
    expect(() => decodeSource(new Uint8Array([0xff, 0xfe, 0x41, 0]))).toThrow(/UTF-16 LE/)
    expect(() => decodeSource(new Uint8Array([0x63, 0xe9]))).toThrow(EncodingError)
  })
})

test('lines end at LF, CR LF and CR', () => {
  const index = new LineIndex('a\r\nb\nc\rd')
  expect([0, 3, 5, 7].map((o) => index.lineAt(o))).toEqual([1, 2, 3, 4])
  expect([1, 2, 3, 4].map((l) => index.lineText(l))).toEqual(['a', 'b', 'c', 'd'])
})
