import type { Geometry, PickReport } from '../../agent/protocol'
import { parseLength } from '../../core/value'
import { containerHandles, placeHandles } from './container-handles'
import type { Handle, Outcome, PullBy } from './handle'

const one = (property: string) => ({
  id: property,
  property,
  edges: [] as readonly number[],
  opposite: null,
  all: null,
})

const OPPOSITE: Readonly<Record<string, string>> = { top: 'bottom', bottom: 'top', left: 'right', right: 'left' }

/** Smaller boxes leave no room for handles inside them, and yet smaller ones for any; px of the page. */
const ROOMY = { w: 120, h: 60 }
const LEAST = 30
/** High enough for more than one handle along its sides. */
const TALL = 40

/** The handles of an element whose one box stands straight; none for others. */
export function handlesOf(geometry: Geometry, report: PickReport): Handle[] {
  const [box] = geometry.boxes
  if (geometry.boxes.length !== 1 || !box || box.b !== 0 || box.c !== 0 || box.w < LEAST || box.h < LEAST / 2) return []
  const { computed } = report
  const inline = computed.display === 'inline' && !/^(img|svg|video|canvas|iframe|input|button|select|textarea)$/.test(report.info.tag)
  const out: Handle[] = []
  const [pt, pr, pb, pl] = geometry.padding
  const [bt, br, bb, bl] = geometry.border
  const [mt, mr, mb, ml] = geometry.margin
  const w = box.w / 2
  const h = box.h / 2
  const side = (name: 'padding' | 'margin', edge: string, x: number, y: number, px: number, outward: boolean): Handle => {
    const axis = edge === 'left' || edge === 'right' ? 'x' : 'y'
    const positive = edge === 'right' || edge === 'bottom'
    return {
      ...one(`${name}-${edge}`),
      x,
      y,
      axis,
      sign: positive === outward ? 1 : -1,
      kind: name,
      px,
      opposite: `${name}-${OPPOSITE[edge]}`,
      all: name,
    }
  }
  const roomy = box.w >= ROOMY.w && box.h >= ROOMY.h
  if (roomy) out.push(side('padding', 'left', -w + bl + pl, 0, pl, false), side('padding', 'right', w - br - pr, 0, pr, false))
  if (!inline) {
    if (roomy) out.push(side('padding', 'top', 0, -h + bt + pt, pt, false), side('padding', 'bottom', 0, h - bb - pb, pb, false))
    out.push(side('margin', 'top', w * 0.4, -h - mt, mt, true), side('margin', 'bottom', w * 0.4, h + mb, mb, true))
  }
  if (box.h >= TALL) out.push(side('margin', 'left', -w - ml, h * 0.4, ml, true), side('margin', 'right', w + mr, h * 0.4, mr, true))
  if (!inline) {
    const size = (property: 'width' | 'height'): Handle => {
      const axis = property === 'width' ? 'x' : 'y'
      // It grows to the left where lines run from right to left.
      const mirrored = axis === 'x' && report.direction === 'rtl'
      // With content-box the padding and border are not counted in.
      const extra = computed['box-sizing'] === 'border-box' ? 0 : axis === 'x' ? pl + pr + bl + br : pt + pb + bt + bb
      return {
        ...one(property),
        x: axis === 'y' ? w * 0.7 : mirrored ? -w : w,
        y: axis === 'y' ? h : mirrored ? -h * 0.75 : -h * 0.5,
        axis,
        sign: mirrored ? -1 : 1,
        kind: 'size',
        px: (axis === 'x' ? box.w : box.h) - extra,
        edges: [axis === 'y' ? box.h : mirrored ? 0 : box.w],
      }
    }
    out.push(size('width'), size('height'))
    const radius = parseFloat(computed['border-top-left-radius'] ?? '') || 0
    const inset = Math.min(Math.max(radius, 8), w, h)
    if (roomy)
      out.push({
        ...one('border-radius'),
        x: -w + inset,
        y: -h + inset,
        axis: 'x',
        sign: 1,
        kind: 'radius',
        px: radius,
        outcomeOf: (by) => radiusOf(radius, by),
      })
  }
  for (const axis of ['x', 'y'] as const) {
    const gap = geometry.gaps.find((g) => (axis === 'x' ? g.w < g.h || isColumnGap(g, computed) : !isColumnGap(g, computed)))
    const property = axis === 'x' ? 'column-gap' : 'row-gap'
    const px = parseFloat(computed[property] ?? '')
    if (gap && px > 0 && Math.abs((axis === 'x' ? gap.w : gap.h) - px) < 0.6) {
      out.push({
        ...one(property),
        x: gap.x + gap.w / 2 - w,
        y: gap.y + gap.h / 2 - h,
        axis,
        sign: axis === 'x' && report.direction === 'rtl' ? -1 : 1,
        kind: 'gap',
        px,
        all: 'gap',
      })
    }
  }
  if (/absolute|fixed|relative/.test(computed.position ?? '')) {
    for (const [edge, x, y, sign] of [
      ['left', -w, -h * 0.4, 1],
      ['top', -w * 0.4, -h, 1],
    ] as const) {
      const px = parseFloat(computed[edge] ?? '')
      if (Number.isFinite(px))
        out.push({
          ...one(edge),
          x,
          y,
          axis: edge === 'left' ? 'x' : 'y',
          sign,
          kind: 'offset',
          px,
          edges: edge === 'left' ? [0, w, box.w] : [0, h, box.h],
        })
    }
  }
  if (report.facts.textLines > 0 && box.w >= ROOMY.w) {
    const size = parseFloat(computed['font-size'] ?? '') || 16
    out.push({
      ...one('font-size'),
      x: -w + bl + pl,
      y: -h + bt + pt + (report.facts.lineHeight + size * 0.7) / 2,
      axis: 'y',
      sign: 1,
      kind: 'type',
      px: size,
    })
  }
  const all = [...out, ...containerHandles(geometry), ...placeHandles(geometry)]
  // On a small box a handle would lie on the text: they stand around it.
  return roomy ? all : all.map((handle) => around(handle, w, h))
}

/** How far outside a small box its handles stand; px of the page. */
const OUTSIDE = 14

function around(handle: Handle, w: number, h: number): Handle {
  const x = handle.axis !== 'y' && Math.abs(handle.x) < w + OUTSIDE ? (handle.x < 0 ? -w - OUTSIDE : w + OUTSIDE) : handle.x
  const y = handle.axis === 'y' && Math.abs(handle.y) < h + OUTSIDE ? (handle.y < 0 ? -h - OUTSIDE : h + OUTSIDE) : handle.y
  return { ...handle, x, y }
}

/** Pulled level, one radius serves both ways; pulled downwards too, the corner becomes a part of an ellipse (CSS Backgrounds 3 §4.1). */
function radiusOf(px: number, { dx, dy, inUnit, written }: PullBy): Outcome | 'length' {
  if (Math.abs(dy) < ELLIPSE_FROM) return 'length'
  const unit = parseLength((written('border-radius') ?? '').split(/[\s/]+/)[0])?.unit || 'px'
  const [across, down] = [dx, dy].map((by) => inUnit(Math.max(0, Math.round(px + by)), unit))
  const value = `${across} / ${down}`
  return { changes: [['border-radius', value]], words: `border-radius ${value}`, target: null }
}

/** How far across its axis a radius is pulled before its two ways part; px. */
const ELLIPSE_FROM = 12

const isColumnGap = (g: Geometry['gaps'][number], computed: PickReport['computed']): boolean =>
  Math.abs(g.w - (parseFloat(computed['column-gap'] ?? '') || -1)) < 0.6
