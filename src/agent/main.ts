import { ID_ATTRIBUTE } from '../core/html'
import { dropPlaces } from './drop'
import { Hiding } from './hiding'
import { facesOf, hoverFactsOf, lendFace } from './facts'
import { Frames } from './frames'
import { beginPass, elementAt, geometryOf } from './geometry'
import { documentsOf } from './documents'
import { Handles, parentOf } from './handles'
import { MatchedElements } from './matched-elements'
import { matchSheet } from './change-rules'
import { idsOfRun, PageSheets } from './page-sheets'
import { inUseOn } from './in-use'
import { idleFacesOf, largePicturesOf, loadedBy } from './loaded'
import { judge } from './judge'
import { likeElements, outermostWithin } from './alike'
import { sameUsage } from './made-by'
import { overflowingIn } from './overflow'
import { pickReport } from './pick-report'
import { sketchOf } from './sketch'
import { stackingOf } from './stacking'
import { closedThings, States } from './states'
import { patchTree } from './patch-tree'
import { givenToOwner } from './fibers'
import { adopt, elementsOf, elementsOfTag, stampOf, whenMade } from './sources'
import { TextEdit } from './text-edit'
import { findIn, treeOf, watchTree } from './tree'
import { Preview, setOrRemove, settle } from './preview'
import type { Answer, Ask, FromPage, Hello, RequestMessage, RequestType, SyncOp } from './protocol'

/** How long the elements of a component may take to be made again; ms. */
const MADE_WITHIN = 3000

/** `scripts` is the address that scripts of ours are loaded from when they are needed. */
function start(studio: string, scripts: string): void {
  const root = document
  const handles = new Handles()
  const sheets = new PageSheets(root)
  const states = new States(root)
  const hiding = new Hiding()
  const typing = new TextEdit((keep) => send({ event: 'typed', keep }))
  const preview = new Preview(root, sheets, states)
  const matched = new MatchedElements(sheets)
  let ports: MessagePort[] = []
  let endTree: (() => void) | null = null
  const send = (message: FromPage) => ports[0]?.postMessage(message)
  const frames = new Frames(root, handles, sheets, send)

  const answers: { [T in RequestType]: (ask: Ask<T>) => Answer<T> | Promise<Answer<T>> } = {
    hit: ({ x, y, hover }) => {
      beginPass()
      const element = elementAt(root, x, y)
      if (hover) frames.hover(element && handles.handle(element))
      return (
        element && {
          info: handles.info(element),
          geometry: geometryOf(element, root),
          facts: hover ? hoverFactsOf(element) : null,
        }
      )
    },
    pick: ({ of, props, part }) => {
      beginPass()
      const element = typeof of === 'number' ? handles.element(of) : elementAt(root, of.x, of.y)
      return element && pickReport({ root, handles, sheets, states, matched }, element, props, part)
    },
    walk: ({ node, to }) => {
      const element = handles.element(node)
      const found = element && walk(element, to, root)
      return found ? handles.info(found) : null
    },
    locate: (name) => {
      const all = 'source' in name ? elementsOf(root, name.source) : elementsOfTag(root, name.stamp)
      const found = all[name.nth] ?? all[0]
      return found ? handles.info(found) : null
    },
    tree: ({ watch }) => {
      endTree?.()
      endTree = watch ? watchTree(root, () => send({ event: 'tree' })) : null
      return watch ? treeOf(root, handles) : []
    },
    find: ({ query }) => findIn(root, query, handles),
    bringIntoView: ({ node }) => {
      handles.element(node)?.scrollIntoView({ block: 'nearest', behavior: 'instant' })
      frames.wake()
      return null
    },
    within: (box) => outermostWithin(root, box).map((e) => handles.info(e)),
    like: ({ node, how, selectors }) => {
      const element = handles.element(node)
      if (!element) return []
      const stamp = stampOf(element)
      const found =
        how === 'selector'
          ? [...matched.all(selectors)]
          : how !== 'usage'
            ? likeElements(element, how)
            : stamp
              ? sameUsage(element, elementsOfTag(root, stamp))
              : [element]
      return found.map((e) => handles.info(e))
    },
    sheets: () => sheets.toTie(),
    tie: ({ sheets: ties }) => sheets.tie(ties),
    reach: ({ selectors, sheets: of }) => selectors.map((s, i) => matched.count(s, of[i] ?? null)),
    watch: (ask) => {
      frames.watch(ask)
      return null
    },
    preview: ({ ops, clear, exact, read }) => {
      if (clear) preview.clear()
      preview.show(ops, exact)
      // A rule's declarations do not change what it matches; an attribute or another rule may.
      if (ops.some((op) => op.op !== 'rule')) frames.findReach()
      frames.previewing = !clear
      if (clear) frames.wake()
      else frames.once()
      return read && whenFacesCame(() => valuesOf(read))
    },
    adopt: ({ source, stamp, usage }) => {
      adopt(source, stamp, usage)
      return null
    },
    childTags: ({ stamp }) =>
      elementsOfTag(root, stamp).map((e) =>
        [...e.children].flatMap((child) => {
          const own = stampOf(child)
          return own?.path === stamp.path && own.mark === stamp.mark ? [own.nth] : []
        }),
      ),
    listed: ({ source }) => elementsOf(root, source).map((e) => (e.textContent ?? '').slice(0, 1000)),
    given: ({ source, name }) => elementsOf(root, source).map((e) => givenToOwner(e, name)),
    made: ({ path, mark }) => whenMade(root, path, mark, MADE_WITHIN),
    element: ({ source }) => {
      const all = elementsOf(root, source)
      const [found] = all
      return found
        ? {
            tag: found.localName,
            attributes: [...found.attributes].map(({ name, value }) => ({ name, value })),
            texts: [...found.childNodes].filter((n) => n.nodeType === Node.TEXT_NODE).map((n) => n.nodeValue!),
            children: [...found.children].flatMap((e) => e.getAttribute(ID_ATTRIBUTE) ?? []),
            count: all.length,
          }
        : null
    },
    read: (ask) => whenFacesCame(() => valuesOf(ask)),
    judge: ({ nodes, selectors, sheet, asked, part }) => {
      settle(root)
      const chosen = [...new Set(nodes.map((n) => handles.element(n)).filter((e) => e !== null))]
      const all = [...new Set([...chosen, ...matched.all(selectors, sheet)])]
      const judged = judge(all, part, asked)
      // An element that does not show it may be on its way back from where it was asked.
      settle(root)
      return judged.map(({ shows, misses }) => ({
        of: all.length,
        shows,
        misses: misses.map(([at, why]) => ({ ...why, node: handles.handle(all[at]), chosen: at < chosen.length })),
      }))
    },
    hold: ({ held }) => {
      states.hold(
        held.flatMap(({ node, ...what }) => {
          const element = handles.element(node)
          return element ? [{ element, ...what }] : []
        }),
      )
      settle(root)
      frames.findReach()
      frames.wake()
      return null
    },
    sheetHolds: ({ sheet, text }) => {
      const uses = sheets.uses(sheet)
      return { count: uses.length, differs: uses.map((s) => firstOther(s, sheets.textOnPage(sheet, text))).find((d) => d !== null) ?? null }
    },
    beginText: ({ node }) => {
      const element = handles.element(node)
      return element ? typing.begin(element) : 'The element is not on the page any more.'
    },
    endText: () => typing.end(),
    drop: ({ x, y, moving }) =>
      dropPlaces(
        root,
        x,
        y,
        moving.flatMap((n) => handles.element(n) ?? []),
      ),
    hide: ({ nodes }) => {
      hiding.hide(nodes.flatMap((n) => handles.element(n) ?? []))
      settle(root)
      frames.wake()
      return null
    },
    closed: () =>
      documentsOf(root)
        .flatMap((doc) => closedThings(doc))
        .map((e) => handles.info(e)),
    stacking: ({ node }) => {
      const element = handles.element(node)
      return element && stackingOf(element, handles)
    },
    sketch: () => sketchOf(root),
    picture: async ({ node, format, scale }) => {
      const element = handles.element(node)
      if (!element) return { ok: false, why: 'The element is not on the page any more.' }
      // Most pages are never drawn: what draws them is loaded when it is asked for.
      const { pictureOf } = (await import(new URL('picture.js', scripts).href)) as typeof import('./picture')
      return pictureOf(element, format, scale)
    },
    findings: async () => {
      // What is loaded puts itself on the page's window, where nothing of ours is to stay.
      const own = Object.getOwnPropertyDescriptor(window, 'axe')
      const { findingsOf } = (await import(new URL('findings.js', scripts).href)) as typeof import('./findings')
      if (own) Object.defineProperty(window, 'axe', own)
      else delete (window as { axe?: unknown }).axe
      return (await findingsOf(root)).map(({ element, ...rest }) => ({ ...rest, info: handles.info(element) }))
    },
    overflow: () => ({ width: innerWidth, elements: overflowingIn(root).map((e) => handles.info(e)) }),
    loaded: () => {
      const files = loadedBy(root, new URL('.', scripts).href)
      return {
        files,
        pictures: largePicturesOf(root).map(({ element, ...rest }) => ({ ...rest, info: handles.info(element) })),
        faces: idleFacesOf(root, files),
      }
    },
    inUse: async () => {
      const { faces, colors } = await inUseOn(root)
      const named = <T extends { readonly elements: readonly Element[] }>({ elements, ...rest }: T) => ({
        ...rest,
        nodes: elements.map((e) => handles.handle(e)),
      })
      return { faces: faces.map(named), colors: colors.map(named) }
    },
    palette: () => ({ faces: documentsOf(root).flatMap(facesOf), colors: colorsOf(root) }),
    lend: ({ family, faces }) => {
      for (const doc of documentsOf(root)) lendFace(doc, family, faces)
      return null
    },
    sync: ({ ops }) => {
      let reload = ops.some((op) => op.op === 'reload')
      const whole: string[] = []
      // What is tied and compared is what the source says, not what a held state makes of it.
      if (reload) preview.keep()
      else
        states.without(() => {
          // Rules that are written just as they were shown stay as they are: the page is not laid out for them again.
          const renewed = new Map<string, ReadonlySet<number> | 'all'>()
          for (const op of ops) {
            if (op.op === 'rules') {
              const isIn = sheets.patch(op.sheet, op.run)
              if (!isIn) whole.push(op.sheet)
              renewed.set(op.sheet, isIn ? idsOfRun(op.run) : 'all')
            } else {
              if (!sync(op)) reload = true
              if (op.op === 'sheet') renewed.set(op.sheet, 'all')
            }
          }
          preview.written((sheet, rule) => {
            const rules = renewed.get(sheet)
            return rules === 'all' || rules?.has(rule) === true
          })
        })
      settle(root)
      frames.findReach()
      frames.previewing = false
      frames.wake()
      return { reload, whole }
    },
    reveal: ({ selectors, index }) => {
      const all = [...matched.all(selectors)]
      all[index % Math.max(1, all.length)]?.scrollIntoView({ block: 'center', behavior: 'instant' })
      return null
    },
    wheel: ({ x, y, dx, dy }) => {
      scrollUnder(elementAt(root, x, y), dx, dy)
      return null
    },
    scrollTo: ({ x, y }) => {
      scrollTo({ left: x, top: y, behavior: 'instant' })
      return null
    },
  }

  function valuesOf({ nodes, selectors, sheet, props, part }: Ask<'read'>): Answer<'read'> {
    settle(root)
    const elements = new Set(nodes.map((n) => handles.element(n)).filter((e) => e !== null))
    for (const e of matched.all(selectors, sheet)) elements.add(e)
    return [...elements].map((e) => {
      const style = getComputedStyle(e, part || null)
      return props.map((p) => style.getPropertyValue(p))
    })
  }

  /** Takes in what was written; false where the page is too different for that. */
  function sync(op: SyncOp): boolean {
    if (op.op === 'attribute') for (const e of elementsOf(root, op.source)) setOrRemove(e, op.name, op.value)
    else if (op.op === 'sheet') {
      // What is imported comes from the server.
      if (sheets.importsAnew(op.sheet, op.outline)) return false
      const text = sheets.textOnPage(op.sheet, op.text)
      for (const sheet of sheets.uses(op.sheet)) matchSheet(sheet, text)
      // A `<style>` element has a new sheet now.
      sheets.collect()
      sheets.tieAgain(op.sheet, op.outline)
      sheets.setBodies(op.sheet, op.bodies)
    } else if (op.op === 'tree') {
      const shown = documentsOf(root).filter((doc) => doc.querySelector(`[${ID_ATTRIBUTE}^="${op.file}."]`))
      if (!shown.every((doc) => patchTree(doc, op.before, op.after))) return false
    } else if (op.op === 'text') {
      const texts = elementsOf(root, op.source).map((e) => [...e.childNodes].filter((n) => n.nodeType === Node.TEXT_NODE)[op.index])
      // The parser drops the first line end of some elements, and scripts write texts of their own.
      if (texts.length === 0 || texts.some((t) => t?.nodeValue !== op.before)) return false
      for (const t of texts) t.nodeValue = op.after
    }
    return true
  }

  function answerTo({ id, type, ask }: RequestMessage, send: (message: FromPage) => void): void {
    const failed = (error: unknown) => send({ id, error: String(error) })
    try {
      const answer = (answers[type] as (ask: unknown) => unknown)(ask)
      if (answer instanceof Promise) answer.then((done) => send({ id, answer: done }), failed)
      else send({ id, answer })
    } catch (error) {
      failed(error)
    }
  }

  let greeted = false
  const say = () => {
    if (greeted) return
    greeted = true
    const hello: Hello = {
      steady: 'hello',
      address: addressNow(),
      title: root.title,
    }
    parent.postMessage(hello, studio)
  }

  // A changed sheet lets the engine fetch its faces again, and text is laid out in another meanwhile.
  const whenFacesCame = <T>(work: () => T): T | Promise<T> => {
    const waiting = documentsOf(root).filter((d) => d.fonts.status === 'loading')
    return waiting.length
      ? Promise.race([Promise.all(waiting.map((d) => d.fonts.ready)), new Promise((done) => setTimeout(done, FACES_WAIT))]).then(work)
      : work()
  }

  const tellPaint = () => {
    const observer = new PerformanceObserver((list) => {
      if (list.getEntriesByName('first-contentful-paint').length === 0) return
      observer.disconnect()
      send({ event: 'painted' })
    })
    observer.observe({ type: 'paint', buffered: true })
  }

  addEventListener(
    'message',
    (e) => {
      if (e.source !== parent || e.origin !== studio || e.data?.steady !== 'port' || !e.ports[0]) return
      e.stopImmediatePropagation()
      for (const old of ports) old.close()
      // The first hears the events too; the second serves previews, which come straight from the worker that plans them.
      ports = [...e.ports]
      tellPaint()
      for (const from of ports) {
        from.onmessage = ({ data }: MessageEvent<RequestMessage>) => answerTo(data, (message) => from.postMessage(message))
      }
    },
    true,
  )
  addEventListener('pagehide', () => send({ event: 'leaving' }))

  // Frames that load later bring sheets of their own; so do scripts.
  let checks = 0
  let address = addressNow()
  const check = () => {
    if (ports.length && sheets.stale) send({ event: 'sheets' })
    // A script can give the page another address without leaving it (HTML §7.2.5).
    if (ports.length && address !== addressNow()) send({ event: 'moved', address: (address = addressNow()) })
    setTimeout(check, checks++ < 20 ? 100 : 500)
  }
  frames.listen()
  if (root.readyState === 'complete') say()
  else {
    addEventListener('load', say)
    // A file from elsewhere that does not come can keep `load` back for minutes; what is there can be worked on meanwhile.
    const early = () => (root.body ? say() : setTimeout(early, PATIENCE / 5))
    setTimeout(early, PATIENCE)
  }
  check()
}

/** Path, query and fragment of the page. */
const addressNow = (): string => location.pathname + location.search + location.hash

/** How long the page is waited for until it has loaded whole; ms. */
const PATIENCE = 2500

/** How long a reading waits for faces; ms. */
const FACES_WAIT = 400

const MOST_COLORS = 24

// What stands on the page, the most frequent first: text, grounds, edges and paints.
function colorsOf(doc: Document): { color: string; count: number }[] {
  const counts = new Map<string, number>()
  for (const e of [...doc.querySelectorAll('body, body *')].slice(0, 3000)) {
    const style = getComputedStyle(e)
    const own = [
      style.color,
      style.backgroundColor,
      parseFloat(style.borderTopWidth) > 0 ? style.borderTopColor : '',
      e.namespaceURI?.endsWith('svg') ? style.fill : '',
    ]
    for (const color of new Set(own))
      if (color && color !== 'none' && color !== 'rgba(0, 0, 0, 0)') counts.set(color, (counts.get(color) ?? 0) + 1)
  }
  return [...counts]
    .map(([color, count]) => ({ color, count }))
    .sort((a, b) => b.count - a.count)
    .slice(0, MOST_COLORS)
}

// The engine's own reading of the text, against the rules that the page has now; `@import` is none of a sheet made here.
function firstOther(live: CSSStyleSheet, text: string): string | null {
  const fresh = new CSSStyleSheet()
  fresh.replaceSync(text)
  const rulesOf = (s: CSSStyleSheet) => [...s.cssRules].filter((r) => r.constructor.name !== 'CSSImportRule').map((r) => r.cssText)
  const [there, wanted] = [rulesOf(live), rulesOf(fresh)]
  const at = wanted.findIndex((w, i) => w !== there[i])
  return at >= 0 ? wanted[at].slice(0, 1000) : there.length > wanted.length ? `${there.length} rules, not ${wanted.length}` : null
}

function walk(element: Element, to: Ask<'walk'>['to'], root: Document): Element | null {
  switch (to) {
    case 'parent':
      return parentOf(element, root)
    case 'next':
      return element.nextElementSibling
    case 'previous':
      return element.previousElementSibling
    case 'child': {
      const inner = /^i?frame$/.test(element.localName)
        ? documentsOf(element.ownerDocument).find((d) => d.defaultView?.frameElement === element)
        : null
      return inner?.documentElement ?? [...element.children].find((c) => !/^(script|style|link|meta|template)$/.test(c.localName)) ?? null
    }
  }
}

// The nearest scroller under the point that still has room in that direction, as the browser itself would choose.
function scrollUnder(from: Element | null, dx: number, dy: number): void {
  for (let e = from; e; e = e.parentElement ?? e.ownerDocument.defaultView?.frameElement ?? null) {
    const doc = e.ownerDocument
    const isRoot = e === doc.scrollingElement
    const style = getComputedStyle(e)
    if (!isRoot && !/auto|scroll/.test(style.overflowX + style.overflowY)) continue
    const x = e.scrollLeft
    const y = e.scrollTop
    e.scrollBy({ left: dx, top: dy, behavior: 'instant' })
    if (e.scrollLeft !== x || e.scrollTop !== y) return
  }
}

/** A page must not put a worker of its own in place of ours: it would then be served by the page and not from the source. */
function keepServiceWorker(): void {
  if (!navigator.serviceWorker) return
  const refuse = () =>
    Promise.reject(new DOMException('Service workers are off while this page is open in Steady Brush.', 'NotSupportedError'))
  Object.defineProperty(navigator.serviceWorker, 'register', { value: refuse })
}

const script = document.currentScript as HTMLScriptElement | null
const studio = script?.dataset.studio
const scripts = script?.src || location.href
script?.remove()
keepServiceWorker()
// A frame in the page is looked into by the page's own agent; a page in a tab of its own has nobody to talk to.
if (studio && window.parent !== window && window.parent === window.top) start(studio, scripts)
