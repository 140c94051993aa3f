/** One element of a dump: hashes of all its computed values, and of those that layout does not make. */
export interface DumpedElement {
  readonly tag: string
  readonly whole: number
  readonly style: number
  /** `name: value`, only where single places were asked for. */
  readonly values?: readonly string[]
}

export type Dump = readonly DumpedElement[]

/** The first few values in which two elements differ that were dumped with their values. */
export const differences = (a: DumpedElement | undefined, b: DumpedElement | undefined): string =>
  a?.values && b?.values
    ? a.values
        .flatMap((v, i) => (v !== b.values![i] ? [`${v} | ${b.values![i]}`] : []))
        .slice(0, 4)
        .join('; ')
    : 'missing'

/**
 * Runs in a page, with places in document order or null for all: the computed values of those elements. Hashes, since all
 * values of a page of some hundred elements are megabytes. Faces on their way are waited for, those too that only an element
 * that is not drawn has (a `ch` of it asks for its face when it is read), and the page is laid out afresh: after a partial
 * layout the engine can tell 0 for an automatic margin that it drew in full.
 */
const dumpOf = (elements: string): string => `
  const [places] = arguments
  const read = () => {
  // The height stays, since scripts hear of a scroll bar that goes as of a window that is resized.
  const [root, body] = [document.documentElement, document.body], had = [root, body].map((e) => e.getAttribute('style'))
  root.style.setProperty('min-height', root.scrollHeight + 'px', 'important')
  body.style.setProperty('display', 'none', 'important')
  root.offsetWidth
  ;[root, body].forEach((e, i) => had[i] === null ? e.removeAttribute('style') : e.setAttribute('style', had[i]))
  root.offsetWidth
  for (const a of document.getAnimations()) { try { a.finish() } catch { a.cancel() } }
  const all = [...document.querySelectorAll('${elements}')]
  // Flow-relative names are the physical ones again while text runs left to right and down.
  const ALIAS = /^(?!text-box)(.*-)?(block|inline)-(start|end|size|color|style|width)|^(min-|max-)?(block|inline)-size$|(start|end)-(start|end)-radius$/
  const names = [...getComputedStyle(document.documentElement)].filter((n) => !n.startsWith('--') && !ALIAS.test(n))
  const LAYOUT = /^(width|height|inline-size|block-size|top|right|bottom|left|inset.*|margin.*|padding.*|transform|transform-origin|perspective-origin|grid-template-(rows|columns)|x|y|cx|cy|r|rx|ry|d)$/
  const layout = names.map((n) => LAYOUT.test(n))
  const origin = location.origin
  // Most values come many times, so each is gone through once.
  const known = new Map()
  const hashOf = (text) => {
    let hash = known.get(text)
    if (!hash) {
      let a = 1, b = 2
      for (const c of text.replaceAll(origin, '')) {
        a = Math.imul(a ^ c.codePointAt(0), 2654435761)
        b = Math.imul(b ^ c.codePointAt(0), 1597334677)
      }
      known.set(text, (hash = [a ^ (a >>> 15), b ^ (b >>> 13)]))
    }
    return hash
  }
  const mix = (h, [a, b]) => {
    h[0] = Math.imul(h[0] ^ a, 2654435761) + 1
    h[1] = Math.imul(h[1] ^ b, 1597334677) + 1
    h[0] ^= h[0] >>> 15
    h[1] ^= h[1] >>> 13
  }
  const sum = (h) => (h[0] >>> 0) * 1048576 + ((h[1] >>> 0) & 1048575)
  return (places ?? all.map((_, i) => i)).map((i) => {
    const e = all[i]
    if (!e) return { tag: '', whole: 0, style: 0 }
    const s = getComputedStyle(e)
    const whole = [1, 2], style = [1, 2], values = []
    names.forEach((n, k) => {
      const v = s.getPropertyValue(n), hash = hashOf(v)
      if (places) values.push(n + ': ' + v.replaceAll(origin, ''))
      mix(whole, hash)
      if (!layout[k]) mix(style, hash)
    })
    return { tag: e.localName, whole: sum(whole), style: sum(style), ...(places ? { values } : {}) }
  })
  }
  return document.fonts.ready.then(() => {
    const dump = read()
    return document.fonts.status === 'loading' ? document.fonts.ready.then(read) : dump
  })`

export const DUMP = dumpOf('*')

/** The same of what is drawn: a development server puts scripts, sheets and elements of its own into the page, one time other ones than the next. */
export const DUMP_DRAWN = dumpOf('html, body, body :not(script, style, link, nextjs-portal, next-route-announcer)')
