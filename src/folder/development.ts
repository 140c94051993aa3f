/** What renders the pages of a project of components. */
export type DevTool = 'vite' | 'next' | 'astro'

/** A project whose pages a development server renders. */
export interface DevProject {
  readonly tool: DevTool
  /** Its name and version, such as `Vite 8.4.0`; without the version where its packages are not installed. */
  readonly name: string
  /** Whether the tool is among the installed packages. */
  readonly isInstalled: boolean
  /** Whether Steady Brush can start it. */
  readonly canStart: boolean
}

/** How the development server of a project is doing. */
export type DevState =
  | { readonly is: 'off' }
  | { readonly is: 'starting' }
  /** `base` is the path that its pages begin with, with a slash at both ends; `root` the folder that it reads the sources from. */
  | { readonly is: 'running'; readonly address: string; readonly base: string; readonly root: string; readonly isOurs: boolean }
  /** `address` is that of one that the person had started. */
  | { readonly is: 'failed'; readonly why: string; readonly address?: string }

/** What a development server says and is. */
export interface DevReport {
  readonly project: DevProject | null
  readonly state: DevState
  /** The last lines that it printed. */
  readonly output: readonly string[]
  /** Addresses of this machine where a server answers on one of the usual ports; looked for only while none runs. */
  readonly found: readonly string[]
}

/** A source text that is not saved. */
export interface UnsavedText {
  /** From the top of the folder. */
  readonly path: string
  readonly text: string
}

/** The development server of a folder, and the live page that it renders. */
export interface Development {
  report(): Promise<DevReport>
  /** Starts it for the live page of that host, unless it runs and is not to be started `again`; ends once it answers or has failed. */
  start(host: string, again?: boolean): Promise<DevReport>
  /** Uses a server that runs already at an address of this machine. */
  use(host: string, address: string): Promise<DevReport>
  /** Has the pages show these texts in place of the files, as though they were saved; with `alone`, all others as the files are. */
  show(files: readonly UnsavedText[], alone: boolean): Promise<void>
  /** Calls `tell` when one that ran has ended by itself; ends with what is returned. */
  watch(tell: () => void): () => void
}
