import { evaluateLength, parseLength, type Length } from './length'

/** The longest value that can be typed, in UTF-16 code units. */
export const MOST_TYPED = 2000

/** How much of what was typed a message repeats. */
const REPEATED = 32

/** A value as it can be written, or why what was typed is none. */
export type Typed = { readonly ok: true; readonly value: string } | { readonly ok: false; readonly why: string }

interface Field {
  readonly property: string
  /** Whether lengths are typed: numbers take the unit that stands there, and arithmetic is worked out. */
  readonly lengths: boolean
  /** What arithmetic goes on from, and whose unit a bare number takes; px where there is none. */
  readonly current: Length | null
  /** Whether the engine takes a value for the property (CSS Conditional 3 §6.1). */
  readonly supports: (value: string) => boolean
}

/** Splits at white space outside parentheses; what an operator joins, with space on both sides of it or on none, is one word. */
function wordsOf(text: string): string[] {
  const words: string[] = []
  let depth = 0
  let word = ''
  for (const c of text) {
    if (c === '(') depth++
    else if (c === ')') depth--
    if (depth <= 0 && /\s/.test(c)) {
      if (word) words.push(word)
      word = ''
    } else word += c
  }
  if (word) words.push(word)
  // A lone operator, and one at the end of a word, go with what stands on both sides.
  const out: string[] = []
  let open = false
  for (const w of words) {
    if (out.length && (open || /^[*/+-]$/.test(w))) out[out.length - 1] += ` ${w}`
    else out.push(w)
    open = /[*/+-]$/.test(w)
  }
  return out
}

/**
 * What people type into a field: lengths with arithmetic (`12+4`, `*1.5`, `1.5em + 4px`), several lengths in a row,
 * `--token` names, keywords, or any value as CSS writes it.
 */
export function readTyped(typed: string, { property, lengths, current, supports }: Field): Typed {
  const text = typed.trim()
  if (text === '') return { ok: false, why: 'Type a value' }
  const shown = text.length > REPEATED ? `${text.slice(0, REPEATED)}…` : text
  if (text.length > MOST_TYPED) return { ok: false, why: `“${shown}” is longer than the ${MOST_TYPED} characters that a value may have` }
  if (/^--[\w-]+$/.test(text)) return { ok: true, value: `var(${text})` }
  const unit = current?.unit || 'px'
  const words = lengths ? wordsOf(text) : []
  // `4px -2px` are two lengths and `1.5em+4px` is one, though the engine would read two.
  const isPlain = words.every((w) => parseLength(w) !== null || !/^[\d.(+*/-].*[+*/-]/.test(w) || w.includes('calc('))
  const candidates = [
    ...(lengths && (!isPlain || words.length > 1) ? [words.map((w) => evaluateLength(w, null, unit) ?? w).join(' ')] : []),
    ...(lengths ? [evaluateLength(text, current, unit)] : []),
    text,
  ]
  // What is a value as it stands is no arithmetic.
  const asTyped = lengths && isPlain && parseLength(text) === null && supports(text)
  const value = asTyped ? text : candidates.find((c) => c !== null && supports(c))
  return value ? { ok: true, value } : { ok: false, why: `“${shown}” is not a value of ${property}` }
}
