import type { Box, Geometry } from '../../agent/protocol'
import styles from './Overlay.module.css'

const edgesOf = (b: Box) => {
  const w = (Math.abs(b.a) * b.w + Math.abs(b.c) * b.h) / 2
  const h = (Math.abs(b.b) * b.w + Math.abs(b.d) * b.h) / 2
  return { left: b.cx - w, right: b.cx + w, top: b.cy - h, bottom: b.cy + h }
}

interface Line {
  readonly x1: number
  readonly y1: number
  readonly x2: number
  readonly y2: number
}

/** How far the chosen element is from the one pointed at, or, inside it or with none, from its edges or the page's; px of the page. */
export function Distances({
  geometry,
  around,
  width,
  height,
  scale,
}: {
  geometry: Geometry
  around: Geometry | null
  width: number
  height: number
  scale: number
}) {
  const [own] = geometry.boxes
  if (!own) return null
  const a = edgesOf(own)
  const other = around?.boxes[0]
  const b = other ? edgesOf(other) : { left: 0, top: 0, right: width, bottom: height }
  const lines: Line[] = []
  const midX = (a.left + a.right) / 2
  const midY = (a.top + a.bottom) / 2
  const across = (from: number, to: number) => to - from > 0.5 && lines.push({ x1: from, x2: to, y1: midY, y2: midY })
  const down = (from: number, to: number) => to - from > 0.5 && lines.push({ x1: midX, x2: midX, y1: from, y2: to })
  const inside = b.left <= a.left + 0.5 && b.right >= a.right - 0.5 && b.top <= a.top + 0.5 && b.bottom >= a.bottom - 0.5
  if (inside) {
    across(b.left, a.left)
    across(a.right, b.right)
    down(b.top, a.top)
    down(a.bottom, b.bottom)
  } else {
    if (b.right <= a.left) across(b.right, a.left)
    if (b.left >= a.right) across(a.right, b.left)
    if (b.bottom <= a.top) down(b.bottom, a.top)
    if (b.top >= a.bottom) down(a.bottom, b.top)
  }
  return (
    <g className={styles.distance} data-testid="distances">
      {lines.map((l) => (
        <g key={`${l.x1} ${l.y1} ${l.x2} ${l.y2}`}>
          <line {...l} vectorEffect="non-scaling-stroke" />
          <text
            transform={`translate(${(l.x1 + l.x2) / 2} ${(l.y1 + l.y2) / 2}) scale(${1 / scale})`}
            dx={l.x1 === l.x2 ? 5 : 0}
            dy={l.x1 === l.x2 ? 4 : -4}
            textAnchor={l.x1 === l.x2 ? 'start' : 'middle'}
          >
            {Number(Math.hypot(l.x2 - l.x1, l.y2 - l.y1).toFixed(1))}
          </text>
        </g>
      ))}
    </g>
  )
}
