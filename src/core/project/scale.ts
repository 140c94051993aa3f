import { declarationsOf, isRootRule, MEDIA_EM, SheetMemo, textOf, type Declaration, type RuleSite, type Sheet } from '../css'
import { parseColor, parseLength } from '../value'
import type { Project } from './project'

/** A custom property that the project defines at its root. */
export interface Token {
  readonly name: string
  readonly text: string
  readonly kind: 'length' | 'color' | 'other'
  readonly path: string
  readonly line: number
}

/** What the project itself measures with: its tokens, and the widths its media queries turn on (CSS px, ascending). */
export interface Scale {
  readonly tokens: readonly Token[]
  readonly breakpoints: readonly number[]
  /** The media conditions on width as the project writes them, the most used first. */
  readonly conditions: readonly string[]
  /** Lengths that declarations of space and of type use, in the source's spelling, with how often; the most used first. */
  readonly lengths: readonly { readonly text: string; readonly count: number; readonly of: 'space' | 'type' | 'edge' }[]
}

const WIDTH = /(?:(?:min|max)-width\s*:\s*|width\s*[<>]=?\s*)([\d.]+)(px|r?em)/gi

const MOST_LENGTHS = 60

type UsedLength = Scale['lengths'][number]

// What one sheet says; the places of tokens are told when it is put together, since they move.
const READ = new SheetMemo((sheet) => {
  const tokens: { site: RuleSite; declaration: Declaration; text: string; kind: Token['kind'] }[] = []
  const widths = new Set<number>()
  const conditions = new Map<string, number>()
  const lengths = new Map<string, UsedLength>()
  for (const site of sheet.rules()) {
    const prelude = textOf(site, site.rule.prelude)
    if (site.rule.kind === 'at' && site.rule.name !== 'theme') {
      if (site.rule.name !== 'media') continue
      const found = [...prelude.matchAll(WIDTH)]
      if (found.length) conditions.set(prelude, (conditions.get(prelude) ?? 0) + 1)
      for (const [, n, unit] of found) widths.add(Number(n) * (unit.toLowerCase() === 'px' ? 1 : MEDIA_EM))
      continue
    }
    for (const d of declarationsOf(site.rule)) {
      const of = usedFor(d.name)
      if (of) for (const text of lengthsIn(textOf(site, d.value))) lengths.set(`${of} ${text}`, { text, of, count: (lengths.get(`${of} ${text}`)?.count ?? 0) + 1 })
    }
    // A token under a condition or in a theme is the same token with another value there.
    if (!isRootRule(site) || site.parents.some((p) => p.kind === 'at' && p.name !== 'layer')) continue
    for (const declaration of declarationsOf(site.rule)) {
      if (!declaration.name.startsWith('--')) continue
      const text = textOf(site, declaration.value)
      tokens.push({ site, declaration, text, kind: parseColor(text) ? 'color' : parseLength(text)?.unit ? 'length' : 'other' })
    }
  }
  return { tokens, widths, conditions, lengths }
})

const usedFor = (name: string): UsedLength['of'] | null =>
  /^(padding|margin|gap|row-gap|column-gap|inset|top|right|bottom|left)/.test(name) ? 'space' : name === 'font-size' || name === 'letter-spacing' ? 'type' : /^border.*radius/.test(name) ? 'edge' : null

const lengthsIn = (value: string): string[] => value.split(/[\s/]+/).filter((word) => {
  const length = parseLength(word)
  return length !== null && length.number !== 0 && length.unit !== '' && length.unit !== '%'
})

/** What the project measures with, over all its sheets, or those that `takes` says. */
export function scaleOf(project: Project, takes: (sheet: Sheet) => boolean = () => true): Scale {
  const tokens = new Map<string, Token>()
  const widths = new Set<number>()
  const conditions = new Map<string, number>()
  const lengths = new Map<string, UsedLength>()
  for (const ref of project.allSheets()) {
    if (!takes(ref.sheet)) continue
    const here = READ.of(ref.sheet)
    for (const w of here.widths) widths.add(w)
    for (const [text, count] of here.conditions) conditions.set(text, (conditions.get(text) ?? 0) + count)
    for (const [key, l] of here.lengths) lengths.set(key, { ...l, count: l.count + (lengths.get(key)?.count ?? 0) })
    for (const { site, declaration, text, kind } of here.tokens) {
      if (tokens.has(declaration.name)) continue
      const line = project.lineIn(ref, site.statement.start + declaration.span.from)
      tokens.set(declaration.name, { name: declaration.name, text, kind, path: ref.path, line })
    }
  }
  return {
    tokens: [...tokens.values()],
    breakpoints: [...widths].filter((w) => w > 0).sort((a, b) => a - b),
    conditions: [...conditions].sort((a, b) => b[1] - a[1]).map(([text]) => text),
    lengths: [...lengths.values()].sort((a, b) => b.count - a.count).slice(0, MOST_LENGTHS),
  }
}
