const bytes = (text: string) => new TextEncoder().encode(text)

let clock = 1000

/** What is asked before a file is read, opened for writing, written or closed: it throws where the disk or the permission would. */
export type Hook = (doing: 'read' | 'open' | 'write' | 'close', path: string) => void | Promise<void>

/** A folder in memory. */
export class Folder {
  readonly kind = 'directory'
  readonly entries = new Map<string, Folder | Stored>()
  constructor(
    readonly name: string,
    private readonly fail: Hook = () => {},
    private readonly path = '',
  ) {}

  put(path: string, text: string): this {
    return this.putBytes(path, bytes(text))
  }
  putBytes(path: string, content: Uint8Array): this {
    const [first, ...rest] = path.split('/')
    if (rest.length === 0) {
      // What has the file open goes on with the same one.
      const there = this.entries.get(first)
      if (there instanceof Stored) there.set(content)
      else this.entries.set(first, new Stored(first, this.path + first, content, this.fail))
    } else this.folder(first).putBytes(rest.join('/'), content)
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
    const there = this.entries.get(name)
    // What is in a folder does not go with it unless that is asked for (File System §2.4).
    if (there instanceof Folder && there.entries.size > 0) throw new DOMException('', 'InvalidModificationError')
    this.entries.delete(name)
  }
}

class Stored {
  readonly kind = 'file'
  private modified = ++clock
  constructor(
    readonly name: string,
    private readonly path: string,
    public bytes: Uint8Array,
    private readonly fail: Hook,
  ) {}
  set(bytes: Uint8Array): void {
    this.bytes = bytes
    this.modified = ++clock
  }
  async getFile() {
    await this.fail('read', this.path)
    const copy = this.bytes.slice()
    return {
      size: copy.length,
      lastModified: this.modified,
      arrayBuffer: async () => copy.buffer,
      text: async () => new TextDecoder().decode(copy),
    }
  }
  async createWritable() {
    await this.fail('open', this.path)
    let next = new Uint8Array()
    return {
      write: async (data: Uint8Array | string) => {
        await this.fail('write', this.path)
        next = typeof data === 'string' ? bytes(data) : data.slice()
      },
      close: async () => {
        await this.fail('close', this.path)
        this.set(next)
      },
      abort: async () => {},
    }
  }
}

export const asHandle = (folder: Folder) => folder as unknown as FileSystemDirectoryHandle
