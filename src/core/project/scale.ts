import { declarationsOf, isRootRule, MEDIA_EM, StatementMemo, textOf, type Declaration, type RuleSite, type Sheet } from '../css'
import { isLengthText, parseColor, parseLength } from '../value'
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

interface Counted {
  readonly widths: readonly number[]
  readonly conditions: readonly string[]
  readonly lengths: readonly (readonly [key: string, text: string, of: UsedLength['of']])[]
  readonly tokens: readonly {
    readonly site: RuleSite
    readonly declaration: Declaration
    readonly text: string
    readonly kind: Token['kind']
  }[]
}

interface Sums {
  readonly widths: Map<number, number>
  readonly conditions: Map<string, number>
  readonly lengths: Map<string, UsedLength>
  /** The statements that define tokens. */
  readonly tokens: Set<Counted>
}

function countUp<K>(counts: Map<K, number>, key: K, by: number): void {
  const count = (counts.get(key) ?? 0) + by
  if (count > 0) counts.set(key, count)
  else counts.delete(key)
}

function addUp(sums: Sums, of: Counted, by: 1 | -1): void {
  for (const w of of.widths) countUp(sums.widths, w, by)
  for (const c of of.conditions) countUp(sums.conditions, c, by)
  for (const [key, text, kind] of of.lengths) {
    const count = (sums.lengths.get(key)?.count ?? 0) + by
    if (count > 0) sums.lengths.set(key, { text, of: kind, count })
    else sums.lengths.delete(key)
  }
  if (of.tokens.length && by > 0) sums.tokens.add(of)
  else sums.tokens.delete(of)
}

// What one statement says; the places of tokens are told when it is put together, since they move.
const READ = new StatementMemo<Counted, Sums>(
  (rules) => {
    const tokens: Counted['tokens'][number][] = []
    const widths: number[] = []
    const conditions: string[] = []
    const lengths: Counted['lengths'][number][] = []
    for (const site of rules) {
      const prelude = textOf(site, site.rule.prelude)
      if (site.rule.kind === 'at' && site.rule.name !== 'theme') {
        if (site.rule.name !== 'media') continue
        const found = [...prelude.matchAll(WIDTH)]
        if (found.length) conditions.push(prelude)
        for (const [, n, unit] of found) widths.push(Number(n) * (unit.toLowerCase() === 'px' ? 1 : MEDIA_EM))
        continue
      }
      for (const d of declarationsOf(site.rule)) {
        const of = usedFor(d.name)
        if (of) for (const text of lengthsIn(textOf(site, d.value))) lengths.push([`${of} ${text}`, text, of])
      }
      // A token under a condition or in a theme is the same token with another value there.
      if (!isRootRule(site) || site.parents.some((p) => p.kind === 'at' && p.name !== 'layer')) continue
      for (const declaration of declarationsOf(site.rule)) {
        if (!declaration.name.startsWith('--')) continue
        const text = textOf(site, declaration.value)
        tokens.push({
          site,
          declaration,
          text,
          kind: parseColor(text) ? 'color' : isLengthText(text) ? 'length' : 'other',
        })
      }
    }
    return tokens.length || widths.length || conditions.length || lengths.length ? { tokens, widths, conditions, lengths } : null
  },
  () => ({ widths: new Map(), conditions: new Map(), lengths: new Map(), tokens: new Set() }),
  addUp,
)

const usedFor = (name: string): UsedLength['of'] | null =>
  /^(padding|margin|gap|row-gap|column-gap|inset|top|right|bottom|left)/.test(name)
    ? 'space'
    : name === 'font-size' || name === 'letter-spacing'
      ? 'type'
      : /^border.*radius/.test(name)
        ? 'edge'
        : null

const lengthsIn = (value: string): string[] =>
  value.split(/[\s/]+/).filter((word) => {
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
    const here = READ.of(ref.sheet).sum
    for (const w of here.widths.keys()) widths.add(w)
    for (const [text, count] of here.conditions) conditions.set(text, (conditions.get(text) ?? 0) + count)
    for (const [key, l] of here.lengths) lengths.set(key, { ...l, count: l.count + (lengths.get(key)?.count ?? 0) })
    const defined = [...here.tokens]
      .flatMap((t) => t.tokens)
      .sort((a, b) => a.site.statement.start + a.declaration.span.from - b.site.statement.start - b.declaration.span.from)
    for (const { site, declaration, text, kind } of defined) {
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
