import { classesNamed, escapeName, oneOfNames, resolvedSelectors, Sheet, textOf, type RuleSite } from '../css'
import { applySplices, type Splice } from '../text'
import type { Tailwind } from './tailwind'

const isLayerOf = ({ parents: [around, ...more] }: RuleSite, text: (span: { from: number; to: number }) => string): boolean =>
  more.length === 0 && around?.kind === 'at' && around.name === 'layer' && text(around.prelude).trim() === 'utilities'

/** The custom properties of the theme that some CSS uses and a sheet does not set, with their values: version 4 writes those that are used. */
function themeFor(css: string, text: string, tailwind: Tailwind): [name: string, value: string][] {
  const out = new Map<string, string>()
  const look = (value: string): void => {
    for (const [, name] of value.matchAll(/var\(\s*(--[\w-]+)/g)) {
      const given = out.has(name) || text.includes(`${name}:`) ? null : tailwind.themeValue(name)
      if (given === null) continue
      out.set(name, given)
      look(given)
    }
  }
  look(css)
  return [...out]
}

/**
 * A sheet that the project's own Tailwind CSS compiled, with the rules of more classes where it would have put them, in the
 * order of the package: in its layer of utilities, or, as version 3 has it, in no layer and with the theme's values in place.
 */
export function withClasses(text: string, tailwind: Tailwind, names: readonly string[]): string {
  const missing = names.filter((name) => tailwind.read(name) !== null && !oneOfNames([`.${escapeName(name)}`])!.test(text))
  if (missing.length === 0) return text
  const sites = [...new Sheet(text).rules()].filter((site) => site.rule.kind === 'style')
  const layered = sites.filter((site) => isLayerOf(site, (span) => textOf(site, span)))
  const isLayered = layered.length > 0 || /@layer[^{};]*\butilities\b/.test(text)
  const there = (isLayered ? layered : sites.filter((site) => site.parents.length === 0)).flatMap((site) => {
    const [name, ...more] = resolvedSelectors(site).flatMap(classesNamed)
    const start = site.statement.start
    return name !== undefined && more.length === 0 && tailwind.read(name)
      ? [{ name, from: start + site.rule.span.from, to: start + site.rule.span.to }]
      : []
  })
  const order = tailwind.order([...missing, ...there.map((t) => t.name)])
  const rank = (name: string) => order.get(name) ?? -1
  const last = there.at(-1)
  const splices: Splice[] = []
  const atEnd: string[] = []
  let added = ''
  for (const name of missing.sort((a, b) => rank(a) - rank(b))) {
    const css = (isLayered ? tailwind.cssOf(name) : tailwind.plainCssOf(name))?.trim()
    if (!css) continue
    added += css
    // What waits for a width or a state stands behind all that does not.
    const next = there.find((t) => rank(t.name) > rank(name))
    if (next) splices.push({ from: next.from, to: next.from, insert: `${css}\n  ` })
    else if (last && isLayered) splices.push({ from: last.to, to: last.to, insert: `\n  ${css}` })
    else atEnd.push(css)
  }
  const whole = applySplices(
    text,
    splices.sort((a, b) => a.from - b.from),
  )
  const theme = isLayered ? themeFor(added, text, tailwind).map(([name, value]) => `    ${name}: ${value};\n`) : []
  return [
    whole,
    ...(theme.length ? [`\n@layer theme {\n  :root, :host {\n${theme.join('')}  }\n}\n`] : []),
    ...(atEnd.length === 0 ? [] : isLayered ? [`\n@layer utilities {\n  ${atEnd.join('\n  ')}\n}\n`] : [`\n${atEnd.join('\n')}\n`]),
  ].join('')
}
