import type { Span } from '../text'
import { childrenOf, type Node } from './parse'

/** The step that a file indents by: the least that a line has more than the one before. */
export function indentStep(text: string): string {
  const counts = new Map<string, number>()
  let last = ''
  for (const [, lead] of text.matchAll(/^([ \t]*)\S/gm)) {
    if (lead.length > last.length && lead.startsWith(last)) {
      const step = lead.slice(last.length)
      counts.set(step, (counts.get(step) ?? 0) + 1)
    }
    last = lead
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '  '
}

// Lines in these are a part of what they say.
function fixedSpans(node: Node, text: string): Span[] {
  const out: Span[] = []
  const visit = (n: Node): void => {
    const isText = n.type === 'TemplateLiteral' || n.type === 'StringLiteral'
    if (isText && text.slice(n.start, n.end).includes('\n')) out.push({ from: n.start, to: n.end })
    for (const child of childrenOf(n)) visit(child)
  }
  visit(node)
  return out
}

/** A part of a text with the lines after its first moved from one indentation to another; `of` are the nodes that stand in it. */
export function reindented(text: string, { from, to }: Span, of: readonly Node[], before: string, after: string): string {
  const part = text.slice(from, to)
  if (before === after || !part.includes('\n')) return part
  const fixed = of.flatMap((node) => fixedSpans(node, text))
  return part.replace(/(\r?\n)([ \t]*)(?=([^\r\n]?))/g, (all, end: string, lead: string, next: string, at: number) => {
    const line = from + at + end.length
    if (next === '' || fixed.some((f) => line > f.from && line < f.to)) return all
    if (lead.startsWith(before)) return end + after + lead.slice(before.length)
    return end + (before.startsWith(lead) ? after.slice(0, Math.max(0, after.length - (before.length - lead.length))) : lead)
  })
}

/** A piece from elsewhere with the lines after its first indented by `step`, from `base` on; its own layout is kept. */
export function laidOutAs(code: string, step: string, base: string): string {
  const [first, ...more] = code.split('\n')
  const depths = more.filter((l) => l.trim() !== '').map((l) => /^[ \t]*/.exec(l)![0].length)
  const least = Math.min(...depths)
  const own = Math.min(...depths.map((d) => d - least).filter((d) => d > 0))
  return [
    first,
    ...more.map((line) => {
      const text = line.trimStart()
      if (text === '') return ''
      const depth = (line.length - text.length - least) / (Number.isFinite(own) ? own : 1)
      return base + step.repeat(Math.round(depth)) + text
    }),
  ].join('\n')
}
