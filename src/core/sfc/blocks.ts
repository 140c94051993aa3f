import type { Span } from '../text'

/** A block of a single-file component: `<template>`, `<script>`, `<style>` and the like, which stand beside each other. */
export interface Block {
  readonly tag: string
  /** Of its start tag, decoded as little as is needed: `true` for one without a value. */
  readonly attributes: ReadonlyMap<string, string | true>
  readonly content: Span
}

const TAG = /<(\/?)([a-zA-Z][\w-]*)((?:"[^"]*"|'[^']*'|\{(?:[^{}]|\{[^{}]*\})*\}|[^>"'{])*?)(\/?)>/g
const ATTRIBUTE = /([\w:@.-]+)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'>]+)))?/g

/** Their text is no markup (HTML §13.2.5.2): it ends with the first end tag of that name. */
const RAW: ReadonlySet<string> = new Set(['script', 'style'])

const attributesIn = (text: string): Map<string, string | true> =>
  new Map([...text.matchAll(ATTRIBUTE)].map(([, name, a, b, c]) => [name, a ?? b ?? c ?? true]))

/**
 * The blocks of a component's file, in order. In Vue's each top-level element is one; in Svelte's and Astro's, scripts and
 * styles that stand in no other element are, and the markup beside them is none.
 */
export function blocksOf(text: string): Block[] {
  const out: Block[] = []
  // Astro's frontmatter is script (Astro: component syntax).
  const fence = /^\s*---\r?\n[\s\S]*?\n---/.exec(text)
  let at = fence ? fence[0].length : 0
  while (at < text.length) {
    const comment = text.indexOf('<!--', at)
    TAG.lastIndex = at
    const tag = TAG.exec(text)
    if (!tag) break
    if (comment >= 0 && comment < tag.index) {
      const end = text.indexOf('-->', comment + 4)
      if (end < 0) break
      at = end + 3
      continue
    }
    at = TAG.lastIndex
    const [, isEnd, name, attributes, isClosed] = tag
    const kind = name.toLowerCase()
    if (isEnd || isClosed || !(RAW.has(kind) || kind === 'template')) continue
    const to = RAW.has(kind) ? endOfRaw(text, kind, at) : endOfTemplate(text, at)
    if (to < 0) break
    out.push({ tag: kind, attributes: attributesIn(attributes), content: { from: at, to } })
    at = text.indexOf('>', to) + 1 || text.length
  }
  return out
}

function endOfRaw(text: string, tag: string, from: number): number {
  const end = new RegExp(`</${tag}[\\s/>]`, 'gi')
  end.lastIndex = from
  return end.exec(text)?.index ?? -1
}

// Templates stand in templates.
function endOfTemplate(text: string, from: number): number {
  const tag = /<!--[\s\S]*?-->|<(\/?)template\b(?:"[^"]*"|'[^']*'|[^>"'])*?(\/?)>/gi
  tag.lastIndex = from
  for (let depth = 1, found = tag.exec(text); found; found = tag.exec(text)) {
    if (found[1] === undefined || found[2] === '/') continue
    depth += found[1] === '/' ? -1 : 1
    if (depth === 0) return found.index
  }
  return -1
}

/** Whether a block's text is CSS as it stands, and not another language that becomes CSS. */
export const isCssBlock = ({ tag, attributes }: Block): boolean =>
  tag === 'style' && /^(css|postcss)$/.test(String(attributes.get('lang') ?? 'css')) && !attributes.has('src')

/** A style block with its number, as its compiler counts them. */
export interface StyleBlock {
  readonly block: Block
  readonly nth: number
}

/** The style blocks of a file, in order. They are counted from 0; Astro's compiler begins with the last, and leaves out those that stay where they are (`is:inline`). */
export function styleBlocks(path: string, text: string): StyleBlock[] {
  const styles = blocksOf(text).filter((b) => b.tag === 'style')
  if (!/\.astro$/i.test(path)) return styles.map((block, nth) => ({ block, nth }))
  const taken = styles.filter((b) => !b.attributes.has('is:inline'))
  return taken.map((block, i) => ({ block, nth: taken.length - 1 - i }))
}

/** The key of the sheet that a style block of that number is. */
export const styleBlockKey = (path: string, nth: number): string => `${path}?style=${nth}`

/** The same by the address that compilers give a style block of a component; null for another address. */
export function styleBlockAt(path: string, query: string): string | null {
  const asked = new URLSearchParams(query)
  const isComponent = ['vue', 'svelte', 'astro'].some((name) => asked.has(name))
  return isComponent && asked.get('type') === 'style' ? styleBlockKey(path, Number(asked.get('index') ?? 0) || 0) : null
}
