import type { DevTool } from './development'

/** A tool that renders pages on a server of its own, and its package. */
export interface KnownTool {
  readonly tool: DevTool
  readonly pack: string
  readonly name: string
  readonly canStart: boolean
}

/** The tools that are known, the one that has others inside it first. */
const TOOLS: readonly KnownTool[] = [
  { tool: 'next', pack: 'next', name: 'Next.js', canStart: true },
  { tool: 'astro', pack: 'astro', name: 'Astro', canStart: true },
  { tool: 'vite', pack: 'vite', name: 'Vite', canStart: true },
]

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)

/** What renders the pages of a project, by the text of its `package.json`; null where nothing that is known does. */
export function toolOf(packageJson: string): KnownTool | null {
  let own: unknown
  try {
    own = JSON.parse(packageJson)
  } catch {
    return null
  }
  if (!isRecord(own)) return null
  const packs = new Set([own.dependencies, own.devDependencies].flatMap((list) => (isRecord(list) ? Object.keys(list) : [])))
  return TOOLS.find(({ pack }) => packs.has(pack)) ?? null
}
