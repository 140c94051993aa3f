import { SCRIPT_SHEET } from '../agent/protocol'
import { isPreprocessed, isStyleModule } from '../core/css'
import { styleBlockAt } from '../core/sfc'
import { decodePath } from '../core/text'
import type { DevReport, Development, UnsavedText } from '../folder'
import { liveOriginFor } from '../live/origin'
import { LiveFaultError, type LiveFault } from './live-fault'
import type { PublishedFile } from '../live/protocol'
import type { PageServer } from './page-server'

/** What scripts are made of, data that they import too. */
const IS_SCRIPT = /\.([cm]?[jt]sx?|json)$/i

/** Whether a sheet is what Tailwind CSS compiles another from. */
export const isCompilerInput = (path: string, text: string): boolean =>
  /\.css$/i.test(path) && /@import\s+(url\(\s*)?["']tailwindcss|@tailwind\s/.test(text)

/** Lines of a server's output that are shown with a fault. */
const SHOWN_LINES = 12

/** A server that runs already. */
export interface RunningServer {
  readonly address: string
  /** Writes what is not saved to the folder, where that changes one of these files: it shows what is there, and nothing else. */
  readonly write: (paths: readonly string[]) => Promise<void>
}

/** Serves the pages of a project of components by its own development server, behind the project's live origin. */
export class DevPageServer implements PageServer {
  readonly hasSaved = true
  readonly origin: string
  private base = '/'
  /** The folder that the server reads the sources from, as the machine spells it. */
  private root = ''
  private again = false

  /** `unsaved` gives the texts that are not saved, `running` a server that runs already; null to start the project's own. */
  constructor(
    project: string,
    template: string,
    port: string,
    private readonly development: Development,
    private readonly unsaved: () => Promise<readonly UnsavedText[]>,
    private readonly running: RunningServer | null = null,
  ) {
    // Not where files of ours were served: the service worker that did so would still be there.
    this.origin = liveOriginFor(template, `${project}--dev`, port)
  }

  async open(_page: string, onProgress: (done: number, of: number) => void): Promise<boolean> {
    onProgress(0, 1)
    const host = new URL(this.origin).host
    const report = this.running === null ? await this.development.start(host, this.again) : await this.use(host, this.running.address)
    this.again = false
    if (report.state.is !== 'running') throw new LiveFaultError(devFault(report))
    this.base = report.state.base
    this.root = report.state.root
    if (this.running === null) await this.give(await this.unsaved(), true)
    return true
  }

  private async use(host: string, address: string): Promise<DevReport> {
    try {
      return await this.development.use(host, address)
    } catch (error) {
      throw new LiveFaultError({
        title: 'No page comes from that address',
        detail: error instanceof Error ? error.message : String(error),
        remedy: 'Give the address that the development server printed when it started.',
        addresses: (await this.development.report().catch(() => null))?.found ?? [],
      })
    }
  }

  cancel(): void {}

  urlOf(address: string): string {
    return this.origin + (address === '/' ? this.base : address.startsWith('/') ? address : `/${address}`)
  }

  // Scripts, and what a compiler makes sheets of, reach the page by the server itself: unsaved where it is ours, else written. Edits of plain sheets are
  // laid on the page until they are saved.
  async show(files: readonly PublishedFile[]): Promise<void> {
    const texts = files.flatMap(({ path, body }) => (typeof body === 'string' ? [{ path, text: body }] : []))
    await this.give(texts, false)
  }

  /** Style modules that the server has unsaved texts of: it is given each text of them from then on. */
  private readonly modules = new Set<string>()

  hasNow(key: string): boolean {
    return this.modules.has(key)
  }

  private async give(texts: readonly UnsavedText[], alone: boolean): Promise<void> {
    // A script may take classes from a module that come with the same edit.
    const hasScript = texts.some(({ path }) => IS_SCRIPT.test(path))
    for (const { path } of texts) if (hasScript && isStyleModule(path)) this.modules.add(path)
    const given = texts
      .filter(({ path, text }) => IS_SCRIPT.test(path) || this.modules.has(path) || isPreprocessed(path) || isCompilerInput(path, text))
      .sort((a, b) => Number(IS_SCRIPT.test(a.path)) - Number(IS_SCRIPT.test(b.path)))
    if (this.running === null && (alone || given.length)) await this.development.show(given, alone)
    else if (given.length) await this.running?.write(given.map(({ path }) => path))
  }

  async whole(): Promise<void> {}

  sheetOf(name: string): string | null {
    if (name.startsWith(SCRIPT_SHEET)) {
      const [, file, query] = /^([^?#]*)\??([^#]*)/.exec(name.slice(SCRIPT_SHEET.length))!
      const path = this.fileAt(file)
      return path && (styleBlockAt(path, query) ?? path)
    }
    const url = URL.canParse(name) ? new URL(name) : null
    if (url?.origin !== this.origin) return null
    const path = decodePath(url.pathname)
    return path.startsWith(this.base) ? path.slice(this.base.length) : null
  }

  // From an absolute path, or one from the top of the project.
  private fileAt(path: string): string | null {
    const root = this.root.replaceAll('\\', '/').replace(/\/$/, '')
    const full = path.replaceAll('\\', '/')
    if (full.startsWith(`${root}/`)) return full.slice(root.length + 1)
    return /^(\/|[a-z]:)/i.test(full) ? null : full
  }

  // What hangs is the page or its server; both are begun again.
  restart(): void {
    this.again = true
  }

  close(): void {}
}

/** Why the pages of a development server cannot be shown. */
export function devFault({ project, state, output, found }: DevReport): LiveFault {
  const name = project?.name ?? 'The development server'
  if (project && !project.isInstalled)
    return {
      title: `The packages of this project are not installed`,
      detail: `${name} renders its pages, and is not among the installed packages.`,
      remedy: 'Install them in its folder, for instance with npm install, then try again.',
      addresses: found,
    }
  if (project && !project.canStart)
    return {
      title: `${name} renders the pages of this project`,
      detail: 'Steady Brush cannot start that server itself.',
      remedy: 'Start it as you always do, then give its address here.',
      addresses: found,
    }
  if (state.is === 'failed' && state.address !== undefined)
    return {
      title: `${name} does not run any more`,
      detail: state.why,
      remedy: 'Start it again as you always do: its page is shown once it answers there. Where it runs at another address now, give that.',
      addresses: found,
    }
  return {
    title: state.is === 'failed' ? `${name} does not run` : `${name} did not start`,
    detail: [state.is === 'failed' ? state.why : '', ...output.slice(-SHOWN_LINES)].filter(Boolean).join('\n'),
    remedy: 'Mend what it names, then try again.',
    addresses: found,
  }
}
