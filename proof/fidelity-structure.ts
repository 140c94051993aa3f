/**
 * `npm run fidelity:structure -- DIR [--edits N] [--drags N] [--seed S]`: random edits of the structure of a site's pages, and
 * random drags by the pointer, through the product's own live page. After each the page's tree is compared with what the
 * browser's own parser makes of the page as it is published then; a drag has to land where its mark said, once. Exits 1
 * when one does not.
 */
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'
import { flag, folder, option } from './options'
import { Random } from './random'
import { openSite, readSite } from './site'

const PIECES = [
  '<p>Boats leave at <b>9:40</b> &amp; later.</p>',
  '<ul>\n  <li>Old Pier</li>\n  <li>Brinewick</li>\n</ul>',
  '<a href="/">Home</a>',
  '<section>\n  <h2>Tides</h2>\n  <pre>\n  07:10  2.1 m\n</pre>\n</section>',
  '<li>New stop</li>',
  '<button type="button">Call</button>',
  '<div></div>',
]

/** Compares the live tree with the page as it is served now; a description of the first difference, or null. */
const COMPARE = `
  const done = arguments[0];
  (async () => {
    const text = await (await fetch(location.pathname, { cache: 'no-store' })).text()
    const fresh = new DOMParser().parseFromString(text, 'text/html')
    fresh.querySelector('script[src^="/__steady/"]')?.remove()
    const scripted = document.querySelector('script:not([src^="/__steady/"])') !== null
    const diff = (a, b, path) => {
      if (a.nodeType !== b.nodeType || a.nodeName !== b.nodeName) return path + ': ' + a.nodeName + ' is there, ' + b.nodeName + ' was written'
      if (a.nodeType !== 1) return a.nodeValue === b.nodeValue ? null : path + ': ' + JSON.stringify(a.nodeValue) + ' is there, ' + JSON.stringify(b.nodeValue) + ' was written'
      const attrs = (e) => [...e.attributes].filter((x) => x.name !== 'data-steady-state').map((x) => x.name + '=' + x.value).sort().join(' ')
      if (attrs(a) !== attrs(b)) return path + '<' + a.localName + '>: ' + attrs(a) + ' against ' + attrs(b)
      if (a.localName === 'noscript') return null
      if (a.childNodes.length !== b.childNodes.length) return path + '<' + a.localName + '>: ' + a.childNodes.length + ' children, ' + b.childNodes.length + ' were written'
      for (let i = 0; i < a.childNodes.length; i++) { const d = diff(a.childNodes[i], b.childNodes[i], path + '/' + a.localName); if (d) return d }
      return null
    }
    done(scripted ? 'scripted' : diff(document.documentElement, fresh.documentElement, ''))
  })().catch((e) => done('failed: ' + e))`

class Proof {
  readonly cases: string[] = []
  same = 0
  refused = 0
  scripted = 0
  reloaded = 0
  landed = 0
  readonly kinds: Record<string, number> = {}
  private readonly random: Random

  constructor(
    private readonly studio: Studio,
    private readonly dir: string,
    seed: number,
  ) {
    this.random = new Random(seed)
  }

  private run<T>(script: string, ...args: unknown[]): Promise<T> {
    return this.studio.driver.executeAsyncScript<T>(
      `const done = arguments[arguments.length - 1]; const { session, desk, state } = window.steadyProof; (async () => { ${script} })().then((x) => done(x), (e) => done({ error: String(e) }))`,
      ...args,
    )
  }

  private sources(): Promise<string[]> {
    return this.studio.inPage<string[]>(
      'return [...document.body.querySelectorAll("[data-steady]")].filter((e) => e.localName !== "script").map((e) => e.getAttribute("data-steady"))',
    )
  }

  private async compare(what: string): Promise<void> {
    const frame = await this.studio.driver.findElement({ css: '[data-testid=live-page]' })
    await this.studio.driver.switchTo().frame(frame)
    const why = await this.studio.driver
      .executeAsyncScript<string | null>(COMPARE)
      .finally(() => this.studio.driver.switchTo().defaultContent())
    if (why === 'scripted') this.scripted++
    else if (why) this.cases.push(`${what}: ${why}`)
    else this.same++
  }

  private async opened(): Promise<string[]> {
    const pages = await openSite(this.studio, readSite(this.dir))
    return pages.slice(0, 12)
  }

  async edits(n: number): Promise<void> {
    const pages = await this.opened()
    for (let i = 0; i < n; i++) {
      if (i % 40 === 0) {
        // Edits pile up on a page for a while; then all of them are taken back, and another page follows.
        await this.undoAll()
        await this.studio.goTo(`/${this.random.pick(pages)}`)
        await this.studio.inPage('window.notLoadedAgain = true')
      }
      const own = await this.sources()
      if (own.length < 3) {
        await this.undoAll()
        continue
      }
      const [a, b] = [this.random.pick(own), this.random.pick(own)]
      const intent = this.random.below(8) === 0 ? await this.textIntent() : this.intent(a, b)
      if (!intent) continue
      const made = await this.run<boolean | { error: string }>(
        'const i = arguments[0]; await session.selection.pickSource(i.sources?.[0] ?? i.source ?? i.place.source); return /^set-/.test(i.kind) ? session.edits.onElement(i) : session.making.restructure(i)',
        intent,
      )
      this.kinds[String(intent.kind)] = (this.kinds[String(intent.kind)] ?? 0) + 1
      if (made !== true) {
        if (made && typeof made === 'object') this.cases.push(`${JSON.stringify(intent)}: ${made.error}`)
        this.refused++
        continue
      }
      await this.studio.ready()
      if (!(await this.studio.inPage<boolean>('return window.notLoadedAgain === true'))) {
        this.reloaded++
        await this.studio.inPage('window.notLoadedAgain = true')
      }
      await this.compare(JSON.stringify(intent))
    }
  }

  private async undoAll(): Promise<void> {
    const undone = await this.run<number>('let n = 0; for (; state().ledger.canUndo; n++) await session.timeline.step("undo"); return n')
    await this.studio.driver.sleep(200)
    await this.studio.ready()
    if (undone) await this.compare(`all ${undone} of them undone`)
  }

  // Other words for a text that a source element has of its own.
  private async textIntent(): Promise<Record<string, unknown> | null> {
    const own = await this.studio.inPage<[string, string][]>(
      'return [...document.body.querySelectorAll("[data-steady]")].flatMap((e) => e.firstChild?.nodeType === 3 && e.firstChild.data.trim() && !/^(script|style|textarea|title|noscript)$/.test(e.localName) ? [[e.getAttribute("data-steady"), e.firstChild.data]] : [])',
    )
    if (own.length === 0) return null
    const [source, text] = this.random.pick(own)
    const words = this.random.pick(['Low water', 'a < b & c', 'Fares\u00a0& tides', 'two\nlines', '« Old Pier »', '&copy; as typed'])
    return { kind: 'set-text', source, index: 0, text: /^\s*/.exec(text)![0] + words + /\s*$/.exec(text)![0] }
  }

  private intent(a: string, b: string): Record<string, unknown> {
    const r = this.random
    const where = r.pick(['before', 'after', 'first', 'last'] as const)
    switch (r.below(9)) {
      case 0:
      case 1:
        return { kind: 'insert-html', place: { source: a, where }, html: r.pick(PIECES), what: 'piece' }
      case 2:
      case 3:
        return { kind: 'move', sources: [a], place: { source: b, where } }
      case 4:
        return { kind: 'duplicate', sources: [a] }
      case 5:
        return { kind: 'wrap', sources: [a], tag: r.pick(['div', 'section', 'span', 'em']) }
      case 6:
        return { kind: r.below(2) ? 'unwrap' : 'delete', sources: [a] }
      case 7:
        return {
          kind: 'set-attribute',
          source: a,
          name: r.pick(['title', 'id', 'data-x']),
          value: r.pick(['x', 'two words', 'a "b"']),
        }
      default:
        return { kind: 'set-tag', source: a, tag: r.pick(['div', 'p', 'section', 'h2', 'span']) }
    }
  }

  async drags(n: number): Promise<void> {
    const pages = await this.opened()
    // One that cannot be dropped where the pointer is, is no drag.
    for (let i = 0; this.landed < n && i < n * 4; i++) {
      if (i % 25 === 0) {
        await this.undoAll()
        await this.studio.goTo(`/${this.random.pick(pages)}`)
      }
      await this.drag(i)
    }
  }

  private async drag(i: number): Promise<void> {
    const own = await this.studio.inPage<string[]>(
      'return [...document.body.querySelectorAll("[data-steady]")].filter((e) => { const r = e.getBoundingClientRect(); return r.width > 4 && r.height > 4 && r.top > 30 && r.bottom < innerHeight - 60 }).map((e) => e.getAttribute("data-steady"))',
    )
    if (own.length < 2) return
    const source = this.random.pick(own)
    await this.run('await session.selection.pickSource(arguments[0]); return null', source)
    await this.studio.driver.sleep(120)
    const overlay = await (await this.studio.test('overlay')).getRect()
    const label = await this.studio.test('picked-label')
    const to = {
      x: Math.round(overlay.x + 10 + this.random.below(overlay.width - 20)),
      y: Math.round(overlay.y + 10 + this.random.below(Math.min(overlay.height, 520) - 20)),
    }
    const rows = await this.run<number>('return state().ledger.done')
    await this.studio.driver
      .actions({ async: true })
      .move({ origin: label })
      .press()
      .move({ origin: label, x: 8, y: 5, duration: 20 })
      .move({ ...to, duration: 60 })
      .perform()
    await this.studio.driver.sleep(150)
    const drop = await this.run<{ place: { source: string; where: string } | null; words: string } | null>('return state().drop')
    await this.studio.driver.actions({ async: true }).release().perform()
    await this.studio.driver.sleep(60)
    if (!drop?.place) {
      this.refused++
      if ((await this.run<number>('return state().ledger.done')) !== rows)
        this.cases.push(`drag ${i}: it was moved though nothing said where`)
      return
    }
    const settled = await this.run<{ done: number; status: string | null }>(
      'for (let i = 0; i < 40 && state().ledger.done === arguments[0] && state().status?.kind !== "error"; i++) await new Promise((r) => setTimeout(r, 50)); const s = state(); const out = { done: s.ledger.done, status: s.status?.text ?? null }; return out',
      rows,
    )
    if (settled.done === rows) {
      // It stands there already, or the parser would not have it: told, and nothing is changed.
      if (settled.status === null) this.cases.push(`drag ${i}: ${drop.words} was marked and nothing came of it`)
      this.refused++
      await this.run('window.steadyProof.session; return null')
      return
    }
    await this.studio.ready()
    const found = await this.studio.inPage<string>(
      `
      const [source, place] = arguments, all = document.querySelectorAll('[data-steady="' + source + '"]'), at = document.querySelector('[data-steady="' + place.source + '"]')
      if (all.length !== 1) return 'it is there ' + all.length + ' times'
      const e = all[0], sibling = (x, way) => { do x = x[way]; while (x && !x.hasAttribute('data-steady')); return x }
      const ok = place.where === 'before' ? sibling(e, 'nextElementSibling') === at : place.where === 'after' ? sibling(e, 'previousElementSibling') === at : e.parentElement === at
      return ok ? '' : 'it is in ' + e.parentElement.localName + ', not ' + place.where + ' ' + at?.localName`,
      source,
      drop.place,
    )
    if (found) this.cases.push(`drag ${i} of ${source}: ${drop.words} was marked; ${found}`)
    else this.landed++
    await this.compare(`drag ${i}: ${drop.words}`)
  }
}

if (process.argv[1]?.endsWith('fidelity-structure.ts')) {
  const dir = folder('fidelity:structure', '[--edits N] [--drags N]')
  const app = await startApp()
  const browser = await openBrowser()
  try {
    const proof = new Proof(new Studio(browser, app.url), dir, option('--seed', 1))
    const edits = option('--edits', 100)
    const drags = option('--drags', 0)
    if (edits) await proof.edits(edits)
    if (drags) await proof.drags(drags)
    for (const c of proof.cases.slice(0, 30)) console.log(c.slice(0, 700))
    console.log(
      `${edits} edits and ${drags} drags: ${proof.same} trees the same, ${proof.scripted} with scripts of their own, ${proof.refused} refused, ${proof.reloaded} loaded again, ${proof.landed} drags landed, ${proof.cases.length} wrong`,
    )
    console.log(
      `by kind: ${Object.entries(proof.kinds)
        .map(([k, n]) => `${k} ${n}`)
        .join(', ')}`,
    )
    if (flag('json')) console.log(JSON.stringify(proof.cases))
    process.exitCode = proof.cases.length ? 1 : 0
  } finally {
    await browser.close()
    app.stop()
  }
}
