import { describe, expect, test } from 'vitest'
import { asHandle, Folder } from '../../tests/support/memory-folder'
import { SaveError, type Write } from './folder'
import { PickedFolder } from './picked-folder'

const picked = (folder: Folder) => new PickedFolder(asHandle(folder))
const writeFiles = (folder: Folder, writes: readonly Write[]) => picked(folder).write(writes)
const bytes = (text: string) => new TextEncoder().encode(text)

const write = (path: string, before: string | null, after: string) => ({
  path,
  before: before === null ? null : bytes(before),
  after: bytes(after),
})

describe('writing to a folder', () => {
  test('all files get their text, new ones too, and it is told when', async () => {
    const folder = new Folder('f').put('a.css', 'old').put('sub/b.css', 'old b')
    const when = await writeFiles(folder, [
      write('a.css', 'old', 'new'),
      write('sub/b.css', 'old b', 'new b'),
      write('x/y/c.css', null, 'c'),
    ])
    expect([folder.text('a.css'), folder.text('sub/b.css'), folder.text('x/y/c.css')]).toEqual(['new', 'new b', 'c'])
    expect([...when.keys()]).toEqual(['a.css', 'sub/b.css', 'x/y/c.css'])
    for (const time of when.values()) expect(time).toBeGreaterThan(1000)
  })

  test.each<[string, string, 'open' | 'write' | 'close', RegExp]>([
    ['NotAllowedError', 'c.css', 'open', /^c\.css: there is no permission/],
    ['QuotaExceededError', 'b.css', 'write', /^b\.css: the disk is full/],
    ['QuotaExceededError', 'b.css', 'close', /^b\.css: the disk is full/],
    ['NoModificationAllowedError', 'a.css', 'open', /^a\.css: it is read-only/],
    ['InvalidStateError', 'c.css', 'close', /^c\.css: it was changed meanwhile/],
  ])('%s at %s (%s): the file is named and all are as they were', async (name, at, when, why) => {
    const folder = new Folder('f', (doing, path) => {
      if (doing === when && path === at) throw new DOMException('', name)
    })
      .put('a.css', 'a')
      .put('b.css', 'b')
    const failed = writeFiles(folder, [write('a.css', 'a', 'a2'), write('b.css', 'b', 'b2'), write('c.css', null, 'c2')])
    await expect(failed).rejects.toThrow(SaveError)
    await expect(failed).rejects.toThrow(why)
    expect([folder.text('a.css'), folder.text('b.css'), folder.text('c.css')]).toEqual(['a', 'b', null])
  })

  test('a file that is not what it is believed to be is not written over, nor any other', async () => {
    const folder = new Folder('f').put('a.css', 'a').put('b.css', 'theirs')
    await expect(writeFiles(folder, [write('a.css', 'a', 'a2'), write('b.css', 'b', 'b2')])).rejects.toThrow(
      /^b\.css: it was changed in the folder meanwhile/,
    )
    await expect(writeFiles(folder, [write('gone.css', 'x', 'y')])).rejects.toThrow(/^gone\.css: it is gone/)
    expect([folder.text('a.css'), folder.text('b.css')]).toEqual(['a', 'theirs'])
    expect(await picked(folder).read('no/such.css')).toBe(null)
  })

  test('what another program writes while ours are being written stays, and ours are put back', async () => {
    let raced = false
    const folder: Folder = new Folder('f', (doing, path) => {
      if (doing !== 'write' || path !== 'b.css' || raced) return
      raced = true
      folder.put('b.css', 'theirs')
    })
      .put('a.css', 'a')
      .put('b.css', 'b')
    await expect(writeFiles(folder, [write('a.css', 'a', 'a2'), write('b.css', 'b', 'b2')])).rejects.toThrow(
      /^b\.css: it was changed in the folder meanwhile/,
    )
    expect([folder.text('a.css'), folder.text('b.css')]).toEqual(['a', 'theirs'])
  })
})

test('what is no source is left out, and taken in where it is wanted', async () => {
  const folder = new Folder('f')
    .put('.gitignore', '*.log\n/private/\n')
    .put('index.html', '')
    .put('a.log', '')
    .put('private/x.html', '')
    .put('sub/private/x.html', '')
    .put('sub/.gitignore', 'tmp\n')
    .put('sub/tmp/x.html', '')
    .put('node_modules/p/i.js', '')
    .put('.git/HEAD', '')
    .put('dist/i.html', '')
    .put('package.json', '{}')
  const paths = async (include: readonly string[]) => (await picked(folder).list(new Set(include))).files.map((f) => f.path).sort()
  expect(await paths([])).toEqual(['index.html', 'package.json', 'sub/private/x.html'])
  expect(await paths(['dist', 'private'])).toEqual(['dist/i.html', 'index.html', 'package.json', 'private/x.html', 'sub/private/x.html'])
  expect((await picked(folder).list(new Set())).leftOut).toEqual(
    expect.arrayContaining([
      { path: '.git', why: 'hidden' },
      { path: 'node_modules', why: 'packages' },
      { path: 'dist', why: 'build output' },
      { path: 'private', why: '.gitignore' },
      { path: 'sub/tmp', why: '.gitignore' },
    ]),
  )
  const stop = new AbortController()
  stop.abort(new Error('stopped'))
  await expect(picked(folder).list(new Set(), stop.signal)).rejects.toThrow('stopped')
})
