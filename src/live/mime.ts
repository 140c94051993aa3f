import { lookup } from 'mrmime'

// What the package does not know, and text that a browser would rather save than show.
const OURS = new Map(Object.entries({ ico: 'image/x-icon', eot: 'application/vnd.ms-fontobject', md: 'text/plain' }))

/** The media type a file is served with, by its extension. */
export function mimeType(path: string): string {
  const extension = /\.([^./]+)$/.exec(path)?.[1].toLowerCase() ?? ''
  // The package's table is an object, which has names such as `constructor` of its own.
  const type: unknown = OURS.get(extension) ?? lookup(extension)
  if (typeof type !== 'string') return 'application/octet-stream'
  return type.startsWith('text/') ? `${type}; charset=utf-8` : type
}
