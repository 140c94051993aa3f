import { decodePath } from '../core/text'
import type { SheetName } from './page-server'

/** The key of the sheet of a project whose files are served at an origin by their paths; null for one of elsewhere. */
export function ownSheet(origin: string, name: SheetName): string | null {
  if (name.startsWith('#')) return name
  const url = URL.canParse(name) ? new URL(name) : null
  return url?.origin === origin ? decodePath(url.pathname).replace(/^\//, '') : null
}
