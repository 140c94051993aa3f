import { describe, expect, test } from 'vitest'
import { listFolder, readFile, SaveError, writeFiles } from './folder'

const bytes = (text: string) => new TextEncoder().encode(text)

/** A folder in memory; `fail` throws where the disk or the permission would. */
class Folder {
  readonly kind = 'directory'
  readonly entries = new Map<string, Folder | Stored>()
  constructor(readonly name: string, private readonly fail: (doing: 'open' | 'write' | 'close', path: string) => void = () => {}, private readonly path = '') {}

  put(path: string, text: string): this {
    const [first, ...rest] = path.split('/')
    if (rest.length === 0) this.entries.set(first, new Stored(first, this.path + first, bytes(text), this.fail))
    else this.folder(first).put(rest.join('/'), text)
    return this
  }
  private folder(name: string): Folder {
    const there = this.entries.get(name)
    if (there instanceof Folder) return there
    const made = new Folder(name, this.fail, `${this.path}${name}/`)
    this.entries.set(name, made)
    return made
  }
  text(path: string): string | null {
    const [first, ...rest] = path.split('/')
    const entry = this.entries.get(first)
    if (entry instanceof Folder) return entry.text(rest.join('/'))
    return entry ? new TextDecoder().decode(entry.bytes) : null
  }
  async *values() {
    yield* this.entries.values()
  }
  async getDirectoryHandle(name: string, { create = false } = {}) {
    const there = this.entries.get(name)
    if (there instanceof Stored) throw new DOMException('', 'TypeMismatchError')
    if (!there && !create) throw new DOMException('', 'NotFoundError')
    return this.folder(name)
  }
  async getFileHandle(name: string, { create = false } = {}) {
    const there = this.entries.get(name)
    if (there instanceof Folder) throw new DOMException('', 'TypeMismatchError')
    if (!there && !create) throw new DOMException('', 'NotFoundError')
    if (!there) this.put(name, '')
    return this.entries.get(name) as Stored
  }
  async removeEntry(name: string) {
    this.entries.delete(name)
  }
}

class Stored {
  readonly kind = 'file'
  constructor(readonly name: string, private readonly path: string, public bytes: Uint8Array, private readonly fail: (doing: 'open' | 'write' | 'close', path: string) => void) {}
  async getFile() {
    const copy = this.bytes.slice()
    return { size: copy.length, lastModified: 5, arrayBuffer: async () => copy.buffer, text: async () => new TextDecoder().decode(copy) }
  }
  async createWritable() {
    this.fail('open', this.path)
    let next = new Uint8Array()
    return {
      write: async (data: Uint8Array) => {
        this.fail('write', this.path)
        next = data.slice()
      },
      close: async () => {
        this.fail('close', this.path)
        this.bytes = next
      },
      abort: async () => {},
    }
  }
}

const asHandle = (folder: Folder) => folder as unknown as FileSystemDirectoryHandle
const write = (path: string, before: string | null, after: string) => ({ path, before: before === null ? null : bytes(before), after: bytes(after) })

describe('writing to a folder', () => {
  test('all files get their text, new ones too, and it is told when', async () => {
    const folder = new Folder('f').put('a.css', 'old').put('sub/b.css', 'old b')
    const when = await writeFiles(asHandle(folder), [write('a.css', 'old', 'new'), write('sub/b.css', 'old b', 'new b'), write('x/y/c.css', null, 'c')])
    expect([folder.text('a.css'), folder.text('sub/b.css'), folder.text('x/y/c.css')]).toEqual(['new', 'new b', 'c'])
    expect([...when]).toEqual([['a.css', 5], ['sub/b.css', 5], ['x/y/c.css', 5]])
  })

  test.each<[string, string, 'open' | 'write' | 'close', RegExp]>([
    ['NotAllowedError', 'c.css', 'open', /^c\.css: there is no permission/], ['QuotaExceededError', 'b.css', 'write', /^b\.css: the disk is full/], ['QuotaExceededError', 'b.css', 'close', /^b\.css: the disk is full/],
    ['NoModificationAllowedError', 'a.css', 'open', /^a\.css: it is read-only/], ['InvalidStateError', 'c.css', 'close', /^c\.css: it was changed meanwhile/],
  ])('%s at %s (%s): the file is named and all are as they were', async (name, at, when, why) => {
    const folder = new Folder('f', (doing, path) => {
      if (doing === when && path === at) throw new DOMException('', name)
    }).put('a.css', 'a').put('b.css', 'b')
    const failed = writeFiles(asHandle(folder), [write('a.css', 'a', 'a2'), write('b.css', 'b', 'b2'), write('c.css', null, 'c2')])
    await expect(failed).rejects.toThrow(SaveError)
    await expect(failed).rejects.toThrow(why)
    expect([folder.text('a.css'), folder.text('b.css'), folder.text('c.css')]).toEqual(['a', 'b', null])
  })

  test('a file that is not what it is believed to be is not written over, nor any other', async () => {
    const folder = new Folder('f').put('a.css', 'a').put('b.css', 'theirs')
    await expect(writeFiles(asHandle(folder), [write('a.css', 'a', 'a2'), write('b.css', 'b', 'b2')])).rejects.toThrow(/^b\.css: it was changed in the folder meanwhile/)
    await expect(writeFiles(asHandle(folder), [write('gone.css', 'x', 'y')])).rejects.toThrow(/^gone\.css: it is gone/)
    expect([folder.text('a.css'), folder.text('b.css')]).toEqual(['a', 'theirs'])
    expect(await readFile(asHandle(folder), 'no/such.css')).toBe(null)
  })
})

test('what is no source is left out, and taken in where it is wanted', async () => {
  const folder = new Folder('f').put('.gitignore', '*.log\n/private/\n').put('index.html', '').put('a.log', '').put('private/x.html', '').put('sub/private/x.html', '').put('sub/.gitignore', 'tmp\n').put('sub/tmp/x.html', '').put('node_modules/p/i.js', '').put('.git/HEAD', '').put('dist/i.html', '').put('package.json', '{}')
  const paths = async (include: readonly string[]) => (await listFolder(asHandle(folder), new Set(include))).files.map((f) => f.path).sort()
  expect(await paths([])).toEqual(['index.html', 'package.json', 'sub/private/x.html'])
  expect(await paths(['dist', 'private'])).toEqual(['dist/i.html', 'index.html', 'package.json', 'private/x.html', 'sub/private/x.html'])
  expect((await listFolder(asHandle(folder), new Set())).leftOut).toEqual(expect.arrayContaining([{ path: '.git', why: 'hidden' }, { path: 'node_modules', why: 'packages' }, { path: 'dist', why: 'build output' }, { path: 'private', why: '.gitignore' }, { path: 'sub/tmp', why: '.gitignore' }]))
  const stop = new AbortController()
  stop.abort(new Error('stopped'))
  await expect(listFolder(asHandle(folder), new Set(), stop.signal)).rejects.toThrow('stopped')
})
