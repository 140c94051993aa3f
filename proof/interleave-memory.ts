/** What {@link interleave} is played on in Node: storage and a folder in memory. */
import 'fake-indexeddb/auto'
import '../tests/support/blob-reader'
import { asHandle, Folder } from '../tests/support/memory-folder'
import type { Act } from './interleave-acts'
import type { MakeDisk } from './interleave-run'

// What reads and writes backups looks for a browser as it is loaded.
const { interleave } = await import('./interleave-run')

export const inMemory: MakeDisk = async (hook) => {
  const folder = new Folder('site', hook)
  return {
    place: { handle: asHandle(folder) },
    put: async (path, text) => void folder.put(path, text),
    read: async (path) => folder.text(path),
    remove: (path) => folder.removeEntry(path),
    git: null,
    closeAll: async () => {},
  }
}

export const playground = async () => ({
  play: (acts: readonly Act[]): Promise<string | null> => interleave(acts, inMemory).then(() => null, String),
  close: async () => {},
})
