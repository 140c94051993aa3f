import { expect, test } from 'vitest'
import { mimeType } from '../../src/live/mime'
import { languageOf } from '../../src/core/language'
import { decodePath, fileNamed } from '../../src/core/text'

test('malformed addresses and names that tables inherit are read as what they are', () => {
  expect(decodePath('/fares%20%.html')).toBe('/fares%20%.html')
  expect(decodePath('/fares%20a.html')).toBe('/fares a.html')
  expect(fileNamed('../img/100%.png?v=2', 'css/a.css')).toBe('img/100%.png')
  expect([fileNamed('https://example.org/a.css', 'a.html'), fileNamed('http://[', 'a.html')]).toEqual([null, null])
  for (const name of ['x.constructor', 'x.__proto__', 'x.toString', 'constructor'])
    expect([languageOf(name), mimeType(name)]).toEqual([null, 'application/octet-stream'])
})
