import { classesNamed, escapeName, oneOfNames, resolvedSelectors, Sheet, textOf, type RuleSite } from '../css'
import { applySplices, type Splice } from '../text'
import type { Tailwind } from './tailwind'

const isUtilities = (site: RuleSite): boolean => {
  const [around] = site.parents
  return site.parents.length === 1 && around.kind === 'at' && around.name === 'layer' && textOf(site, around.prelude).trim() === 'utilities'
}

/**
 * A sheet that the project's own Tailwind CSS compiled, with the rules of more classes where it would have put them: in its
 * layer of utilities, in the order of the package.
 */
export function withClasses(text: string, tailwind: Tailwind, names: readonly string[]): string {
  const missing = names.filter((name) => !oneOfNames([`.${escapeName(name)}`])!.test(text) && tailwind.read(name) !== null)
  if (missing.length === 0) return text
  const there = [...new Sheet(text).rules()].flatMap((site) => {
    const [name] = isUtilities(site) && site.rule.kind === 'style' ? resolvedSelectors(site).flatMap(classesNamed) : []
    const start = site.statement.start + site.rule.span.from
    return name === undefined ? [] : [{ name, from: start, to: site.statement.start + site.rule.span.to }]
  })
  const order = tailwind.order([...missing, ...there.map((t) => t.name)])
  const rank = (name: string) => order.get(name) ?? -1
  const last = there.at(-1)
  const splices: Splice[] = []
  const atEnd: string[] = []
  for (const name of missing.sort((a, b) => rank(a) - rank(b))) {
    const css = tailwind.cssOf(name)?.trim()
    if (!css) continue
    const next = there.find((t) => rank(t.name) > rank(name))
    if (next) splices.push({ from: next.from, to: next.from, insert: `${css}\n  ` })
    else if (last) splices.push({ from: last.to, to: last.to, insert: `\n  ${css}` })
    else atEnd.push(css)
  }
  const whole = applySplices(
    text,
    splices.sort((a, b) => a.from - b.from),
  )
  return atEnd.length ? `${whole}\n@layer utilities {\n  ${atEnd.join('\n  ')}\n}\n` : whole
}
