import { constants } from 'node:fs'
import { copyFile, link, lstat, mkdir, readdir, readFile, readlink, rename, rm, symlink, writeFile } from 'node:fs/promises'
import { dirname, isAbsolute, join, relative, resolve, sep } from 'node:path'
import { watch } from 'chokidar'
import { KEPT_FOLDER, type UnsavedText } from '../../folder'
import { stamped } from './stamped'

/** Files that are copied or linked at a time. */
const AT_ONCE = 64

/** What a server writes, or nothing of the project: it is made again in the copy. */
const LEFT_OUT: ReadonlySet<string> = new Set(['.git', '.next', '.astro', '.turbo', '.vercel', KEPT_FOLDER])
const PACKAGES = 'node_modules'

const isSource = (path: string): boolean => /\.([cm]?[jt]sx?|css|pcss|scss|sass|less)$/i.test(path)

// A name from the top of the project, `/` between folders.
const slashed = (path: string): string => path.replaceAll(sep, '/')

/** Whether nothing leads from a folder to a path outside of it. */
const isBelow = (path: string): boolean => path !== '' && path.split(sep)[0] !== '..' && !isAbsolute(path)

async function eachAtOnce<T>(list: readonly T[], work: (of: T) => Promise<unknown>): Promise<void> {
  for (let at = 0; at < list.length; at += AT_ONCE) await Promise.all(list.slice(at, at + AT_ONCE).map(work))
}

/**
 * A copy of a project that its server runs in. Sources stand in it with stamps, and with the texts that are not saved, so that
 * the server shows those and writes nothing into the project. Installed packages are the same files by another name (hard links).
 */
export class Mirror {
  /** Texts that stand in the place of files, by their paths from the top of the project. */
  private readonly unsaved = new Map<string, string>()
  private written = 0
  /** What is being brought to the copy. */
  private last: Promise<unknown> = Promise.resolve()

  /** `at` is the top of the copy; `beside` a folder of ours on the same file system, which nobody watches. */
  private constructor(
    private readonly root: string,
    readonly at: string,
    private readonly beside: string,
  ) {}

  /** Copies the project at `root`, a real path, to a folder in `place`; the copy follows what is changed in the project. */
  static async make(root: string, place: string): Promise<Mirror> {
    // The last name is the project's own: servers name it in what they print.
    const mirror = new Mirror(root, join(place, 'copy', root.split(sep).at(-1) || 'project'), join(place, 'beside'))
    // Started again, it begins with nothing that the project may not have any more.
    await rm(join(place, 'copy'), { recursive: true, force: true })
    await mkdir(mirror.at, { recursive: true })
    await mkdir(mirror.beside, { recursive: true })
    // What is changed while it is copied is brought to the copy after that.
    mirror.follow()
    await mirror.inTurn(() => mirror.copyFolder('', false))
    return mirror
  }

  private async copyFolder(path: string, packages: boolean): Promise<void> {
    const entries = await readdir(join(this.root, path), { withFileTypes: true })
    await mkdir(join(this.at, path), { recursive: true })
    const folders: string[] = []
    const files: string[] = []
    for (const entry of entries) {
      const own = join(path, entry.name)
      if (!packages && LEFT_OUT.has(entry.name)) continue
      if (entry.isSymbolicLink()) await this.copyLink(own)
      else if (entry.isDirectory()) folders.push(own)
      else if (entry.isFile()) files.push(own)
    }
    await eachAtOnce(files, (file) => (packages ? this.linkFile(file) : this.bring(file)))
    for (const folder of folders) await this.copyFolder(folder, packages || folder.split(sep).at(-1) === PACKAGES)
  }

  private async linkFile(path: string): Promise<void> {
    const [from, to] = [join(this.root, path), join(this.at, path)]
    try {
      await link(from, to)
    } catch {
      // Another file system, or one without such links.
      await copyFile(from, to, constants.COPYFILE_FICLONE)
    }
  }

  // One that leads within the project leads within the copy; any other to where it led.
  private async copyLink(path: string): Promise<void> {
    const from = join(this.root, path)
    const target = resolve(dirname(from), await readlink(from))
    const inside = isBelow(relative(this.root, target))
    await symlink(inside ? relative(dirname(from), target) : target, join(this.at, path)).catch(() => {})
  }

  /** Brings a file of the project to the copy as it is now; true where the copy had another. */
  private async bring(path: string): Promise<boolean> {
    const to = join(this.at, path)
    const text = this.unsaved.get(slashed(path))
    if (text === undefined && !isSource(path)) {
      await copyFile(join(this.root, path), to, constants.COPYFILE_FICLONE).catch(() => rm(to, { force: true }))
      return true
    }
    const now = text ?? (await readFile(join(this.root, path), 'utf8').catch(() => null))
    if (now === null) {
      await rm(to, { force: true })
      return true
    }
    const wanted = stamped(now, slashed(path))
    if ((await readFile(to, 'utf8').catch(() => null)) === wanted) return false
    // Renamed over the old one: a server that looks meanwhile sees one text or the other.
    const made = join(this.beside, String(++this.written))
    await mkdir(dirname(to), { recursive: true })
    await writeFile(made, wanted)
    await rename(made, to)
    return true
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const next = this.last.then(work, work)
    this.last = next.catch(() => {})
    return next
  }

  /** Has the copy hold these texts in place of files; with `alone`, all others as the files are. */
  show(files: readonly UnsavedText[], alone: boolean): Promise<void> {
    return this.inTurn(async () => {
      const shown = new Map(files.map(({ path, text }) => [path, text]))
      const others = alone ? [...this.unsaved.keys()].filter((path) => !shown.has(path)) : []
      for (const path of others) this.unsaved.delete(path)
      for (const [path, text] of shown) if (isBelow(relative(this.root, join(this.root, path)))) this.unsaved.set(path, text)
      await eachAtOnce([...others, ...this.unsaved.keys()], (path) => this.bring(path))
    })
  }

  private follow(): void {
    const top = this.root
    const watcher = watch(top, {
      ignoreInitial: true,
      followSymlinks: false,
      ignored: (path) =>
        relative(top, path)
          .split(sep)
          .some((name) => name === PACKAGES || LEFT_OUT.has(name)),
    })
    watcher.on('all', (event, path) => {
      const own = relative(top, path)
      if (!isBelow(own)) return
      void this.inTurn(async () => {
        if (event === 'addDir') await mkdir(join(this.at, own), { recursive: true })
        else if (event === 'unlinkDir') await rm(join(this.at, own), { recursive: true, force: true })
        // A link that came since leads where it leads; what it leads to is not watched.
        else if (await isFileOrGone(path)) await this.bring(own)
      }).catch(() => {})
    })
    watcher.on('error', () => {})
  }
}

const isFileOrGone = async (path: string): Promise<boolean> => {
  const found = await lstat(path).catch(() => null)
  return found === null || found.isFile()
}
