import { readFile, rename, rm, rmdir, stat } from 'node:fs/promises'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import { array, boolean, number, object, string, ValidationError, type Schema } from 'yup'
import {
  FOLDER_PATH,
  KEPT_FOLDER,
  MODIFIED_HEADER,
  MOST_BODY,
  packFiles,
  SaveError,
  type SentPicture,
  type ServedInfo,
  type ServedListing,
  type Shared,
  type ServedWritten,
  type UnsavedText,
} from '../folder'
import type { Access } from './access'
import type { DevPage } from './dev'
import { keptFolder, PathError, pathFault, resolveBelow } from './folder-paths'
import { Assistant, ASSISTANT_PATH } from './assistant'
import { Git } from './git'
import { listFolder, TooManyFiles } from './list-folder'
import { FolderPages } from './folder-pages'
import type { FolderWatch } from './watch-folder'
import { recoverSave, writeDurably, writeFiles } from './write-files'

const HASH = /^[0-9a-f]{64}$/
const BASE64 = /^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)?$/

const BYTES = string().test((text) => typeof text !== 'string' || BASE64.test(text))
const LIST = object({ include: array().of(string().required()).max(1000).required() }).noUnknown()
const FILES = object({ paths: array().of(string().required()).min(1).max(1000).required() }).noUnknown()
const WRITE = object({
  files: array()
    .of(
      object({
        path: string().required(),
        before: string().matches(HASH).nullable().defined(),
        after: BYTES.defined(),
      }).noUnknown(),
    )
    .min(1)
    .max(10_000)
    .required(),
}).noUnknown()
const COMMIT = object({
  message: string().required().max(100_000),
  branch: string().nullable().defined().max(250),
  files: array()
    .of(object({ path: string().required(), before: BYTES.nullable().defined(), after: BYTES.defined() }).noUnknown())
    .min(1)
    .max(10_000)
    .required(),
}).noUnknown()
const TEXT = string().defined().max(100_000)
const LINE = number().required().integer().min(0)
const ELEMENT = { file: TEXT, line: LINE, selector: TEXT, html: TEXT }
const SHARED = object({
  project: TEXT,
  page: TEXT,
  chosen: array()
    .of(
      object({
        ...ELEMENT,
        values: array()
          .of(
            object({
              property: TEXT,
              computed: TEXT,
              written: TEXT,
              from: TEXT,
              reach: number().nullable().defined(),
            }).noUnknown(),
          )
          .max(500)
          .required(),
      }).noUnknown(),
    )
    .max(1000)
    .required(),
  wishes: array()
    .of(
      object({
        id: TEXT,
        words: TEXT,
        state: string()
          .required()
          .oneOf(['open', 'taken', 'done'] as const),
        elements: array().of(object(ELEMENT).noUnknown()).max(1000).required(),
      }).noUnknown(),
    )
    .max(1000)
    .required(),
  edits: array()
    .of(
      object({
        file: TEXT,
        line: LINE,
        where: TEXT,
        what: TEXT,
        before: string().nullable().defined(),
        after: TEXT,
        why: TEXT,
      }).noUnknown(),
    )
    .max(10_000)
    .required(),
}).noUnknown()
const PICTURE = object({ id: string().required().max(100), ok: boolean().required(), png: BYTES, why: string().max(1000) })
  .noUnknown()
  .test((v) => (v.ok ? v.png !== undefined : v.why !== undefined))
const DEV = object({
  host: string().required().max(300),
  address: string().nullable().defined().max(2000),
  again: boolean().required(),
}).noUnknown()
const HOST = string().required().max(300)
const SHOWN = object({ host: HOST }).noUnknown()
const GIVEN = object({
  host: HOST,
  files: array()
    .of(object({ path: string().required().max(4096), text: string().nullable().defined(), bytes: BYTES.nullable().defined() }).noUnknown())
    .max(10_000)
    .required(),
}).noUnknown()
const TEXTS = object({
  files: array()
    .of(object({ path: string().required().max(4096), text: string().defined() }).noUnknown())
    .max(10_000)
    .required(),
  alone: boolean().required(),
}).noUnknown()
// Files of ours, by their names alone.
const KEEP = object({
  path: string().required().oneOf(['unsaved.json', 'damaged.json', '.gitignore']),
  text: string().nullable().defined(),
}).noUnknown()

// It is data to the interface, whatever it is: a page of the project is not to run on our origin.
const AS_DATA = {
  'content-type': 'application/octet-stream',
  'x-content-type-options': 'nosniff',
  'content-disposition': 'attachment',
  'content-security-policy': 'sandbox',
  'cache-control': 'no-store',
}

/** How long a listing serves; ms. */
const LISTED = 5000
/** How long a listing of a watched folder is one; ms. */
const KNOWN = 30_000

/** An answer that is no success, in words. */
class Refusal extends Error {
  override readonly name = 'Refusal'
  constructor(
    readonly status: number,
    why: string,
  ) {
    super(why)
  }
}

// @throws PathError for the first that cannot be one of the folder.
function checkPaths(paths: readonly string[]): void {
  for (const path of paths) {
    const fault = pathFault(path)
    if (fault !== null) throw new PathError(path, fault)
  }
}

async function bodyOf<T>(request: IncomingMessage, schema: Schema<T>): Promise<T> {
  if (!/^application\/json\s*(;|$)/i.test(request.headers['content-type'] ?? '')) throw new Refusal(415, 'The request is not JSON.')
  const parts: Buffer[] = []
  let size = 0
  for await (const part of request) {
    size += (part as Buffer).length
    if (size > MOST_BODY) throw new Refusal(413, `The request is larger than ${MOST_BODY / 1024 / 1024} MB.`)
    parts.push(part as Buffer)
  }
  try {
    // Other encodings than UTF-8 are none of JSON's (RFC 8259 §8.1).
    return schema.validateSync(JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(Buffer.concat(parts))), {
      strict: true,
    })
  } catch (error) {
    throw new Refusal(
      400,
      `The request is not what it is to be: ${error instanceof ValidationError ? error.message : 'it cannot be read as JSON in UTF-8'}.`,
    )
  }
}

/** The development server of the folder, and which hosts are those of live pages. */
interface Dev {
  readonly page: DevPage
  readonly isLive: (host: string) => boolean
}

/** The folder that the server was started with, as the interface asks about it over HTTP. */
export class FolderRoutes {
  private include: ReadonlySet<string> = new Set()
  private readonly git: Git
  private readonly assistant: Assistant
  /** The live pages of the folder's own files. */
  readonly pages: FolderPages

  private constructor(
    private readonly root: string,
    private readonly access: Access,
    private readonly watch: FolderWatch,
    private readonly dev: Dev | null,
  ) {
    this.git = new Git(root)
    this.assistant = new Assistant((what) => watch.say(what))
    this.pages = new FolderPages(
      root,
      (path) => this.isListed(path),
      () => watch.say('pages'),
    )
  }

  /** `root` is the folder's own real path. A save that was cut off is finished or taken back first. */
  static async open(root: string, access: Access, watch: FolderWatch, dev: Dev | null = null): Promise<FolderRoutes> {
    await recoverSave(root)
    return new FolderRoutes(root, access, watch, dev)
  }

  /** Whether the request was about the folder, and is answered. */
  async answer(request: IncomingMessage, response: ServerResponse): Promise<boolean> {
    const url = new URL(request.url ?? '/', 'http://folder')
    if (url.pathname.startsWith(ASSISTANT_PATH)) {
      // Whatever is no page has no origin; a page has no business here.
      const isIn = request.headers.origin === undefined && this.access.isSecret(url.pathname.slice(ASSISTANT_PATH.length))
      if (isIn) await this.assistant.serve(request, response)
      else
        response
          .writeHead(403, { 'content-type': 'text/plain; charset=utf-8' })
          .end('Use the address for assistants that was printed at the last start.')
      return true
    }
    if (!url.pathname.startsWith(FOLDER_PATH)) return this.access.letIn(url.pathname, response)
    try {
      const refused = this.access.refusal(request)
      if (refused) throw new Refusal(refused.status, refused.why)
      await this.route(`${request.method} ${url.pathname.slice(FOLDER_PATH.length)}`, url, request, response)
    } catch (error) {
      if (response.headersSent) throw error
      const status = error instanceof Refusal ? error.status : error instanceof PathError ? 400 : error instanceof TooManyFiles ? 422 : 500
      response
        .writeHead(status, {
          'content-type': 'text/plain; charset=utf-8',
          'cache-control': 'no-store',
          connection: 'close',
        })
        .end(error instanceof Error ? error.message : String(error))
    }
    return true
  }

  private async route(what: string, url: URL, request: IncomingMessage, response: ServerResponse): Promise<void> {
    const json = (body: unknown, status = 200) =>
      void response.writeHead(status, { 'content-type': 'application/json', 'cache-control': 'no-store' }).end(JSON.stringify(body))
    switch (what) {
      case 'GET info':
        return json({ path: this.root } satisfies ServedInfo)
      case 'POST list': {
        const { include } = await bodyOf(request, LIST)
        checkPaths(include)
        this.include = new Set(include)
        return json(await this.list())
      }
      case 'POST files': {
        const { paths } = await bodyOf(request, FILES)
        const files = await Promise.all(paths.map((path) => this.bytesOf(path)))
        return void response.writeHead(200, AS_DATA).end(packFiles(files))
      }
      case 'POST committed': {
        const { paths } = await bodyOf(request, FILES)
        checkPaths(paths)
        return void response.writeHead(200, AS_DATA).end(packFiles(await this.git.committed(paths)))
      }
      case 'GET file':
        return this.sendFile(url.searchParams.get('path') ?? '', response)
      case 'POST write':
        return json(...(await this.write(await bodyOf(request, WRITE))))
      case 'POST keep': {
        const { path, text } = await bodyOf(request, KEEP)
        await this.keep(path, text)
        return json({})
      }
      case 'GET git':
        return json({ state: await this.git.state() })
      case 'GET series':
        return json({ series: await this.git.series() })
      case 'POST commit': {
        const { message, branch, files } = await bodyOf(request, COMMIT)
        checkPaths(files.map((f) => f.path))
        const bytes = (text: string) => Buffer.from(text, 'base64')
        return json(
          await this.git.commit({
            message,
            branch,
            files: files.map((f) => ({
              path: f.path,
              before: f.before === null ? null : bytes(f.before),
              after: bytes(f.after),
            })),
          }),
        )
      }
      case 'POST share': {
        this.assistant.share(await bodyOf<Shared>(request, SHARED))
        return json({})
      }
      case 'GET wishes':
        return json({ news: this.assistant.news })
      case 'GET pictures':
        return json({ wanted: this.assistant.wanted })
      case 'POST picture': {
        const { id, ...picture } = await bodyOf(request, PICTURE)
        this.assistant.picture(id, picture as SentPicture)
        return json({})
      }
      case 'GET dev':
        return json(await this.devPage().report())
      case 'POST dev': {
        const { host, address, again } = await bodyOf(request, DEV)
        const page = this.devPage()
        if (!this.dev!.isLive(host)) throw new Refusal(400, `${JSON.stringify(host)} is not the host of a live page.`)
        // The interface is on this origin: nobody else may ask.
        const studio = `http://${request.headers.host}`
        const report = address === null ? await page.start(host, studio, again) : await page.use(host, studio, address)
        if (typeof report === 'string') throw new Refusal(422, report)
        return json(report)
      }
      case 'POST texts': {
        const { files, alone } = await bodyOf(request, TEXTS)
        checkPaths(files.map((f) => f.path))
        await this.devPage().showTexts(files as UnsavedText[], alone)
        return json({})
      }
      case 'POST pages': {
        const { host } = await bodyOf(request, SHOWN)
        if (!this.dev?.isLive(host)) throw new Refusal(400, `${JSON.stringify(host)} is not the host of a live page.`)
        this.pages.open(host, `http://${request.headers.host}`)
        return json({})
      }
      case 'POST given': {
        const { host, files } = await bodyOf(request, GIVEN)
        checkPaths(files.map((f) => f.path))
        for (const { path, text, bytes } of files)
          if (!this.pages.give(host, path, text !== null ? Buffer.from(text) : bytes === null ? null : Buffer.from(bytes, 'base64')))
            throw new Refusal(409, 'The server was started again since the page was opened.')
        return json({})
      }
      case 'GET wanted':
        return json({ wanted: this.pages.wanted })
      case 'GET watch':
        return this.watch.tell(response)
      default:
        throw new Refusal(404, 'There is nothing of that name here.')
    }
  }

  private devPage(): DevPage {
    if (!this.dev) throw new Refusal(404, 'No development server can be started here.')
    return this.dev.page
  }

  private listing: {
    readonly at: number
    readonly revision: number | null
    readonly include: ReadonlySet<string>
    readonly list: Promise<ServedListing>
    readonly paths: Promise<ReadonlySet<string>>
  } | null = null

  /** The files of the folder. What a watched folder had is what it has, until something is changed in it. */
  private list(): Promise<ServedListing> {
    const { listing, include } = this
    // What no watcher sees, such as the rules of git for the whole machine, is looked at now and then.
    const isKnown =
      listing !== null &&
      listing.revision !== null &&
      listing.revision === this.watch.revision &&
      include.size === 0 &&
      listing.include.size === 0 &&
      Date.now() - listing.at < KNOWN
    return isKnown ? listing.list : this.listAgain()
  }

  private listAgain(): Promise<ServedListing> {
    const list = listFolder(this.root, this.include)
    const paths = list.then(({ files }) => new Set(files.map((f) => f.path)))
    this.listing = { at: Date.now(), revision: this.watch.revision, include: this.include, list, paths }
    paths.catch(() => (this.listing = null))
    return list
  }

  // A page asks for many at once, and a save writes several: the folder is listed again only now and then.
  private async isListed(path: string): Promise<boolean> {
    if (!this.listing || Date.now() - this.listing.at > LISTED) await this.list()
    if ((await this.listing?.paths)?.has(path)) return true
    // It may have come since, or not be there at all: only what is there is worth a look at everything.
    if (this.listing?.revision !== null && this.listing?.revision === this.watch.revision) return false
    const isThere = await stat(join(this.root, path)).then(
      () => true,
      () => false,
    )
    if (!isThere) return false
    await this.listAgain()
    return (await this.listing?.paths)?.has(path) ?? false
  }

  // Null where it is gone meanwhile. @throws Refusal where it is there and cannot be read.
  private async bytesOf(path: string): Promise<Buffer | null> {
    const file = await resolveBelow(this.root, path)
    try {
      return await readFile(file)
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException
      if (code === 'ENOENT' || code === 'ENOTDIR') return null
      throw new Refusal(422, `“${path}” cannot be read (${code === 'EACCES' ? 'permission denied' : code}).`)
    }
  }

  private async sendFile(path: string, response: ServerResponse): Promise<void> {
    const file = await resolveBelow(this.root, path)
    const there = await stat(file).catch(() => null)
    if (!there?.isFile()) throw new Refusal(404, 'The folder has no such file.')
    const bytes = await readFile(file)
    response.writeHead(200, { ...AS_DATA, [MODIFIED_HEADER]: String(Math.floor(there.mtimeMs)) }).end(bytes)
  }

  private async write({
    files,
  }: {
    readonly files: readonly { readonly path: string; readonly before: string | null; readonly after: string }[]
  }): Promise<[ServedWritten, number]> {
    try {
      for (const f of files) {
        const file = await resolveBelow(this.root, f.path)
        const isThere = await stat(file).then(
          () => true,
          () => false,
        )
        // What is ignored, hidden, or a link out of the folder is not in the listing.
        const isOwn = isThere
          ? await this.isListed(f.path)
          : f.path.split('/').every((name) => !name.startsWith('.') && name !== 'node_modules')
        if (!isOwn) throw new SaveError(f.path, await this.whyNotOwn(f.path))
      }
      const modified = await writeFiles(
        this.root,
        files.map((f) => ({ path: f.path, before: f.before, after: Buffer.from(f.after, 'base64') })),
      )
      return [{ ok: true, modified: Object.fromEntries(modified) }, 200]
    } catch (error) {
      if (error instanceof SaveError) return [{ ok: false, path: error.path, why: error.why, written: error.written }, 409]
      throw error
    }
  }

  // Some file systems have one file by names of either case.
  private async whyNotOwn(path: string): Promise<string> {
    const paths = (await this.listing?.paths) ?? new Set()
    const other = [...paths].find((p) => p !== path && p.toLowerCase() === path.toLowerCase())
    return other === undefined
      ? 'it is not one of the files of the project, so it is not written'
      : `the folder has it as “${other}”, so it is not written under its old name. Give it that name back, then save again`
  }

  private async keep(name: string, text: string | null): Promise<void> {
    const folder = join(this.root, KEPT_FOLDER)
    if (text === null) {
      await rm(join(folder, name), { force: true })
      // Only where nothing else is in it.
      await rmdir(folder).catch(() => {})
      return
    }
    const fresh = join(await keptFolder(this.root), `${name}.tmp`)
    // What was left there is not written into: it may be a link.
    await rm(fresh, { force: true })
    await writeDurably(fresh, text)
    await rename(fresh, join(folder, name))
  }
}
