import type { UsedColor } from '../../agent/protocol'
import type { Scale } from '../../core/project'
import { formatColor, nearlySameColor, notationOf, parseColor, PLAIN_NOTATION, sameColor } from '../../core/value'

/** A colour that the page shows, as the list has it. */
export interface ListedColor {
  /** As the page computes it. */
  readonly color: string
  /** As it is written in short. */
  readonly short: string
  /** As what elements have it: `12 text, 3 background`. */
  readonly roles: string
  readonly count: number
  readonly nodes: readonly number[]
  /** The token of the project that has it; null where none has. */
  readonly token: string | null
  /** One that is used more and hardly told from it; null where there is none. */
  readonly near: string | null
}

/** What elements have a colour as, in the words of CSS. */
const ROLES = [
  ['text', 'text'],
  ['ground', 'background'],
  ['edge', 'border'],
  ['paint', 'SVG'],
] as const

const sumOf = (a: UsedColor, b: UsedColor): UsedColor => ({
  ...a,
  text: a.text + b.text,
  ground: a.ground + b.ground,
  edge: a.edge + b.edge,
  paint: a.paint + b.paint,
  count: a.count + b.count,
  nodes: [...new Set([...a.nodes, ...b.nodes])],
})

/** The tokens of a project that are colours; those that a framework keeps for itself are none of the theme. */
export const themeColors = (tokens: Scale['tokens']): Scale['tokens'] =>
  tokens.filter((t) => t.kind === 'color' && !t.name.startsWith('--tw-'))

/** The colours of a page, the most used first: each once, in whatever notations it is computed. */
export function listColors(used: readonly UsedColor[], tokens: Scale['tokens']): ListedColor[] {
  const merged: { readonly parsed: ReturnType<typeof parseColor>; use: UsedColor }[] = []
  for (const use of used) {
    const parsed = parseColor(use.color)
    const same = parsed && merged.find((m) => sameColor(m.parsed, parsed))
    if (same) same.use = sumOf(same.use, use)
    else merged.push({ parsed, use })
  }
  merged.sort((a, b) => b.use.count - a.use.count)
  const ofTheme = themeColors(tokens).map((t) => ({ name: t.name, parsed: parseColor(t.text) }))
  const shortOf = ({ parsed, use }: (typeof merged)[number]) => (parsed ? formatColor(parsed, PLAIN_NOTATION) : use.color)
  return merged.map((m, i) => {
    const { parsed, use } = m
    const near = parsed && merged.slice(0, i).find((other) => other.parsed && nearlySameColor(parsed, other.parsed))
    return {
      color: use.color,
      short: shortOf(m),
      roles: ROLES.flatMap(([role, words]) => (use[role] ? [`${use[role].toLocaleString('en')} ${words}`] : [])).join(', '),
      count: use.count,
      nodes: use.nodes,
      token: ofTheme.find((t) => sameColor(t.parsed, parsed))?.name ?? null,
      near: near ? shortOf(near) : null,
    }
  })
}

/** Notations that a colour is copied in, each with a colour that is written so. */
const NOTATIONS = [
  ['hex', '#112233'],
  ['rgb', 'rgb(1 2 3)'],
  ['hsl', 'hsl(1 2% 3%)'],
  ['oklch', 'oklch(0.1 0.2 3)'],
] as const

/** A colour in the notations of CSS Color 4 that people write. */
export function inNotations(color: string): readonly { readonly name: string; readonly text: string }[] {
  const parsed = parseColor(color)
  return parsed ? NOTATIONS.map(([name, like]) => ({ name, text: formatColor(parsed, notationOf(like)) })) : []
}
