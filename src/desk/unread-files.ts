import type { UnreadFile } from '../storage/projects'

/** What {@link UnreadFiles} reads from and hands over to. */
export interface Source {
  /** Files as they are, one after another; null for each that is gone. */
  read(paths: readonly string[]): Promise<readonly (Uint8Array | null)[]>
  /** Takes in what was read, before anybody who waits for it goes on. */
  take(files: readonly (UnreadFile & { readonly bytes: Uint8Array | null })[]): Promise<void>
}

/** How many files are read at once, and bytes. */
const AT_ONCE = 1000
const BYTES_AT_ONCE = 8 * 1024 * 1024

/** Files of a folder that a project was opened without: those that are asked for are read first, the rest one after another. */
export class UnreadFiles {
  private readonly todo: Map<string, UnreadFile>
  private readonly underWay = new Map<string, Promise<void>>()
  private rest: Promise<void> | null = null
  private readonly listeners = new Set<(done: number, of: number) => void>()
  private readonly total: number
  private isOver = false

  constructor(
    files: readonly UnreadFile[],
    private readonly source: Source,
  ) {
    this.todo = new Map(files.map((f) => [f.path, f]))
    this.total = files.length
  }

  /** Whether all are read. */
  get isWhole(): boolean {
    return this.todo.size === 0 && this.underWay.size === 0
  }

  /** Ends once those of these that were not read are. @throws what reading them does. */
  async readNow(paths: readonly string[]): Promise<void> {
    const files = [...new Set(paths)].flatMap((path) => this.todo.get(path) ?? [])
    if (files.length) this.begin(files)
    await Promise.all(new Set(paths.flatMap((path) => this.underWay.get(path) ?? [])))
  }

  /** Ends once all are read; `tell` hears how many. @throws what reading them does; it is tried again with the next call. */
  readAll(tell: (done: number, of: number) => void = () => {}): Promise<void> {
    this.listeners.add(tell)
    this.rest ??= this.readRest().finally(() => {
      this.rest = null
      this.listeners.clear()
    })
    return this.rest
  }

  /** Reads no more. */
  stop(): void {
    this.isOver = true
  }

  private async readRest(): Promise<void> {
    // The next are read while those before are stored.
    let before: Promise<void> = Promise.resolve()
    while (this.todo.size > 0 && !this.isOver) {
      const these = this.readNow(this.some())
      await Promise.all([before, this.todo.size === 0 && these])
      before = these
      for (const tell of this.listeners) tell(this.total - this.todo.size - this.underWay.size, this.total)
    }
    await Promise.all(this.underWay.values())
  }

  private some(): string[] {
    const out: string[] = []
    let bytes = 0
    for (const { path, size } of this.todo.values()) {
      if (out.length > 0 && (out.length >= AT_ONCE || bytes + size > BYTES_AT_ONCE)) break
      out.push(path)
      bytes += size
    }
    return out
  }

  private begin(files: readonly UnreadFile[]): void {
    for (const { path } of files) this.todo.delete(path)
    const done = this.read(files)
      .catch((error: unknown) => {
        for (const f of files) this.todo.set(f.path, f)
        throw error
      })
      .finally(() => {
        for (const { path } of files) this.underWay.delete(path)
      })
    for (const { path } of files) this.underWay.set(path, done)
  }

  private async read(files: readonly UnreadFile[]): Promise<void> {
    const read = await this.source.read(files.map((f) => f.path))
    if (!this.isOver) await this.source.take(files.map((f, i) => ({ ...f, bytes: read[i] })))
  }
}
