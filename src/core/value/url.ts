/** A path of the project as a file at `from` names it, with `/` between folders and each name escaped (URL §4.3). */
export function relativeUrl(from: string, path: string): string {
  const a = from.split('/').slice(0, -1)
  const b = path.split('/')
  while (a.length && b.length > 1 && a[0] === b[0]) {
    a.shift()
    b.shift()
  }
  return [...a.map(() => '..'), ...b].map((part) => (part === '..' ? part : encodeURIComponent(part))).join('/')
}

/** Whether an address of a page is of the file that an import names: a bundler may put a hash before its ending, and a framework the whole into a query. */
export function isAddressOf(address: string, module: string): boolean {
  const [, stem, ending] = /([^/]+?)(\.\w+)$/.exec(module) ?? []
  const names = decoded(address).match(/[^/?#&=]+/g) ?? []
  return (
    stem !== undefined &&
    names.some((n) => n.startsWith(stem) && n.endsWith(ending) && /^(\.[\w~-]{6,})?$/.test(n.slice(stem.length, -ending.length)))
  )
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}

/** A picture of the project as a script at `from` names it: by its address where it is in the public folder, else by the path of its import. */
export function pictureInScript(from: string, path: string): string {
  if (path.startsWith('public/')) return path.slice('public'.length).split('/').map(encodeURIComponent).join('/')
  const relative = decodeURIComponent(relativeUrl(from, path))
  return relative.startsWith('../') ? relative : `./${relative}`
}

const URLS = /url\(\s*(?:"([^"]*)"|'([^']*)'|([^"')\s]+))\s*\)/gi

/** The addresses that a value names, without their quotes (CSS Values 4 §4.5). */
export const urlsIn = (value: string): string[] =>
  [...value.matchAll(URLS)].map(([, double, single, bare]) => double ?? single ?? bare ?? '')
