import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { zipSync } from 'fflate'
import { describe, expect, test } from 'vitest'
import { ImportError } from '../folder'
import { checkImport, isLeftOut, safePath, unzipFiles, zipOf } from './archive'
import { gitPath } from '../core/text'
import { newFilePatch } from './binary-patch'
import { readView } from './view'

const bytes = (text: string) => new TextEncoder().encode(text)

describe('what is brought in', () => {
  test.each(['../a', 'a/../../b', '/etc/passwd', 'C:\\x', '..\\a', 'a\0b', ''])('a path such as %j is refused', (path) => {
    expect(() => safePath(path)).toThrow(ImportError)
  })

  test('paths are kept as the project needs them', () => {
    expect(['./a/b.css', 'a\\b.css', 'a//b.css'].map(safePath)).toEqual(['a/b.css', 'a/b.css', 'a/b.css'])
    expect(['.git/x', 'a/node_modules/b', '.env', 'a/b'].map(isLeftOut)).toEqual([true, true, true, false])
  })

  test('a folder around everything is dropped, a file twice is refused', () => {
    const files = [
      { path: 'site/index.html', bytes: bytes('x') },
      { path: 'site/a/b.css', bytes: bytes('y') },
    ]
    expect(checkImport(files).map((f) => f.path)).toEqual(['index.html', 'a/b.css'])
    expect(() => checkImport([files[0], files[0]])).toThrow(/twice/)
  })

  test('what is zipped comes out the same', async () => {
    const files = [
      { path: 'index.html', bytes: bytes('\ufeffé\r\n') },
      { path: 'a b/ü"\'.css', bytes: new Uint8Array([0, 255, 1]) },
    ]
    expect(await unzipFiles('x.zip', await zipOf(files))).toEqual(files)
  })

  test('a zip that says less than it holds is not trusted with its names', async () => {
    await expect(unzipFiles('x.zip', zipSync({ 'ok.html': bytes('x'), 'a/../../../b': bytes('y') }))).rejects.toThrow(/leads out/)
    await expect(unzipFiles('x.zip', bytes('PK nonsense'))).rejects.toThrow(/damaged/)
  })

  // The files are stored as they are, so that a byte of theirs is a byte of the zip.
  const stored = (files: Record<string, Uint8Array>) => zipSync(files, { level: 0 })
  const find = (zip: Uint8Array, text: string, from = 0) => Buffer.from(zip).indexOf(text, from)

  test('a zip with a byte that is another, a size that is not so, or a name twice is refused by name', async () => {
    const zip = stored({ 'a.css': bytes('p { top: 0 }'), 'b.css': bytes('q { top: 0 }') })
    const turned = zip.slice()
    turned[find(zip, 'q { top')] = 0x78
    await expect(unzipFiles('x.zip', turned)).rejects.toThrow(/“b\.css” in x\.zip is damaged/)
    const longer = zip.slice()
    const entry = find(zip, 'a.css', find(zip, 'q { top')) - 46
    longer[entry + 24] = 200
    await expect(unzipFiles('x.zip', longer)).rejects.toThrow(/x\.zip/)
    const twice = zip.slice()
    twice[find(zip, 'b.css', find(zip, 'q { top'))] = 0x61
    await expect(unzipFiles('x.zip', twice)).rejects.toThrow(/“a\.css” twice/)
    await expect(unzipFiles('x.zip', zip.slice(0, -30))).rejects.toThrow(/damaged/)
  })

  test('names that mean something to programs are names', async () => {
    const files = [
      { path: 'constructor/toString.css', bytes: bytes('x') },
      { path: 'css/a:b.html', bytes: bytes('y') },
    ]
    expect(await unzipFiles('x.zip', await zipOf(files))).toEqual(files)
    const zip = stored({ 'xxproto__.css': bytes('z'), 'index.html': bytes('w') })
    for (let at = find(zip, 'xxproto'); at >= 0; at = find(zip, 'xxproto', at + 1)) zip.set([0x5f, 0x5f], at)
    expect((await unzipFiles('x.zip', zip)).map((f) => f.path)).toContain('__proto__.css')
  })
})

test('a damaged view is left out, a damaged choice within it too', () => {
  const view = {
    project: 'p',
    page: '/',
    width: null,
    scrollX: 0,
    scrollY: 3,
    mode: 'pick',
    picked: { source: '1.2', nth: 0 },
  }
  expect(readView(view)).toEqual(view)
  expect(readView({ ...view, picked: { source: '<b>', nth: 0 } })?.picked).toBeNull()
  for (const bad of [undefined, 7, {}, { ...view, page: 'javascript:x' }, { ...view, width: 'wide' }, { ...view, mode: 'fly' }])
    expect(readView(bad)).toBeNull()
})

test.each([0, 1, 3, 26, 27, 52, 53, 5000])('a new file of %i bytes is a patch that git applies', async (length) => {
  const dir = mkdtempSync(join(tmpdir(), 'steady-patch-'))
  // Bytes that do not pack well, so that several lines are needed.
  const bytes = Uint8Array.from({ length }, (_, i) => (i * i * 31 + (i >> 3) * 17) & 255)
  execFileSync('git', ['apply', '-'], {
    cwd: dir,
    input: await newFilePatch((prefix) => gitPath(prefix, 'fonts/a b.woff2'), bytes),
  })
  expect(new Uint8Array(readFileSync(join(dir, 'fonts/a b.woff2')))).toEqual(bytes)
})
