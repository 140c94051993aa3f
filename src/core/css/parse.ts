import type { AtRule, CssItem, Declaration, StyleRule } from './tree'
import {
  isNewline,
  isSpace,
  skipBlock,
  skipComment,
  skipComponent,
  skipIdentLike,
  skipName,
  skipTrivia,
  startsComment,
  startsIdent,
  trimTrivia,
} from './scan'

const LBRACE = 123
const RBRACE = 125
const SEMICOLON = 59
const COLON = 58
const AT = 64

/** At-rules whose block holds rules, declarations or both. The block of any other is left as it is. */
const PARSED_BLOCKS = new Set([
  'media',
  'supports',
  'container',
  'layer',
  'scope',
  'starting-style',
  'font-face',
  'page',
  'property',
  'keyframes',
  '-webkit-keyframes',
  '-moz-keyframes',
  '-o-keyframes',
  'counter-style',
  'font-palette-values',
  'view-transition',
  'position-try',
  'viewport',
  '-ms-viewport',
  '-moz-document',
  'utility',
  'theme',
  'variant',
  'custom-variant',
])

/**
 * The end of the top-level statement that starts at or after `i`: after its `}` or `;` (CSS Syntax 3 §5.4.1).
 * White space and comments before a statement belong to it; what is left at the end of the text is a statement too.
 */
export function statementEnd(t: string, i: number): number {
  i = skipTrivia(t, i)
  // CDO and CDC mean nothing at the top level.
  while (t.startsWith('<!--', i) || t.startsWith('-->', i)) i = skipTrivia(t, i + (t[i] === '<' ? 4 : 3))
  const isAt = t.charCodeAt(i) === AT && startsIdent(t, i + 1)
  while (i < t.length) {
    const c = t.charCodeAt(i)
    if (c === LBRACE) return skipBlock(t, i)
    if (isAt && c === SEMICOLON) return i + 1
    i = skipComponent(t, i)
  }
  return t.length
}

interface Frame {
  readonly children: CssItem[]
  readonly isStyle: boolean
  readonly close: (blockEnd: number, end: number, closed: boolean) => void
}

/**
 * Parses the text of one top-level statement, white space and comments around it included. Never fails: what the
 * grammar of CSS Syntax 3 §5 gives up on becomes a `raw` item. `nextId` numbers the rules, parents first.
 */
export function parseStatement(t: string, nextId: () => number): CssItem[] {
  const top: CssItem[] = []
  const stack: Frame[] = [{ children: top, isStyle: false, close: () => {} }]
  let i = 0
  while (i < t.length) {
    const frame = stack[stack.length - 1]
    const nested = stack.length > 1
    const c = t.charCodeAt(i)
    if (isSpace(c) || c === SEMICOLON) i++
    else if (startsComment(t, i)) {
      const end = skipComment(t, i)
      frame.children.push({ kind: 'comment', span: { from: i, to: end } })
      i = end
    } else if (c === RBRACE && nested) {
      stack.pop()
      frame.close(i, i + 1, true)
      i++
    } else if (!nested && (t.startsWith('<!--', i) || t.startsWith('-->', i))) i += t[i] === '<' ? 4 : 3
    else if (c === AT && startsIdent(t, i + 1)) i = openAtRule(t, i, stack, nextId)
    else {
      const declaration = nested ? readDeclaration(t, i) : null
      if (declaration) {
        frame.children.push(declaration)
        i = declaration.semicolon?.to ?? declarationEnd(t, declaration)
      } else i = openStyleRule(t, i, stack, nested, nextId)
    }
  }
  while (stack.length > 1) stack.pop()!.close(t.length, t.length, false)
  return top
}

const declarationEnd = (t: string, d: Declaration): number => skipTrivia(t, d.span.to)

function openAtRule(t: string, start: number, stack: Frame[], nextId: () => number): number {
  const nameEnd = skipName(t, start + 1)
  const name = t.slice(start + 1, nameEnd).toLowerCase()
  const nested = stack.length > 1
  let i = nameEnd
  while (i < t.length) {
    const c = t.charCodeAt(i)
    if (c === LBRACE || c === SEMICOLON || (nested && c === RBRACE)) break
    i = skipComponent(t, i)
  }
  const prelude = trimTrivia(t, nameEnd, i)
  const id = nextId()
  const siblings = stack[stack.length - 1].children
  if (t.charCodeAt(i) !== LBRACE) {
    const end = t.charCodeAt(i) === SEMICOLON ? i + 1 : i
    siblings.push({
      kind: 'at',
      id,
      name,
      prelude,
      block: null,
      span: { from: start, to: end },
      closed: end > i,
      children: [],
    })
    return end
  }
  const rule = (children: CssItem[], blockEnd: number, end: number, closed: boolean): AtRule => ({
    kind: 'at',
    id,
    name,
    prelude,
    block: { from: i + 1, to: blockEnd },
    span: { from: start, to: end },
    closed,
    children,
  })
  if (!PARSED_BLOCKS.has(name)) {
    const end = skipBlock(t, i)
    const closed = t.charCodeAt(end - 1) === RBRACE && end > i + 1
    siblings.push(rule([], closed ? end - 1 : end, end, closed))
    return end
  }
  const children: CssItem[] = []
  stack.push({
    children,
    isStyle: false,
    close: (blockEnd, end, closed) => siblings.push(rule(children, blockEnd, end, closed)),
  })
  return i + 1
}

function openStyleRule(t: string, start: number, stack: Frame[], nested: boolean, nextId: () => number): number {
  let i = start
  while (i < t.length) {
    const c = t.charCodeAt(i)
    if (c === LBRACE || (nested && (c === SEMICOLON || c === RBRACE))) break
    i = skipComponent(t, i)
  }
  const siblings = stack[stack.length - 1].children
  if (t.charCodeAt(i) !== LBRACE) {
    const end = t.charCodeAt(i) === SEMICOLON ? i + 1 : Math.max(i, start + (i === start ? 1 : 0))
    siblings.push({ kind: 'raw', span: { from: start, to: end } })
    return end
  }
  const id = nextId()
  const children: CssItem[] = []
  const prelude = trimTrivia(t, start, i)
  stack.push({
    children,
    isStyle: true,
    close: (blockEnd, end, closed) => {
      const rule: StyleRule = {
        kind: 'style',
        id,
        prelude,
        block: { from: i + 1, to: blockEnd },
        span: { from: start, to: end },
        closed,
        children,
      }
      siblings.push(rule)
    },
  })
  return i + 1
}

/**
 * The declaration at `i`, or null where the text is to be read as a rule (CSS Syntax 3 §5.5.6: a `{}` block beside
 * other parts of the value makes it no declaration, unless it is a custom property).
 */
export function readDeclaration(t: string, i: number): Declaration | null {
  if (!startsIdent(t, i)) {
    // Old hacks such as `*zoom: 1` are bad declarations that end at their semicolon, but not rules either.
    return null
  }
  const nameEnd = skipIdentLike(t, i)
  const colon = skipTrivia(t, nameEnd)
  if (t.charCodeAt(colon) !== COLON) return null
  const raw = t.slice(i, nameEnd)
  const isCustom = raw.startsWith('--')
  let end = colon + 1
  let blocks = 0
  let others = 0
  while (end < t.length) {
    const c = t.charCodeAt(end)
    if (c === SEMICOLON || c === RBRACE) break
    if (c === LBRACE) {
      blocks++
      if (!isCustom) {
        const before = trimTrivia(t, colon + 1, end)
        if (before.from < before.to) return null
      }
    } else if (!isSpace(c) && !startsComment(t, end)) others++
    end = skipComponent(t, end)
  }
  if (!isCustom && blocks > 0 && (others > 0 || blocks > 1)) return null
  const whole = trimTrivia(t, colon + 1, end)
  const important = findImportant(t, whole)
  const value = important ? trimTrivia(t, whole.from, important.from) : whole
  return {
    kind: 'declaration',
    name: isCustom ? raw : raw.toLowerCase(),
    nameSpan: { from: i, to: nameEnd },
    value,
    important,
    span: { from: i, to: Math.max(whole.to, colon + 1) },
    semicolon: t.charCodeAt(end) === SEMICOLON ? { from: end, to: end + 1 } : null,
  }
}

function findImportant(t: string, whole: { from: number; to: number }): { from: number; to: number } | null {
  const word = t.slice(whole.to - 9, whole.to)
  if (whole.to - whole.from < 10 || word.toLowerCase() !== 'important') return null
  // Tokens are read from the left, so that a `!` in a string or a comment is not taken for one.
  let bang = -1
  for (let i = whole.from; i < whole.to - 9;) {
    if (t.charCodeAt(i) === 33) bang = i
    else if (!isSpace(t.charCodeAt(i)) && !startsComment(t, i)) bang = -1
    i = skipComponent(t, i)
  }
  return bang === -1 ? null : { from: bang, to: whole.to }
}

/** Parses declarations that stand without a rule around them, as in a `style` attribute (CSS Style Attributes §3). */
export function parseDeclarationList(t: string): Declaration[] {
  const out: Declaration[] = []
  for (let i = 0; i < t.length;) {
    const c = t.charCodeAt(i)
    if (isSpace(c) || isNewline(c) || c === SEMICOLON) i++
    else if (startsComment(t, i)) i = skipComment(t, i)
    else {
      const d = readDeclaration(t, i)
      if (d) {
        out.push(d)
        i = d.semicolon?.to ?? declarationEnd(t, d)
        if (t.charCodeAt(i) === RBRACE) i++
      } else {
        while (i < t.length && t.charCodeAt(i) !== SEMICOLON) i = skipComponent(t, i)
      }
    }
  }
  return out
}
