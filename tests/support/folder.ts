import type { Studio } from './studio-driver'

/** A folder of the browser's own private file system: the same kind of handle that a folder of the disk has (File System §2.5). */
export class BrowserFolder {
  constructor(
    private readonly studio: Studio,
    private readonly name: string,
  ) {}

  private run<T>(body: string, ...args: unknown[]): Promise<T> {
    return this.studio.driver
      .executeAsyncScript<{ ok: T } | { error: string }>(
        `
      const done = arguments[arguments.length - 1], [name, ...args] = [...arguments].slice(0, -1)
      const into = async (path, create) => { const parts = path.split('/'); let dir = await (await navigator.storage.getDirectory()).getDirectoryHandle(name, { create: true }); for (const p of parts.slice(0, -1)) dir = await dir.getDirectoryHandle(p, { create }); return [dir, parts.at(-1)] }
      const work = async () => { ${body} }
      work().then((ok) => done({ ok }), (e) => done({ error: String(e) }))`,
        this.name,
        ...args,
      )
      .then((r) => {
        if ('error' in r) throw new Error(r.error)
        return r.ok
      })
  }

  /** Has the window's own chooser of folders give this one. */
  async offer(): Promise<void> {
    await this.run(
      'window.showDirectoryPicker = async () => (await navigator.storage.getDirectory()).getDirectoryHandle(name, { create: true })',
    )
  }

  async write(files: Readonly<Record<string, string | Uint8Array>>): Promise<void> {
    const encoded = Object.entries(files).map(([path, content]) => [path, Buffer.from(content as string).toString('base64')])
    // A script has to end within the driver's time.
    for (let at = 0; at < encoded.length; at += 400) {
      await this.run(
        `for (const [path, data] of args[0]) { const [dir, file] = await into(path, true); const s = await (await dir.getFileHandle(file, { create: true })).createWritable(); await s.write(Uint8Array.from(atob(data), (c) => c.charCodeAt(0))); await s.close() }`,
        encoded.slice(at, at + 400),
      )
    }
  }

  /** Small text files in fifty folders, many at a time. */
  async fill(count: number): Promise<void> {
    for (let from = 0; from < count; from += 1000) {
      await this.run(
        `const one = async (i) => { const [dir, file] = await into('data ' + (i % 50) + '/f ' + i + '.txt', true); const s = await (await dir.getFileHandle(file, { create: true })).createWritable(); await s.write('file ' + i); await s.close() }
        for (let i = args[0]; i < args[1]; i += 100) await Promise.all(Array.from({ length: Math.min(100, args[1] - i) }, (_, k) => one(i + k)))`,
        from,
        Math.min(count, from + 1000),
      )
    }
  }

  async read(path: string): Promise<string> {
    const data = await this.run<string>(
      `const [dir, file] = await into(args[0], false); const b = new Uint8Array(await (await (await dir.getFileHandle(file)).getFile()).arrayBuffer()); let s = ''; for (const x of b) s += String.fromCharCode(x); return btoa(s)`,
      path,
    )
    return Buffer.from(data, 'base64').toString('utf8')
  }

  async remove(path: string): Promise<void> {
    await this.run('const [dir, file] = await into(args[0], false); await dir.removeEntry(file)', path)
  }

  /** Opens it as a project that is saved to it. */
  async open(): Promise<void> {
    await this.offer()
    await (await this.studio.driver.findElement({ css: 'header button[aria-haspopup=menu]' })).click()
    await this.studio.menuItem('A folder, to save to it')
    await this.studio.press('Open the folder')
    // Thousands of files take their time.
    await this.studio.driver.wait(
      () =>
        this.studio.driver.executeScript<boolean>(
          'return document.title.startsWith(arguments[0]) && document.querySelector("main[data-connected]") !== null',
          this.name,
        ),
      90_000,
      'the folder was not opened',
    )
    await this.studio.ready()
  }
}
