import { containerKind, edgesAround, layoutOf, placeOf } from './container-layout'
import { frameOf, innerDocument } from './documents'
import type { Box, Geometry, Sides } from './protocol'

/** An affine map: x' = a x + c y + e, y' = b x + d y + f. */
interface Affine {
  a: number
  b: number
  c: number
  d: number
  e: number
  f: number
}

const IDENTITY: Affine = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 }
const isStraight = (m: Affine): boolean => m.a === 1 && m.b === 0 && m.c === 0 && m.d === 1

const multiply = (m: Affine, n: Affine): Affine => ({
  a: m.a * n.a + m.c * n.b,
  b: m.b * n.a + m.d * n.b,
  c: m.a * n.c + m.c * n.d,
  d: m.b * n.c + m.d * n.d,
  e: m.a * n.e + m.c * n.f + m.e,
  f: m.b * n.e + m.d * n.f + m.f,
})

// Translations are left out: the place of a box comes from its client rect.
function ownLinear(style: CSSStyleDeclaration): Affine | null {
  let m: Affine | null = null
  const take = (text: string) => {
    const { a, b, c, d } = new DOMMatrixReadOnly(text)
    m = multiply(m ?? IDENTITY, { a, b, c, d, e: 0, f: 0 })
  }
  if (style.rotate && style.rotate !== 'none' && /^-?[\d.]+\w+$/.test(style.rotate)) take(`rotate(${style.rotate})`)
  if (style.scale && style.scale !== 'none') take(`scale(${style.scale.split(/\s+/).slice(0, 2).join(',')})`)
  if (style.transform && style.transform !== 'none') take(style.transform)
  return m
}

let known = new Map<Element, Affine>()

/** Forgets what was measured: layout may have changed. Within one pass, ancestors are looked at once. */
export function beginPass(): void {
  known = new Map()
}

/** The linear part of all transforms on an element and its ancestors within its document. */
function linearOf(element: Element): Affine {
  const path: Element[] = []
  let e: Element | null = element
  while (e && !known.has(e)) {
    path.push(e)
    e = e.parentElement
  }
  let m = e ? known.get(e)! : IDENTITY
  for (const p of path.reverse()) {
    const own = ownLinear(getComputedStyle(p))
    if (own) m = multiply(m, own)
    known.set(p, m)
  }
  return m
}

/** From px of `doc`'s viewport to px of the root page's viewport. */
function toRoot(doc: Document, root: Document): Affine {
  if (doc === root) return IDENTITY
  const frame = frameOf(doc) as HTMLElement | null
  if (!frame) return IDENTITY
  const [box] = boxesIn(frame)
  if (!box) return IDENTITY
  const style = getComputedStyle(frame)
  const x = -box.w / 2 + frame.clientLeft + (parseFloat(style.paddingLeft) || 0)
  const y = -box.h / 2 + frame.clientTop + (parseFloat(style.paddingTop) || 0)
  const inner: Affine = {
    a: box.a,
    b: box.b,
    c: box.c,
    d: box.d,
    e: box.cx + box.a * x + box.c * y,
    f: box.cy + box.b * x + box.d * y,
  }
  return multiply(toRoot(frame.ownerDocument, root), inner)
}

// The centre of a box's client rect is the centre of the box whatever the transform, since the map is affine.
function boxesIn(element: Element): Box[] {
  const m = linearOf(element)
  const out: Box[] = []
  for (const rect of element.getClientRects()) {
    const cx = rect.left + rect.width / 2
    const cy = rect.top + rect.height / 2
    if (isStraight(m)) out.push({ cx, cy, a: 1, b: 0, c: 0, d: 1, w: rect.width, h: rect.height })
    else out.push({ cx, cy, a: m.a, b: m.b, c: m.c, d: m.d, ...untransformedSize(element, rect, m) })
  }
  return out
}

function untransformedSize(element: Element, rect: DOMRect, m: Affine): { w: number; h: number } {
  const [a, b, c, d] = [m.a, m.b, m.c, m.d].map(Math.abs)
  const det = a * d - b * c
  // At 45 degrees, or flattened, the rect says nothing of width against height; the layout size does, in whole px.
  if (Math.abs(det) < 0.05) {
    return 'offsetWidth' in element
      ? { w: (element as HTMLElement).offsetWidth, h: (element as HTMLElement).offsetHeight }
      : { w: rect.width, h: rect.height }
  }
  return { w: (d * rect.width - c * rect.height) / det, h: (a * rect.height - b * rect.width) / det }
}

/** The boxes of an element in px of the root page's viewport. */
export function boxesOf(element: Element, root: Document): Box[] {
  const boxes = boxesIn(element)
  if (element.ownerDocument === root) return boxes
  const m = toRoot(element.ownerDocument, root)
  return boxes.map((box) => {
    const linear = multiply({ ...m, e: 0, f: 0 }, { a: box.a, b: box.b, c: box.c, d: box.d, e: 0, f: 0 })
    return {
      cx: m.a * box.cx + m.c * box.cy + m.e,
      cy: m.b * box.cx + m.d * box.cy + m.f,
      a: linear.a,
      b: linear.b,
      c: linear.c,
      d: linear.d,
      w: box.w,
      h: box.h,
    }
  })
}

const sides = (style: CSSStyleDeclaration, name: (side: string) => string): Sides =>
  ['top', 'right', 'bottom', 'left'].map((s) => parseFloat(style.getPropertyValue(name(s))) || 0) as unknown as Sides

const MOST_GAPS = 200

// Between neighbours on a line of a flex or grid container; both directions.
function gapsOf(element: Element, style: CSSStyleDeclaration): Geometry['gaps'] {
  if (!containerKind(element, style)) return []
  const column = parseFloat(style.columnGap) || 0
  const row = parseFloat(style.rowGap) || 0
  if (column === 0 && row === 0) return []
  const origin = element.getBoundingClientRect()
  const rects = [...element.children]
    .slice(0, MOST_GAPS)
    .map((c) => c.getBoundingClientRect())
    .filter((r) => r.width > 0 && r.height > 0)
  const out: { x: number; y: number; w: number; h: number }[] = []
  const near = (a: number, b: number) => Math.abs(a - b) < 1
  for (const r of rects) {
    const right = rects.find((o) => o.left >= r.right && o.top < r.bottom && o.bottom > r.top && near(o.left - r.right, column))
    if (column > 0 && right) out.push({ x: r.right - origin.left, y: r.top - origin.top, w: column, h: r.height })
    const below = rects.find((o) => o.top >= r.bottom && o.left < r.right && o.right > r.left && near(o.top - r.bottom, row))
    if (row > 0 && below) out.push({ x: r.left - origin.left, y: r.bottom - origin.top, w: r.width, h: row })
  }
  return out
}

/** Where an element is; for the chosen one, `inDetail`, with how it lays out its children and where its parent can place it. */
export function geometryOf(element: Element, root: Document, inDetail = false): Geometry {
  const style = getComputedStyle(element)
  const boxes = boxesOf(element, root)
  const isStraightBox = boxes.length === 1 && boxes[0].b === 0 && boxes[0].c === 0
  const detail = inDetail && isStraightBox
  return {
    boxes,
    padding: sides(style, (s) => `padding-${s}`),
    border: sides(style, (s) => `border-${s}-width`),
    margin: sides(style, (s) => `margin-${s}`),
    gaps: isStraightBox ? gapsOf(element, style) : [],
    layout: detail ? layoutOf(element, style) : null,
    place: detail ? placeOf(element) : null,
    edges: detail ? edgesAround(element) : null,
  }
}

/** The deepest element at a point of the root page's viewport, looking into frames. */
export function elementAt(root: Document, x: number, y: number): Element | null {
  let doc = root
  for (;;) {
    const found: Element | null = doc.elementFromPoint(x, y)
    const inner = found && /^i?frame$/.test(found.localName) ? innerDocument(found as HTMLIFrameElement) : null
    if (!found || !inner) return found
    const m = toRoot(inner, doc)
    const det = m.a * m.d - m.b * m.c
    const dx = x - m.e
    const dy = y - m.f
    x = (m.d * dx - m.c * dy) / det
    y = (m.a * dy - m.b * dx) / det
    const inside = inner.elementFromPoint(x, y)
    if (!inside) return found
    doc = inner
  }
}
