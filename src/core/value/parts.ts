import { splitTop } from '../css'

/** The comma-separated items of a value, trimmed. */
export const commaList = (text: string): string[] => splitTop(text, 0, text.length, ',').map(({ from, to }) => text.slice(from, to).trim())

/** The space-separated words of a value; functions with their arguments are one word. */
export function words(text: string): string[] {
  const flat = text.trim().replace(/\s+/g, ' ')
  return splitTop(flat, 0, flat.length, ' ')
    .map(({ from, to }) => flat.slice(from, to))
    .filter(Boolean)
}

/** `name(arguments)`; null when the text is no single function. */
export function functionOf(text: string): { readonly name: string; readonly args: string } | null {
  const m = /^([a-z-][\w-]*)\(([^]*)\)$/i.exec(text.trim())
  return m && isBalanced(m[2]) ? { name: m[1].toLowerCase(), args: m[2].trim() } : null
}

function isBalanced(text: string): boolean {
  let depth = 0
  for (const c of text.replace(/"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'/g, '')) {
    if (c === '(') depth++
    else if (c === ')' && --depth < 0) return false
  }
  return depth === 0
}
