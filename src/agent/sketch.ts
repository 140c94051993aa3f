import type { Sketch } from './protocol'

/** The most boxes that a small picture has. */
const MOST = 320

/** What shows of the page now, as boxes in their colours: enough for a small picture. CSS px of the viewport. */
export function sketchOf(doc: Document): Sketch {
  const view = doc.defaultView!
  const boxes: Sketch['boxes'][number][] = []
  const walker = doc.createTreeWalker(doc.body ?? doc.documentElement, NodeFilter.SHOW_ELEMENT)
  const base = view.getComputedStyle(doc.documentElement).backgroundColor
  const body = doc.body ? view.getComputedStyle(doc.body).backgroundColor : base
  for (let n: Node | null = walker.currentNode; n && boxes.length < MOST; n = walker.nextNode()) {
    const e = n as Element
    const r = e.getBoundingClientRect()
    if (r.width < 2 || r.height < 2 || r.bottom < 0 || r.top > view.innerHeight) continue
    const style = view.getComputedStyle(e)
    if (style.visibility === 'hidden' || style.opacity === '0') continue
    const box = { x: r.left, y: r.top, w: r.width, h: r.height }
    const round = Number.parseFloat(style.borderTopLeftRadius) || 0
    if (style.backgroundColor !== 'rgba(0, 0, 0, 0)') boxes.push({ ...box, fill: style.backgroundColor, round })
    else if (/^(img|video|canvas|iframe|picture)$/.test(e.localName)) boxes.push({ ...box, fill: 'rgb(128 140 140 / 0.45)', round })
    // A line of text is a bar in its colour.
    for (const child of e.childNodes) {
      if (child.nodeType !== Node.TEXT_NODE || !child.nodeValue?.trim() || boxes.length >= MOST) continue
      const range = doc.createRange()
      range.selectNodeContents(child)
      for (const line of range.getClientRects())
        if (line.width > 2 && boxes.length < MOST)
          boxes.push({
            x: line.left,
            y: line.top + line.height * 0.28,
            w: line.width,
            h: line.height * 0.44,
            fill: style.color,
            round: 2,
          })
    }
  }
  const none = 'rgba(0, 0, 0, 0)'
  return {
    width: view.innerWidth,
    height: view.innerHeight,
    ground: body !== none ? body : base !== none ? base : 'rgb(255, 255, 255)',
    boxes,
  }
}
