import { isName, skipComponent, skipName } from './scan'

/**
 * What an element needs to have to be the subject of `selector`: `#id`, `.class`, `tag`, or `*` where none is asked
 * for outright. Serves to look rules up; a match is decided by the engine.
 */
export function subjectKey(selector: string): string {
  let start = 0
  for (let i = 0; i < selector.length; ) {
    const c = selector[i]
    if (c === '>' || c === '+' || c === '~' || c === ' ' || c === '\t' || c === '\n' || c === '\r' || c === '\f' || c === '|') start = ++i
    else i = skipComponent(selector, i)
  }
  let className = ''
  let tag = ''
  for (let i = start; i < selector.length; ) {
    const c = selector[i]
    const end = skipComponent(selector, i)
    if (c === '#') return unescaped(selector.slice(i, end))
    if (c === '.') {
      const nameEnd = skipName(selector, i + 1)
      className ||= unescaped(selector.slice(i, nameEnd))
      i = nameEnd
    } else if (c === ':') {
      const colons = selector[i + 1] === ':' ? 2 : 1
      const nameEnd = skipName(selector, i + colons)
      i = selector[nameEnd] === '(' ? skipComponent(selector, nameEnd) : nameEnd
    } else {
      if (i === start && (isName(c.charCodeAt(0)) || c === '\\')) tag = selector.slice(i, end).toLowerCase()
      i = Math.max(end, i + 1)
    }
  }
  return className || tag || '*'
}

const unescaped = (s: string): string =>
  s.includes('\\') ? s.replace(/\\([0-9a-f]{1,6})\s?/gi, (_, hex: string) => String.fromCodePoint(parseInt(hex, 16) || 0xfffd)).replace(/\\(.)/g, '$1') : s
