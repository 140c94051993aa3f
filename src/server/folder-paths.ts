import { lstat, mkdir, realpath } from 'node:fs/promises'
import { dirname, join, sep } from 'node:path'
import { KEPT_FOLDER } from '../folder'

/** A path that the folder does not give, with why. */
export class PathError extends Error {
  override readonly name = 'PathError'
  constructor(
    readonly path: string,
    why: string,
  ) {
    super(`${JSON.stringify(path.slice(0, 200))} ${why}.`)
  }
}

const MOST_PATH = 4096
/** What a name may have on most file systems; bytes in UTF-8. */
const MOST_NAME = 255

// Characters that some file systems pass over in a name.
const PASSED_OVER = /[\u200c-\u200f\u202a-\u202e\u206a-\u206f\ufeff]/g

const isGit = (name: string): boolean => /^(\.git|git~\d+)([ .]*$|:)/i.test(name.replace(PASSED_OVER, ''))

/** Why a path names no file below a folder, whatever is there; null where it may. */
export function pathFault(path: string): string | null {
  const parts = path.split('/')
  if (path === '') return 'is no path'
  if (path.length > MOST_PATH || parts.some((p) => Buffer.byteLength(p) > MOST_NAME)) return 'is too long'
  if (/\p{Surrogate}/u.test(path)) return 'is not well-formed Unicode'
  if (/[\0-\x1f\x7f]/.test(path)) return 'has characters that no file name has'
  if (/^[a-z]:/i.test(path) || path.includes('\\') || parts.some((p) => p === '' || p === '.' || p === '..'))
    return 'leads out of the folder'
  return parts.some(isGit) ? 'belongs to git' : null
}

const isBelow = (root: string, path: string): boolean => path === root || path.startsWith(root.endsWith(sep) ? root : root + sep)

/**
 * The file that a path from `root` names, links followed; what is not there yet stands below the nearest folder that is.
 * `root` is the folder's own real path. @throws PathError where it is not below the folder.
 */
export async function resolveBelow(root: string, path: string): Promise<string> {
  const fault = pathFault(path)
  if (fault) throw new PathError(path, fault)
  const parts = path.split('/')
  for (let n = parts.length; n >= 0; n--) {
    const there = join(root, ...parts.slice(0, n))
    if (!(await lstat(there).catch(() => null))) continue
    const real = await realpath(there).catch(() => {
      throw new PathError(path, 'is a link that leads nowhere')
    })
    if (!isBelow(root, real)) throw new PathError(path, 'leads out of the folder')
    if (relativeParts(root, real).some(isGit)) throw new PathError(path, 'belongs to git')
    return join(real, ...parts.slice(n))
  }
  throw new PathError(path, 'leads out of the folder')
}

const relativeParts = (root: string, real: string): string[] => real.slice(root.length).split(sep).filter(Boolean)

/** The folders between a file and the folder that is opened, the outermost first, that are not there yet. */
export async function missingFolders(root: string, file: string): Promise<string[]> {
  const out: string[] = []
  for (let folder = dirname(file); folder.length > root.length && !(await lstat(folder).catch(() => null)); folder = dirname(folder))
    out.unshift(folder)
  return out
}

/** The folder of our own files below `root`, made where it is not there. @throws PathError where a link of its name leads elsewhere. */
export async function keptFolder(root: string): Promise<string> {
  const folder = join(root, KEPT_FOLDER)
  await mkdir(folder, { recursive: true })
  if ((await realpath(folder)) !== folder) throw new PathError(KEPT_FOLDER, 'is a link')
  return folder
}
