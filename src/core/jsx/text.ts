import { diffSplice, type Span, type Splice } from '../text'

/** A UTF-16 unit of a text as the page shows it, with what of the source says it. */
interface Unit extends Span {
  readonly unit: string
}

const REFERENCES: ReadonlyMap<string, string> = new Map([
  ['amp', '&'],
  ['lt', '<'],
  ['gt', '>'],
  ['quot', '"'],
  ['apos', "'"],
  ['nbsp', '\u00a0'],
  ['copy', '©'],
  ['reg', '®'],
  ['trade', '™'],
  ['hellip', '…'],
  ['mdash', '—'],
  ['ndash', '–'],
  ['lsquo', '‘'],
  ['rsquo', '’'],
  ['ldquo', '“'],
  ['rdquo', '”'],
  ['laquo', '«'],
  ['raquo', '»'],
  ['times', '×'],
  ['rarr', '→'],
  ['larr', '←'],
  ['middot', '·'],
  ['bull', '•'],
  ['deg', '°'],
  ['euro', '€'],
  ['pound', '£'],
])

function decoded(name: string): string | null {
  const number = /^#(?:x([\da-f]+)|(\d+))$/i.exec(name)
  if (!number) return REFERENCES.get(name) ?? null
  const code = number[1] ? parseInt(number[1], 16) : Number(number[2])
  return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : null
}

/**
 * A text between tags as compilers read it (JSX specification, JSXText): of each line the white space at its ends goes, but
 * for the start of the first and the end of the last; empty lines go; what is left is joined by single spaces. Null where it
 * has a character reference that is not known here.
 */
function unitsOf(raw: string, base: number): Unit[] | null {
  const lines: { from: number; to: number }[] = []
  let at = 0
  for (const m of raw.matchAll(/\r\n|\n|\r/g)) {
    lines.push({ from: at, to: m.index })
    at = m.index + m[0].length
  }
  lines.push({ from: at, to: raw.length })
  const out: Unit[] = []
  for (const [i, line] of lines.entries()) {
    let { from, to } = line
    if (i > 0) while (from < to && /[ \t]/.test(raw[from])) from++
    if (i < lines.length - 1) while (to > from && /[ \t]/.test(raw[to - 1])) to--
    if (from === to) continue
    const last = out.at(-1)
    if (last) out.push({ unit: ' ', from: last.to, to: base + from })
    for (let k = from; k < to; k++) {
      const reference = raw[k] === '&' ? /^&([a-z\d]+|#\d+|#x[\da-f]+);/i.exec(raw.slice(k, to)) : null
      if (!reference) {
        out.push({ unit: raw[k] === '\t' ? ' ' : raw[k], from: base + k, to: base + k + 1 })
        continue
      }
      const text = decoded(reference[1])
      if (text === null) return null
      const span = { from: base + k, to: base + k + reference[0].length }
      for (const unit of text) out.push({ unit, ...span })
      k += reference[0].length - 1
    }
  }
  return out
}

/** A text between tags as the page shows it; null where nothing of it shows, or it cannot be determined. */
export function shownText(raw: string): string | null {
  const text = unitsOf(raw, 0)
    ?.map((u) => u.unit)
    .join('')
  return text ? text : null
}

/** Text as it has to stand between tags: what would begin a tag, an expression or a reference is written as a reference. */
export const escaped = (text: string): string =>
  text
    .replace(/&(?=#|[a-z])/gi, '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('{', '&#123;')
    .replaceAll('}', '&#125;')
    .replaceAll('\u00a0', '&nbsp;')

/** What has `text` show in place of what a text between tags shows; null where that cannot be written there. */
export function textSplice(source: string, span: Span, text: string): Splice | null {
  const raw = source.slice(span.from, span.to)
  const units = unitsOf(raw, span.from)
  if (!units || /[\r\n\t]/.test(text)) return null
  const changed = diffSplice(units.map((u) => u.unit).join(''), text)
  if (!changed) return { from: span.from, to: span.from, insert: '' }
  let from = changed.from < units.length ? units[changed.from].from : (units.at(-1)?.to ?? span.from)
  let to = changed.to > changed.from ? units[changed.to - 1].to : from
  let insert = changed.insert
  // The parts of one reference, and the space that a line end stands for, go whole.
  const first = units.findIndex((u) => u.from < from && u.to > from)
  if (first >= 0) {
    insert =
      units
        .slice(first, changed.from)
        .map((u) => u.unit)
        .join('') + insert
    from = units[first].from
  }
  const last = units.findLastIndex((u) => u.from < to && u.to > to)
  if (last >= 0) {
    insert += units
      .slice(changed.to, last + 1)
      .map((u) => u.unit)
      .join('')
    to = units[last].to
  }
  const splice = { from, to, insert: escaped(insert) }
  const after = raw.slice(0, from - span.from) + splice.insert + raw.slice(to - span.from)
  return shownText(after) === (text === '' ? null : text) ? splice : null
}
