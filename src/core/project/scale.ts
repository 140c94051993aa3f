import { declarationsOf, textOf } from '../css'
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
}

const ROOT = /(^|,)\s*(:root|html|body|:host|\*)\s*(,|$)/
const WIDTH = /(?:(?:min|max)-width\s*:\s*|width\s*[<>]=?\s*)([\d.]+)(px|r?em)/gi

// Media queries take `em` and `rem` from the initial font size (Media Queries 4 §1.3).
const MEDIA_EM = 16

export function scaleOf(project: Project): Scale {
  const tokens = new Map<string, Token>()
  const widths = new Set<number>()
  for (const ref of project.allSheets()) {
    for (const site of ref.sheet.rules()) {
      const prelude = textOf(site, site.rule.prelude)
      if (site.rule.kind === 'at') {
        if (site.rule.name === 'media') for (const [, n, unit] of prelude.matchAll(WIDTH)) widths.add(Number(n) * (unit.toLowerCase() === 'px' ? 1 : MEDIA_EM))
        continue
      }
      // A token under a condition or in a theme is the same token with another value there.
      if (!ROOT.test(prelude) || site.parents.some((p) => p.kind === 'at' && p.name !== 'layer')) continue
      for (const d of declarationsOf(site.rule)) {
        if (!d.name.startsWith('--') || tokens.has(d.name)) continue
        const text = textOf(site, d.value)
        const kind = parseColor(text) ? 'color' : parseLength(text)?.unit ? 'length' : 'other'
        const line = project.lineAt(ref.path, ref.base + site.statement.start + d.span.from)
        tokens.set(d.name, { name: d.name, text, kind, path: ref.path, line })
      }
    }
  }
  return { tokens: [...tokens.values()], breakpoints: [...widths].filter((w) => w > 0).sort((a, b) => a - b) }
}
