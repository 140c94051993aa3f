import { folderOf } from '../folder'
import type { Database } from './db'

/** A project as it is remembered outside of the storage that a browser may clear (Storage §6). */
export interface KnownProject {
  readonly id: string
  readonly name: string
  /** The folder that it is saved to, by its name. */
  readonly folder: string | null
  /** Edits that no save had. */
  readonly unsaved: number
}

const COOKIE = 'steady-projects'
/** The longest time that browsers keep a cookie (RFC 6265bis §5.6.2); s. */
const YEAR = 400 * 24 * 3600
/** Bytes that any browser takes for a cookie, with some room (RFC 6265bis §6.1). */
const MOST = 3600
const LONGEST_NAME = 60

/** Remembers which projects there are; of very many, those opened last. A cookie is not cleared with the storage. */
export function rememberProjects(projects: readonly KnownProject[]): void {
  const rows = projects.map((p) => [p.id, p.name.slice(0, LONGEST_NAME), p.folder?.slice(0, LONGEST_NAME) ?? null, p.unsaved])
  while (encodeURIComponent(JSON.stringify(rows)).length > MOST) rows.pop()
  document.cookie = `${COOKIE}=${encodeURIComponent(JSON.stringify(rows))}; max-age=${YEAR}; path=/; samesite=strict`
}

/** What was remembered last; what cannot be read is nothing. */
export function rememberedProjects(): KnownProject[] {
  const text = new RegExp(`(?:^|; )${COOKIE}=([^;]*)`).exec(document.cookie)?.[1]
  try {
    const rows = JSON.parse(decodeURIComponent(text ?? '[]')) as unknown
    if (!Array.isArray(rows)) return []
    return rows.flatMap((row): KnownProject[] => {
      const [id, name, folder, unsaved] = Array.isArray(row) ? (row as unknown[]) : []
      return typeof id === 'string' && typeof name === 'string'
        ? [
            {
              id,
              name,
              folder: typeof folder === 'string' ? folder : null,
              unsaved: typeof unsaved === 'number' ? unsaved : 0,
            },
          ]
        : []
    })
  } catch {
    return []
  }
}

/** The projects that there are, the one opened last first. */
export async function projectsNow(db: Database): Promise<KnownProject[]> {
  const rows = await db.projects.orderBy('opened').reverse().toArray()
  return Promise.all(
    rows.map(async (row) => ({
      id: row.id,
      name: row.name,
      folder: await db.folders.get(row.id).then((place) => (place ? folderOf(place).name : null)),
      unsaved: unsavedIn(row),
    })),
  )
}

/** How many edits of a project no save has. */
export const unsavedIn = (row: { readonly done: number; readonly saved?: number; readonly leftOut?: readonly number[] }): number =>
  Math.max(0, row.done - (row.saved ?? 0)) + (row.leftOut?.length ?? 0)
