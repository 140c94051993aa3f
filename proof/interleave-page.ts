/** What runs in the page: plays a sequence of acts on an origin-private folder of its own. */
import type { Hook } from '../tests/support/memory-folder'
import type { Act } from './interleave-acts'
import { interleave, type MakeDisk } from './interleave-run'

/** A file that asks `hook` before each step of its writing; its streams are put on `streams`. */
const hookedFile = (file: FileSystemFileHandle, path: string, hook: Hook, streams: Set<FileSystemWritableFileStream>) => ({
  kind: file.kind,
  name: file.name,
  getFile: async () => {
    await hook('read', path)
    return file.getFile()
  },
  createWritable: async () => {
    await hook('open', path)
    const stream = await file.createWritable()
    streams.add(stream)
    return {
      write: async (data: FileSystemWriteChunkType) => {
        await hook('write', path)
        await stream.write(data)
      },
      close: async () => {
        await hook('close', path)
        await stream.close()
        streams.delete(stream)
      },
      abort: () => stream.abort().finally(() => streams.delete(stream)),
    }
  },
})

const hooked = (folder: FileSystemDirectoryHandle, hook: Hook, streams: Set<FileSystemWritableFileStream>) => ({
  kind: folder.kind,
  name: folder.name,
  removeEntry: (name: string) => folder.removeEntry(name),
  getFileHandle: async (name: string, options?: FileSystemGetFileOptions) =>
    hookedFile(await folder.getFileHandle(name, options), name, hook, streams),
  async *values() {
    for await (const entry of (folder as unknown as { values(): AsyncIterable<FileSystemFileHandle> }).values())
      yield hookedFile(entry, entry.name, hook, streams)
  },
})

let folders = 0

const originPrivate: MakeDisk = async (hook) => {
  const root = await navigator.storage.getDirectory()
  const folder = await root.getDirectoryHandle(`site-${++folders}`, { create: true })
  const streams = new Set<FileSystemWritableFileStream>()
  return {
    place: { handle: hooked(folder, hook, streams) as unknown as FileSystemDirectoryHandle },
    put: async (path, text) => {
      const stream = await (await folder.getFileHandle(path, { create: true })).createWritable()
      await stream.write(text)
      await stream.close()
    },
    read: (path) =>
      folder.getFileHandle(path).then(
        async (file) => (await file.getFile()).text(),
        () => null,
      ),
    remove: (path) => folder.removeEntry(path),
    git: null,
    closeAll: async () => {
      for (const stream of streams) await stream.abort().catch(() => {})
      streams.clear()
    },
  }
}

Object.assign(window, {
  playing: Promise.resolve((acts: readonly Act[]) => interleave(acts, originPrivate).then(() => null, String)),
})
