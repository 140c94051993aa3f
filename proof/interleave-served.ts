/** What {@link interleave} is played on with `--served`: a folder on the disk, through the routes of the local server, over HTTP. */
import 'fake-indexeddb/auto'
import '../tests/support/blob-reader'
import { execFile } from 'node:child_process'
import { mkdtemp, readFile, realpath, rm, writeFile } from 'node:fs/promises'
import { createServer } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { FOLDER_PATH } from '../src/folder'
import { Access } from '../src/server/access'
import { FolderRoutes } from '../src/server/folder-routes'
import { FolderWatch } from '../src/server/watch-folder'
import type { Act } from './interleave-acts'
import type { Disk } from './interleave-run'

// What reads and writes backups looks for a browser as it is loaded.
const { interleave } = await import('./interleave-run')

const run = promisify(execFile)

/** Steps of a request that the model knows: what it reads, or each file that it writes. */
const stepsOf = (what: string, body: string): readonly (readonly ['read' | 'open' | 'write' | 'close', string])[] =>
  what === 'write'
    ? (JSON.parse(body) as { files: { path: string }[] }).files.flatMap(({ path }) =>
        (['open', 'write', 'close'] as const).map((doing) => [doing, path] as const),
      )
    : [['read', what]]

async function play(acts: readonly Act[]): Promise<string | null> {
  const root = await realpath(await mkdtemp(join(tmpdir(), 'interleave-')))
  const access = new Access(1)
  const routes = await FolderRoutes.open(root, access, new FolderWatch(root))
  const server = createServer((request, response) => void routes.answer(request, response))
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  const { port } = server.address() as { port: number }
  const real = globalThis.fetch
  const close = async () => {
    globalThis.fetch = real
    server.closeAllConnections()
    server.close()
    await rm(root, { recursive: true, force: true })
  }
  const disk = (hook: Parameters<Parameters<typeof interleave>[1]>[0]): Disk => {
    globalThis.fetch = async (input, init) => {
      const what = String(input).slice(FOLDER_PATH.length)
      for (const [doing, path] of stepsOf(what, String(init?.body))) await hook(doing, path)
      return real(`http://127.0.0.1:${port}${String(input)}`, {
        ...init,
        headers: { ...init?.headers, cookie: `steady-brush-1=${access.secret}` },
      })
    }
    return {
      place: { served: root },
      put: (path, text) => writeFile(join(root, path), text),
      read: (path) => readFile(join(root, path), 'utf8').catch(() => null),
      remove: (path) => rm(join(root, path)),
      git: (...args) =>
        run('git', ['-c', 'user.name=Pier', '-c', 'user.email=pier@example.invalid', '-c', 'core.autocrlf=false', ...args], {
          cwd: root,
        }).then(
          () => true,
          () => false,
        ),
      closeAll: async () => {},
    }
  }
  try {
    await interleave(acts, async (hook) => disk(hook))
    return null
  } catch (error) {
    return String(error)
  } finally {
    await close()
  }
}

export const playground = async () => ({ play, close: async () => {} })
