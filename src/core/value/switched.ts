import { commaList, words } from './parts'

/** An item of a list that may be switched off: it then stands in the source as a comment where it was. */
export type Switched<T> = T & { readonly off: boolean }

interface Codec<T> {
  parse(text: string): readonly T[] | null
  format(items: readonly T[]): string
}

/** The value without its comments, and each comment with how many items stand before it; null where one stands within an item. */
function apart(text: string, separator: ',' | ' '): { rest: string; comments: { at: number; text: string }[] } | null {
  let rest = ''
  let depth = 0
  const comments: { at: number; text: string }[] = []
  for (let i = 0; i < text.length; i++) {
    if (text.startsWith('/*', i)) {
      const end = text.indexOf('*/', i + 2)
      if (end < 0 || depth > 0) return null
      const items = separator === ',' ? commaList(rest).filter(Boolean) : words(rest)
      comments.push({
        at: items.length,
        text: text
          .slice(i + 2, end)
          .trim()
          .replace(/^,|,$/g, '')
          .trim(),
      })
      i = end + 1
      continue
    }
    if (text[i] === '(') depth++
    else if (text[i] === ')') depth--
    rest += text[i]
  }
  return { rest: rest.trim(), comments }
}

/** The items of a list, those in comments switched off; null where a comment says something else. */
export function parse<T extends object>(text: string, codec: Codec<T>, separator: ',' | ' '): Switched<T>[] | null {
  const found = apart(text, separator)
  const on = found && codec.parse(found.rest)
  if (!found || !on) return null
  const out: Switched<T>[] = []
  let next = 0
  const until = (at: number) => {
    while (next < Math.min(at, on.length)) out.push({ ...on[next++], off: false })
  }
  for (const c of found.comments) {
    const off = codec.parse(c.text)
    if (!off || off.length === 0) return null
    until(on.length === 0 ? 0 : c.at)
    out.push(...off.map((item) => ({ ...item, off: true })))
  }
  until(on.length)
  return out
}

/** The list with what is switched off as comments, each where it stands among the others. */
export function format<T extends object>(items: readonly Switched<T>[], codec: Codec<T>, separator: ',' | ' '): string {
  const on = items.filter((i) => !i.off)
  if (items.length === on.length) return codec.format(items)
  const comma = separator === ',' ? ',' : ''
  if (on.length === 0) return `/* ${codec.format(items)} */ ${codec.format([])}`
  let out = ''
  let held: Switched<T>[] = []
  let first = true
  const flush = () => {
    if (held.length) out += first ? `/* ${codec.format(held)}${comma} */ ` : ` /* ${comma}${comma && ' '}${codec.format(held)} */`
    held = []
  }
  for (const item of items) {
    if (item.off) held.push(item)
    else {
      flush()
      out += (first ? '' : `${comma} `) + codec.format([item])
      first = false
    }
  }
  flush()
  return out
}
