/**
 * `npm run defaults -- DIR [--picks N] [--seed S] [--every] [--json]`: picks elements at random on the pages of a site in Chromium and
 * asks for the default place of a padding, a colour, a font size and a width, at three widths of the page. It counts what
 * kind of place that is, and holds it against a like of its own reckoning: what a default reaches beyond it, and where the
 * place depends on the width though the value does not. With `--every`
 * each place is printed. Exits 1 when a default reaches beyond the element's like or is another at another width, or when
 * over 2% are the `style` attribute.
 */
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'
import { withoutSharedFolder } from '../src/storage/archive'
import { folder, option } from './options'
import { Random } from './random'
import { openSite, readSite } from './site'

const PROPERTIES = ['padding-top', 'color', 'font-size', 'width']
const WIDTHS = [480, 760, 1064]

interface Place {
  readonly kind: string
  readonly label: string
  readonly key: string
  /** Whether it sets the value that the element has now. */
  readonly decides: boolean
  /** Whether its selector is of a class of the element's own. */
  readonly own: boolean
  /** A rule under a condition of size that alone sets the value. */
  readonly alone: boolean
  readonly selectors: readonly string[]
}

export interface DefaultsResult {
  readonly pages: number
  readonly picks: number
  readonly kinds: Readonly<Record<string, number>>
  readonly attribute: number
  readonly beyond: number
  readonly differs: number
  readonly none: number
  readonly cases: readonly string[]
}

/**
 * Runs in the page: how many of the elements that the selectors match are not like the one at a place. Written down apart
 * from the product's own reckoning: alike is what shares a class with it; or, where it has none, what has its tag and stands
 * under an ancestor with a class, or a landmark, that the two have in common, with no other such between but rows and lists.
 */
const BEYOND = `
  const [selectors, source] = arguments
  const picked = document.querySelector('[data-steady="' + source + '"]')
  const anchors = (e) => {
    const out = []
    for (let a = e.parentElement; a; a = a.parentElement) {
      for (const c of a.classList) out.push('.' + c)
      if (/^(tr|tbody|thead|tfoot|li)$/.test(a.localName)) continue
      if (a.classList.length) return out
      if (/^(header|nav|main|aside|footer|article|section|form|dialog|figure|table)$/.test(a.localName)) return [...out, a.localName]
    }
    return [...out, '']
  }
  const own = [...picked.classList], mine = anchors(picked)
  const alike = (e) => e === picked || (own.length ? own.some((c) => e.classList.contains(c)) : e.localName === picked.localName && anchors(e).some((a) => mine.includes(a)))
  const plain = (s) => s.replace(/::?(before|after|first-line|first-letter|placeholder|marker|selection)\\b/g, '').replace(/:(hover|focus|focus-visible|focus-within|active|visited|target)(?![\\w-])/g, '') || '*'
  const hit = new Set(selectors.flatMap((s) => { try { return [...document.querySelectorAll(plain(s))] } catch { return [] } }))
  return [...hit].filter((e) => !alike(e)).map((e) => e.outerHTML.slice(0, 80))`

export async function runDefaults(dir: string, picks: number, seed: number): Promise<DefaultsResult> {
  const random = new Random(seed)
  const app = await startApp()
  const browser = await openBrowser({ width: 1440 })
  const studio = new Studio(browser, app.url)
  const kinds: Record<string, number> = {}
  const cases: string[] = []
  const result = { pages: 0, picks: 0, attribute: 0, beyond: 0, differs: 0, none: 0 }
  const tried = new Set<string>()
  try {
    const files = new Map(withoutSharedFolder([...readSite(dir)].map(([path, bytes]) => ({ path, bytes }))).map((f) => [f.path, f.bytes]))
    const pages = await openSite(studio, files)
    const ask = <T>(script: string, ...args: unknown[]): Promise<T> =>
      browser.driver.executeAsyncScript<T>(
        `const done = arguments[arguments.length - 1], args = [...arguments].slice(0, -1), p = window.steadyProof
      ;(async () => { ${script} })().then(done, (e) => done({ failed: String(e && e.stack || e) }))`,
        ...args,
      )
    for (let round = 0; result.picks < picks && round < picks; round++) {
      const page = random.pick(pages)
      await studio.goTo(page === 'index.html' ? '/' : `/${page}`)
      await studio.driver.sleep(400)
      tried.add(page)
      const sources = await studio.inPage<string[]>(
        "return [...document.body.querySelectorAll('[data-steady]'), document.body].filter((e) => e.dataset.steady && !/^(script|style|template|noscript|br|option|source|meta|link|title)$/.test(e.localName)).map((e) => e.dataset.steady)",
      )
      if (sources.length === 0) continue
      for (const source of Array.from({ length: Math.min(25, picks - result.picks) }, () => random.pick(sources))) {
        result.picks++
        const byWidth: Record<string, Place | null>[] = []
        for (const width of WIDTHS) {
          const places = await ask<Record<string, Place | null> | { failed: string }>(
            `
            const [source, width, properties] = args, { selection } = p.session
            if (p.state().width !== width) { p.session.setWidth(width); await new Promise((r) => setTimeout(r, 250)) }
            if (!(await selection.pickSource(source))) return {}
            await selection.needAims(properties)
            const out = {}
            for (const property of properties) {
              const at = p.state().picked.aims.get(property), c = at && at.candidates[at.chosen]
              out[property] = c ? {
                kind: c.ref.kind, label: c.label, key: [c.ref.kind === 'new-rule' ? 'rule' : c.ref.kind, c.path, c.label, ...c.conditions].join(' '), decides: c.current !== null, alone: c.conditions.some((x) => /^@(media|container)/.test(x)) && c.current !== null,
                own: p.state().picked.report.info.classes.some((name) => c.label.split(',').every((s) => s.includes('.' + name))), selectors: [...await selection.reach.selectorsOf(c.ref)],
              } : null
            }
            return out`,
            source,
            width,
            PROPERTIES,
          )
          if ('failed' in places) throw new Error(String(places.failed))
          byWidth.push(places as Record<string, Place | null>)
        }
        const what = await studio.inPage<string>(
          'return document.querySelector(`[data-steady="${arguments[0]}"]`).outerHTML.slice(0, 90)',
          source,
        )
        for (const property of PROPERTIES) {
          const places = byWidth.map((b) => b[property] ?? null)
          const place = places[2]
          if (!place) {
            result.none++
            cases.push(`NONE ${page} ${property} of ${what}`)
            continue
          }
          const kind =
            place.kind === 'inline'
              ? place.decides
                ? 'the attribute, which sets it'
                : 'the attribute'
              : place.kind === 'class-list'
                ? 'the class list'
                : place.kind === 'token'
                  ? 'a token of its own'
                  : place.kind === 'new-class'
                    ? 'a new class'
                    : place.decides
                      ? 'the deciding rule'
                      : place.own
                        ? place.kind === 'rule'
                          ? 'the own class'
                          : 'the own class, new'
                        : place.kind === 'rule'
                          ? 'a rule for its like'
                          : 'a rule for its like, new'
          kinds[kind] = (kinds[kind] ?? 0) + 1
          if (process.argv.includes('--every')) cases.push(`${kind}: ${property} of ${what} in ${place.label}`)
          if (kind === 'the attribute') {
            result.attribute++
            cases.push(`ATTRIBUTE ${page} ${property} of ${what}`)
          }
          // What an element's own class list or attribute says is nobody else's.
          const wide =
            place.kind === 'rule' || place.kind === 'new-rule' ? await studio.inPage<string[]>(BEYOND, place.selectors, source) : []
          if (wide.length) {
            result.beyond++
            cases.push(`BEYOND ${page} ${property} of ${what} in ${place.label}: ${wide.length}, such as ${wide[0]}`)
          }
          if (places.some((x) => x && x.key !== place.key && !x.alone && !place.alone)) {
            result.differs++
            cases.push(`DIFFERS ${page} ${property} of ${what}: ${places.map((x) => x?.key ?? 'none').join(' | ')}`)
          }
        }
      }
      if (process.argv.includes('--progress')) console.error(JSON.stringify(result))
    }
  } finally {
    await browser.close()
    app.stop()
  }
  return { ...result, pages: tried.size, kinds, cases }
}

if (process.argv[1]?.endsWith('defaults.ts')) {
  const { cases, kinds, ...result } = await runDefaults(
    folder('defaults', '[--picks N] [--every]'),
    option('--picks', 100),
    option('--seed', 1),
  )
  for (const c of cases.slice(0, process.argv.includes('--every') ? cases.length : 60)) console.log(c)
  const all = Object.values(kinds).reduce((a, b) => a + b, 0)
  for (const [kind, n] of Object.entries(kinds).sort((a, b) => b[1] - a[1]))
    console.log(`${String(n).padStart(6)} ${((100 * n) / Math.max(1, all)).toFixed(1).padStart(5)}%  ${kind}`)
  const { pages, picks, attribute, beyond, differs, none } = result
  console.log(
    `${pages} pages, ${picks} picks, ${all} places: ${attribute} in the attribute (${((100 * attribute) / Math.max(1, all)).toFixed(2)}%), ${beyond} beyond the like, ${differs} with another place at another width, ${none} without a place`,
  )
  if (process.argv.includes('--json')) console.log(JSON.stringify({ ...result, places: all, kinds }))
  process.exitCode = beyond || differs || attribute > all / 50 ? 1 : 0
}
