import { ID_ATTRIBUTE } from '../core/html'
import type { ContainerLayout, GridItem, Place, Rect, Track } from './protocol'

const px = (text: string): number => parseFloat(text) || 0

/** Whether an element lays its children out as a flex or a grid container. SVG's elements never do, whatever their `display` says. */
export function containerKind(element: Element, style: CSSStyleDeclaration): 'flex' | 'grid' | null {
  if (element.namespaceURI !== 'http://www.w3.org/1999/xhtml') return null
  return /flex/.test(style.display) ? 'flex' : /grid/.test(style.display) ? 'grid' : null
}

interface Content extends Rect {
  readonly rtl: boolean
}

/** The content box from the corner of the border box. Scroll bars take room on the far sides. */
function contentOf(element: Element, style: CSSStyleDeclaration): Content {
  const x = px(style.borderLeftWidth) + px(style.paddingLeft)
  const y = px(style.borderTopWidth) + px(style.paddingTop)
  return {
    x,
    y,
    rtl: style.direction === 'rtl',
    w: element.clientWidth - px(style.paddingLeft) - px(style.paddingRight),
    h: element.clientHeight - px(style.paddingTop) - px(style.paddingBottom),
  }
}

/** Sizes of the tracks as the engine used them, implicit ones included (CSS Grid 2 §7.2.6); null where it does not tell. */
function sizesOf(text: string): number[] | null {
  if (text === 'none') return []
  if (/subgrid|masonry/.test(text)) return null
  return text
    .replace(/\[[^\]]*\]/g, ' ')
    .trim()
    .split(/\s+/)
    .map(px)
}

/** Where tracks of these sizes stand in `room` (CSS Box Alignment 3 §4). */
function placed(sizes: readonly number[], gap: number, start: number, room: number, align: string, mirrored: boolean): Track[] {
  const n = sizes.length
  const free = room - sizes.reduce((a, b) => a + b, 0) - gap * (n - 1)
  const spread = free > 0 ? free : 0
  const word = align.replace(/^(safe|unsafe|first|last) /, '')
  const between =
    word === 'space-between' && n > 1
      ? spread / (n - 1)
      : word === 'space-around'
        ? spread / n
        : word === 'space-evenly'
          ? spread / (n + 1)
          : 0
  const lead =
    word === 'center'
      ? free / 2
      : /^(end|flex-end|right)$/.test(word)
        ? free
        : word === 'space-around'
          ? between / 2
          : word === 'space-evenly'
            ? between
            : 0
  let at = lead
  return sizes.map((size) => {
    const track = { at: start + (mirrored ? room - at - size : at), size }
    at += size + gap + between
    return track
  })
}

function gridTracks(element: Element, style: CSSStyleDeclaration): { columns: Track[]; rows: Track[]; content: Content } | null {
  const [columns, rows] = [sizesOf(style.gridTemplateColumns), sizesOf(style.gridTemplateRows)]
  if (!columns || !rows || style.writingMode !== 'horizontal-tb') return null
  const content = contentOf(element, style)
  return {
    content,
    columns: placed(columns, px(style.columnGap), content.x, content.w, style.justifyContent, content.rtl),
    rows: placed(rows, px(style.rowGap), content.y, content.h, style.alignContent, false),
  }
}

function areasOf(
  text: string,
  columns: readonly Track[],
  rows: readonly Track[],
): { name: string; x: number; y: number; w: number; h: number }[] {
  const cells = [...text.matchAll(/"([^"]*)"/g)].map((m) => m[1].trim().split(/\s+/))
  const names = [...new Set(cells.flat())].filter((n) => !/^\.+$/.test(n))
  return names.flatMap((name) => {
    const across = columns.filter((_, i) => cells.some((row) => row[i] === name))
    const down = rows.filter((_, i) => cells[i]?.includes(name))
    if (!across.length || !down.length) return []
    const x = Math.min(...across.map((t) => t.at))
    const y = Math.min(...down.map((t) => t.at))
    return [
      {
        name,
        x,
        y,
        w: Math.max(...across.map((t) => t.at + t.size)) - x,
        h: Math.max(...down.map((t) => t.at + t.size)) - y,
      },
    ]
  })
}

const MOST_CHILDREN = 100

/** Boxes of the children in flow, from the corner of the container's border box. */
function childBoxes(element: Element): { child: Element; box: Rect; order: number }[] {
  const origin = element.getBoundingClientRect()
  return [...element.children].slice(0, MOST_CHILDREN).flatMap((child) => {
    const r = child.getBoundingClientRect()
    if (r.width === 0 && r.height === 0) return []
    const { position, order } = getComputedStyle(child)
    return /absolute|fixed/.test(position)
      ? []
      : [
          {
            child,
            box: { x: r.left - origin.left, y: r.top - origin.top, w: r.width, h: r.height },
            order: Number(order),
          },
        ]
  })
}

interface FlexLine {
  readonly children: readonly { readonly child: Element; readonly box: Rect }[]
  readonly from: number
  readonly to: number
}

// A line ends where the next child does not stand beside the last one on the main axis (CSS Flexbox 1 §6).
function flexLines(element: Element, style: CSSStyleDeclaration): { inRow: boolean; content: Content; lines: FlexLine[] } {
  const inRow = style.flexDirection.startsWith('row')
  const cross = (b: Rect) => (inRow ? [b.y, b.y + b.h] : [b.x, b.x + b.w])
  const groups: { child: Element; box: Rect }[][] = []
  const inOrder = childBoxes(element).sort((a, b) => a.order - b.order)
  for (const c of inOrder) {
    const last = groups.at(-1)
    const beside =
      last &&
      (style.flexWrap === 'nowrap' ||
        last.some(({ box }) => cross(box)[0] < cross(c.box)[1] - 0.5 && cross(c.box)[0] < cross(box)[1] - 0.5))
    if (beside) last.push(c)
    else groups.push([c])
  }
  const content = contentOf(element, style)
  const whole = inRow ? [content.y, content.y + content.h] : [content.x, content.x + content.w]
  const lines = groups.map((children) => {
    const edges = children.map(({ box }) => cross(box))
    // One line takes all the room there is across.
    const [from, to] = groups.length === 1 ? whole : [Math.min(...edges.map((e) => e[0])), Math.max(...edges.map((e) => e[1]))]
    return { children, from, to }
  })
  return { inRow, content, lines }
}

const AT_LEAST = 1

function flexLayout(element: Element, style: CSSStyleDeclaration): ContainerLayout {
  const { inRow, content, lines } = flexLines(element, style)
  const gap = px(inRow ? style.columnGap : style.rowGap)
  const [start, end] = inRow ? [content.x, content.x + content.w] : [content.y, content.y + content.h]
  const rect = (from: number, to: number, line: FlexLine): Rect =>
    inRow
      ? { x: from, y: line.from, w: to - from, h: line.to - line.from }
      : { x: line.from, y: from, w: line.to - line.from, h: to - from }
  const free: Rect[] = []
  for (const line of lines) {
    let at = start
    const spans = line.children
      .map(({ child, box }) => {
        const s = getComputedStyle(child)
        const [before, after] = inRow ? [s.marginLeft, s.marginRight] : [s.marginTop, s.marginBottom]
        return inRow
          ? [box.x - Math.max(0, px(before)), box.x + box.w + Math.max(0, px(after))]
          : [box.y - Math.max(0, px(before)), box.y + box.h + Math.max(0, px(after))]
      })
      .sort((a, b) => a[0] - b[0])
    for (const [i, [from, to]] of spans.entries()) {
      const lead = i === 0 ? 0 : gap
      if (from - at - lead > AT_LEAST) free.push(rect(at + lead / 2, from - lead / 2, line))
      at = Math.max(at, to)
    }
    if (end - at > AT_LEAST) free.push(rect(at, end, line))
  }
  return {
    kind: 'flex',
    columns: [],
    rows: [],
    mirrored: false,
    areas: [],
    lines: lines.length > 1 ? lines.map((l) => rect(start, end, l)) : [],
    free,
    content: { x: content.x, y: content.y, w: content.w, h: content.h },
  }
}

// From the first edge of all tracks to the last; a grid without children or a template has none.
const extentOf = (tracks: readonly Track[], start: number): [number, number] =>
  tracks.length ? [Math.min(...tracks.map((t) => t.at)), Math.max(...tracks.map((t) => t.at + t.size))] : [start, start]

/** How a flex or grid container is laid out within its border box; null for other elements. */
export function layoutOf(element: Element, style: CSSStyleDeclaration): ContainerLayout | null {
  const kind = containerKind(element, style)
  if (kind === 'flex') return style.writingMode === 'horizontal-tb' ? flexLayout(element, style) : null
  if (!kind) return null
  const grid = gridTracks(element, style)
  if (!grid || grid.columns.length > MOST_CHILDREN || grid.rows.length > MOST_CHILDREN) return null
  const {
    columns,
    rows,
    content: { x, y, w, h, rtl },
  } = grid
  const [left, right] = extentOf(columns, x)
  const [top, bottom] = extentOf(rows, y)
  const free: Rect[] = [
    { x, y, w: left - x, h },
    { x: right, y, w: x + w - right, h },
    { x: left, y, w: right - left, h: top - y },
    { x: left, y: bottom, w: right - left, h: y + h - bottom },
  ].filter((room) => room.w > AT_LEAST && room.h > AT_LEAST)
  return {
    kind: 'grid',
    columns,
    rows,
    mirrored: rtl,
    areas: areasOf(style.gridTemplateAreas, columns, rows),
    lines: [],
    free,
    content: { x, y, w, h },
  }
}

/** What an element can be placed in by its parent, from the corner of the element's own border box; null outside flex and grid. */
export function placeOf(element: Element): Place | null {
  const parent = element.parentElement
  if (!parent) return null
  const style = getComputedStyle(parent)
  const kind = containerKind(parent, style)
  if (!kind || /absolute|fixed/.test(getComputedStyle(element).position) || style.writingMode !== 'horizontal-tb') return null
  const [own, around] = [element.getBoundingClientRect(), parent.getBoundingClientRect()]
  const [dx, dy] = [around.left - own.left, around.top - own.top]
  if (kind === 'grid') {
    const grid = gridTracks(parent, style)
    if (!grid || !grid.columns.length || !grid.rows.length) return null
    return {
      kind: 'grid',
      columns: grid.columns.map((t) => ({ ...t, at: t.at + dx })),
      rows: grid.rows.map((t) => ({ ...t, at: t.at + dy })),
      mirrored: grid.content.rtl,
      items: itemsOf(parent, style, grid, element),
    }
  }
  const { inRow, content, lines } = flexLines(parent, style)
  const line = lines.find((l) => l.children.some((c) => c.child === element))
  if (!line) return null
  const shift = inRow ? dy : dx
  const [start, end] = inRow ? [content.x, content.x + content.w] : [content.y, content.y + content.h]
  const spans = line.children.map(({ box }) => (inRow ? [box.x, box.x + box.w] : [box.y, box.y + box.h]))
  return {
    kind: 'flex',
    axis: inRow ? 'x' : 'y',
    from: line.from + shift,
    to: line.to + shift,
    free: Math.max(0, end - Math.max(...spans.map((s) => s[1]))),
    freeBefore: Math.max(0, Math.min(...spans.map((s) => s[0])) - start),
  }
}

// Auto-placement puts them into cells by their order, row by row (CSS Grid 2 §8.5).
function itemsOf(
  parent: Element,
  style: CSSStyleDeclaration,
  { columns, rows }: { columns: readonly Track[]; rows: readonly Track[] },
  own: Element,
): GridItem[] | null {
  if (style.gridAutoFlow !== 'row' || parent.children.length > MOST_CHILDREN) return null
  const items: GridItem[] = []
  const cell = (list: readonly Track[], from: number, size: number) =>
    list.findIndex((t) => from + size / 2 >= t.at - 1 && from + size / 2 <= t.at + t.size + 1)
  for (const { child, box, order } of childBoxes(parent)) {
    const s = getComputedStyle(child)
    if (order !== 0 || [s.gridColumnStart, s.gridColumnEnd, s.gridRowStart, s.gridRowEnd].some((line) => line !== 'auto')) return null
    const [column, row] = [cell(columns, box.x, box.w), cell(rows, box.y, box.h)]
    if (column < 0 || row < 0) return null
    items.push({ source: child.getAttribute(ID_ATTRIBUTE), column, row, own: child === own })
  }
  return items
}

const MOST_NEIGHBOURS = 40

/** Edges and middles that neighbours and the parent's content box have, from the corner of the element's own border box. */
export function edgesAround(element: Element): { x: number[]; y: number[] } {
  const parent = element.parentElement
  if (!parent) return { x: [], y: [] }
  const own = element.getBoundingClientRect()
  const around = parent.getBoundingClientRect()
  const content = contentOf(parent, getComputedStyle(parent))
  const boxes: Rect[] = [{ x: around.left + content.x - own.left, y: around.top + content.y - own.top, w: content.w, h: content.h }]
  for (const sibling of [...parent.children].slice(0, MOST_NEIGHBOURS)) {
    const r = sibling.getBoundingClientRect()
    if (sibling !== element && r.width > 0 && r.height > 0)
      boxes.push({ x: r.left - own.left, y: r.top - own.top, w: r.width, h: r.height })
  }
  const distinct = (all: number[]) => [...new Set(all.map((n) => Math.round(n * 100) / 100))]
  return {
    x: distinct(boxes.flatMap((b) => [b.x, b.x + b.w / 2, b.x + b.w])),
    y: distinct(boxes.flatMap((b) => [b.y, b.y + b.h / 2, b.y + b.h])),
  }
}
