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

const URLS = /url\(\s*(?:"([^"]*)"|'([^']*)'|([^"')\s]+))\s*\)/gi

/** The addresses that a value names, without their quotes (CSS Values 4 §4.5). */
export const urlsIn = (value: string): string[] =>
  [...value.matchAll(URLS)].map(([, double, single, bare]) => double ?? single ?? bare ?? '')
