import { createRequire } from 'node:module'
import postcss, { type AcceptedPlugin, type Node } from 'postcss'
import type { ClassSource } from './fluent-reading'

interface Context {
  getClassList(): string[]
  getClassOrder(names: readonly string[]): [string, bigint | null][]
}

// The real package, by the functions that its own build calls.
const require = createRequire(import.meta.url)
const plugin = require('tailwindcss-3') as (config: object) => AcceptedPlugin
const resolveConfig = require('tailwindcss-3/resolveConfig') as (config: object) => object
const { createContext } = require('tailwindcss-3/lib/lib/setupContextUtils') as {
  createContext: (config: object) => Context
}
const { generateRules } = require('tailwindcss-3/lib/lib/generateRules') as {
  generateRules: (names: Set<string>, context: Context) => [unknown, Node][]
}

/** Classes as version 3 of Tailwind CSS compiles them, with a project's own config. */
export async function tailwind3(config: object): Promise<ClassSource> {
  const own = {
    ...config,
    content: [{ raw: 'transform filter backdrop-filter shadow ring border-spacing-1 snap-x touch-pan-x ordinal from-black' }],
  }
  const context = createContext(resolveConfig(own))
  const base = await postcss([plugin(own)]).process('@tailwind base; @tailwind utilities', { from: undefined })
  const defaults = new Map<string, string>()
  base.root.walkDecls(/^--tw-/, (d) => {
    if (d.parent?.type === 'rule' && (d.parent as unknown as { selector: string }).selector.startsWith('*')) defaults.set(d.prop, d.value)
  })
  return {
    defaults,
    names: context.getClassList(),
    css: (name) =>
      generateRules(new Set([name]), context)
        .map(([, node]) => node.toString())
        .join('\n') || null,
    order: (names) => {
      const known = context.getClassOrder([...names]).sort(([, a], [, b]) => ((a ?? -1n) < (b ?? -1n) ? -1 : 1))
      return new Map(known.map(([name, at], i) => [name, at === null ? -1 : i]))
    },
  }
}
