import type { Assistants, WantedPicture, WishNews } from './assistants'
import { base64Of } from './base64'
import type { Development, DevReport } from './development'
import { SaveError, type Folder, type Listing, type Write } from './folder'
import type { LeftOut } from './left-out'
import { ImportError } from './limits'
import { unpackFiles } from './packed-files'
import type { CommitRequest, Committed, GitState, Repository } from './repository'
import type { ServedPages, WantedPage } from './served-pages'
import {
  FOLDER_PATH,
  MODIFIED_HEADER,
  OURS_HEADER,
  type ServedCommit,
  type ServedInfo,
  type ServedListing,
  type ServedWrite,
  type ServedWritten,
} from './served-protocol'

const WHY: ReadonlySet<unknown> = new Set<LeftOut['why']>(['hidden', 'packages', 'build output', '.gitignore', 'a link'])

/** The server was not there, or did not answer as it is to. */
class ServerError extends Error {
  override readonly name = 'ServerError'
}

// A schema that is asked for each of ten thousand rows takes a third of a second.
function isListed(row: unknown): boolean {
  if (typeof row !== 'object' || row === null) return false
  const { path, size, modified } = row as Partial<Record<string, unknown>>
  return typeof path === 'string' && path !== '' && Number.isFinite(size) && Number(size) >= 0 && Number.isFinite(modified)
}

async function answers() {
  const { array, boolean, mixed, number, object, string } = await import('yup')
  return {
    info: object({ path: string().required() }),
    listing: object({
      files: array()
        .required()
        .test((rows) => rows.every(isListed)),
      leftOut: array()
        .of(
          object({
            path: string().required(),
            why: string()
              .required()
              .test((why) => WHY.has(why)),
          }),
        )
        .required(),
    }),
    git: object({
      state: object({
        branch: string().nullable().defined(),
        commits: number().required(),
        head: string().nullable().defined(),
        refusal: string().nullable().defined(),
        changed: array()
          .of(
            object({
              path: string().required(),
              is: string().required().oneOf(['changed', 'new', 'deleted', 'conflicted']),
            }),
          )
          .required(),
      })
        .nullable()
        .defined(),
    }),
    news: object({
      news: array()
        .of(
          object({
            id: string().required(),
            state: string().required().oneOf(['taken', 'done']),
            told: string().defined(),
            files: array().of(string().required()).required(),
          }),
        )
        .required(),
    }),
    wanted: object({
      wanted: array()
        .of(object({ id: string().required(), index: number().required().integer().min(0) }))
        .required(),
    }),
    wantedPages: object({
      wanted: array()
        .of(object({ host: string().required(), path: string().required() }))
        .required(),
    }),
    dev: object({
      project: object({
        tool: string().required().oneOf(['vite', 'next', 'astro']),
        name: string().required(),
        isInstalled: boolean().required(),
        canStart: boolean().required(),
      })
        .nullable()
        .defined(),
      state: object({
        is: string().required().oneOf(['off', 'starting', 'running', 'failed']),
        address: string(),
        base: string(),
        root: string(),
        isOurs: boolean(),
        why: string(),
      }).test((v) =>
        v.is === 'running'
          ? v.address !== undefined && v.base !== undefined && v.root !== undefined
          : v.is !== 'failed' || v.why !== undefined,
      ),
      output: array().of(string().defined()).required(),
      found: array().of(string().required()).required(),
    }),
    series: object({ series: string().nullable().defined() }),
    committed: object({
      ok: boolean().required(),
      why: string(),
      commit: string(),
      branch: string(),
      told: string(),
      files: array().of(string().required()),
    }).test((v) =>
      v.ok ? v.commit !== undefined && v.branch !== undefined && v.told !== undefined && v.files !== undefined : v.why !== undefined,
    ),
    written: object({
      ok: boolean().required(),
      modified: mixed().test((v) => v === undefined || Object.values(v).every((n) => Number.isFinite(n))),
      path: string(),
      why: string(),
      written: array().of(string().required()),
    }).test((v) => (v.ok ? v.modified !== undefined : v.path !== undefined && v.why !== undefined && v.written !== undefined)),
  }
}

async function ask(what: string, body?: unknown, signal?: AbortSignal): Promise<Response> {
  try {
    return await fetch(FOLDER_PATH + what, {
      method: body === undefined ? 'GET' : 'POST',
      headers: { [OURS_HEADER]: '1', ...(body !== undefined && { 'content-type': 'application/json' }) },
      signal,
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
  } catch (error) {
    if (signal?.aborted) throw error
    throw new ServerError('the server does not answer', { cause: error })
  }
}

async function read<T>(response: Response, kind: keyof Awaited<ReturnType<typeof answers>>): Promise<T> {
  if (!response.ok && response.status !== 409)
    throw new ServerError((await response.text()).slice(0, 300) || `the server answered ${response.status}`)
  try {
    return (await answers())[kind].validateSync(await response.json(), { strict: true }) as T
  } catch (error) {
    throw new ServerError('the server answered something else than was asked for', { cause: error })
  }
}

const hashOf = async (bytes: Uint8Array): Promise<string> =>
  [...new Uint8Array(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>))]
    .map((b) => b.toString(16).padStart(2, '0'))
    .join('')

/** The folder that the server of this machine opened; null where it opened none, or this browser was not let in. */
export async function servedFolder(): Promise<ServedInfo | null> {
  try {
    return await read<ServedInfo>(await ask('info'), 'info')
  } catch {
    return null
  }
}

let events: EventSource | null = null
let listeners = 0

// One stream serves all of a window: a browser opens six connections to a server at most, and each stream holds one.
function listen(event: string, tell: () => void): () => void {
  const stream = (events ??= new EventSource(`${FOLDER_PATH}watch`))
  listeners++
  stream.addEventListener(event, tell)
  return () => {
    stream.removeEventListener(event, tell)
    if (--listeners > 0) return
    stream.close()
    events = null
  }
}

async function askFiles(what: string, paths: readonly string[]): Promise<readonly (Uint8Array | null)[]> {
  const response = await ask(what, { paths })
  if (!response.ok) throw new ServerError((await response.text()).slice(0, 300))
  return unpackFiles(new Uint8Array(await response.arrayBuffer()), paths.length)
}

// The repository of the folder, by the git of this machine.
const served: Repository = {
  async state() {
    return (await read<{ state: GitState | null }>(await ask('git'), 'git')).state
  },
  async commit({ message, branch, files }: CommitRequest) {
    const body: ServedCommit = {
      message,
      branch,
      files: files.map((f) => ({ path: f.path, before: f.before && base64Of(f.before), after: base64Of(f.after) })),
    }
    return read<Committed>(await ask('commit', body), 'committed')
  },
  committed: (paths) => askFiles('committed', paths),
  async series() {
    return (await read<{ series: string | null }>(await ask('series'), 'series')).series
  },
}

const assistants: Assistants = {
  share: (shared) => tell('share', shared),
  async news() {
    return (await read<{ news: readonly WishNews[] }>(await ask('wishes'), 'news')).news
  },
  watch: (heard) => listen('wishes', heard),
  async wanted() {
    return (await read<{ wanted: readonly WantedPicture[] }>(await ask('pictures'), 'wanted')).wanted
  },
  picture: (id, picture) => tell('picture', { id, ...picture }),
  watchPictures: (heard) => listen('pictures', heard),
}

const development: Development = {
  report: async () => read<DevReport>(await ask('dev'), 'dev'),
  start: async (host, again = false) => read<DevReport>(await ask('dev', { host, address: null, again }), 'dev'),
  use: async (host, address) => read<DevReport>(await ask('dev', { host, address, again: false }), 'dev'),
  show: (files, alone) => tell('texts', { files, alone }),
  watch: (heard) => listen('dev', heard),
}

async function tell(what: string, body: unknown): Promise<void> {
  const response = await ask(what, body)
  if (!response.ok) throw new ServerError((await response.text()).slice(0, 300))
}

const pages: ServedPages = {
  open: (host) => tell('pages', { host }),
  give: (host, files) =>
    tell('given', {
      host,
      files: files.map(({ path, body }) =>
        typeof body === 'string' ? { path, text: body, bytes: null } : { path, text: null, bytes: base64Of(new Uint8Array(body)) },
      ),
    }),
  refuse: (host, path) => tell('given', { host, files: [{ path, text: null, bytes: null }] }),
  wanted: async () => (await read<{ wanted: readonly WantedPage[] }>(await ask('wanted'), 'wantedPages')).wanted,
  watch: (heard) => listen('pages', heard),
}

/** A folder on the disk of this machine, through the server that was started in it. */
export class ServedFolder implements Folder {
  readonly repository = served
  readonly assistants = assistants
  readonly development = development
  readonly pages = pages

  /** `path` is absolute. */
  constructor(private readonly path: string) {}

  get name(): string {
    return this.path.split(/[/\\]/).findLast((part) => part !== '') ?? this.path
  }

  get closed(): Folder['closed'] {
    return { label: `${this.name} is not open`, title: this.howToStart }
  }

  private get howToStart(): string {
    return `Start Steady Brush with this folder, and use the address that it prints: npx steady-brush ${JSON.stringify(this.path)}`
  }

  async access(): Promise<PermissionState> {
    return (await servedFolder())?.path === this.path ? 'granted' : 'prompt'
  }

  async askAccess(): Promise<PermissionState> {
    const access = await this.access()
    if (access !== 'granted') throw new Error(this.howToStart)
    return access
  }

  async list(include: ReadonlySet<string>, signal?: AbortSignal, onCount: (n: number) => void = () => {}): Promise<Listing> {
    const response = await ask('list', { include: [...include] }, signal)
    if (response.status === 422) throw new ImportError(await response.text())
    const { files, leftOut } = await read<ServedListing>(response, 'listing')
    onCount(files.length)
    return {
      leftOut,
      files: files.map((f) => ({
        ...f,
        read: async () => {
          const there = await this.read(f.path)
          if (!there) throw new ServerError('it is gone from the folder')
          return there.bytes
        },
      })),
    }
  }

  readMany(paths: readonly string[]): Promise<readonly (Uint8Array | null)[]> {
    return askFiles('files', paths)
  }

  async read(path: string): ReturnType<Folder['read']> {
    const response = await ask(`file?path=${encodeURIComponent(path)}`)
    if (response.status === 404) return null
    if (!response.ok) throw new ServerError((await response.text()).slice(0, 300))
    return {
      bytes: new Uint8Array(await response.arrayBuffer()),
      modified: Number(response.headers.get(MODIFIED_HEADER)) || 0,
    }
  }

  async write(writes: readonly Write[]): Promise<ReadonlyMap<string, number>> {
    const files: ServedWrite[] = await Promise.all(
      writes.map(async (w) => ({
        path: w.path,
        before: w.before && (await hashOf(w.before)),
        after: base64Of(w.after),
      })),
    )
    let written: ServedWritten
    try {
      written = await read<ServedWritten>(await ask('write', { files }), 'written')
    } catch (error) {
      throw new SaveError(writes[0]?.path ?? this.name, error instanceof Error ? error.message : String(error))
    }
    if (!written.ok) throw new SaveError(written.path, written.why, written.written)
    return new Map(Object.entries(written.modified))
  }

  // The server makes each file beside the old one, so that none is ever there without its text.
  async removeEmpty(): Promise<void> {}

  async keep(path: string, text: string): Promise<void> {
    await tell('keep', { path, text })
  }

  async unkeep(path: string): Promise<void> {
    await tell('keep', { path, text: null })
  }

  watch(heard: () => void): () => void {
    return listen('message', heard)
  }
}
