import type { Geometry, Track } from '../../agent/protocol'
import styles from './Overlay.module.css'

/** The least room on screen that a label is put into; px. */
const ROOM = 30
/** How far the lines of a grid stand out of it; screen px. */
const OUT = 8

const round = (n: number) => Number(n.toFixed(1))

/** How a chosen flex or grid container lays its children out: tracks with their sizes, numbered lines, areas, lines of a wrap, and room left free. */
export function ContainerLines({ geometry, scale }: { geometry: Geometry; scale: number }) {
  const {
    layout,
    boxes: [box],
  } = geometry
  if (!layout || !box) return null
  const { content, columns, rows, mirrored } = layout
  const out = OUT / scale
  const label = (key: string, x: number, y: number, text: string, anchor: 'start' | 'middle' = 'middle', className = styles.trackText) => (
    <text key={key} className={className} transform={`translate(${x} ${y}) scale(${1 / scale})`} textAnchor={anchor}>
      {text}
    </text>
  )
  const bottom = Math.max(content.y, ...rows.map((t) => t.at + t.size))
  const right = Math.max(content.x, ...columns.map((t) => t.at + t.size))
  const lines = (list: readonly Track[]) => list.flatMap((t) => [t.at, t.at + t.size])
  const d = [
    ...lines(columns).map((x) => `M${x} ${content.y - out}V${bottom + out}`),
    ...lines(rows).map((y) => `M${content.x - out} ${y}H${right + out}`),
  ].join('')
  return (
    <g
      transform={`matrix(${box.a} ${box.b} ${box.c} ${box.d} ${box.cx} ${box.cy}) translate(${-box.w / 2} ${-box.h / 2})`}
      pointerEvents="none"
      data-testid="container-lines"
    >
      {d && <path d={d} className={styles.tracks} vectorEffect="non-scaling-stroke" />}
      {layout.lines.map((r, i) => (
        <rect key={i} x={r.x} y={r.y} width={r.w} height={r.h} className={styles.tracks} vectorEffect="non-scaling-stroke" />
      ))}
      {layout.free.map((r, i) => (
        <g key={i} data-testid="free-room">
          <path
            d={r.w > r.h ? `M${r.x} ${r.y + r.h / 2}H${r.x + r.w}` : `M${r.x + r.w / 2} ${r.y}V${r.y + r.h}`}
            className={styles.free}
            vectorEffect="non-scaling-stroke"
          />
          {Math.max(r.w, r.h) * scale > ROOM * 1.6 &&
            label(`free ${i}`, r.x + r.w / 2, r.y + r.h / 2 + 4 / scale, `${round(Math.max(r.w, r.h))} free`)}
        </g>
      ))}
      {layout.areas.map(
        (a) => a.w * scale > ROOM && label(`area ${a.name}`, a.x + 5 / scale, a.y + 15 / scale, a.name, 'start', styles.areaText),
      )}
      {columns.map((t, i) => t.size * scale > ROOM && label(`c${i}`, t.at + t.size / 2, content.y - out, String(round(t.size))))}
      {rows.map(
        (t, i) => t.size * scale > ROOM / 2 && label(`r${i}`, content.x - out * 1.4, t.at + t.size / 2 + 4 / scale, String(round(t.size))),
      )}
      {columns.map(
        (t, i) =>
          t.size * scale > ROOM &&
          label(`cl${i}`, mirrored ? t.at + t.size : t.at, bottom + out + 11 / scale, String(i + 1), 'middle', styles.lineText),
      )}
      {rows.map(
        (t, i) =>
          t.size * scale > ROOM / 2 && label(`rl${i}`, right + out + 7 / scale, t.at + 4 / scale, String(i + 1), 'middle', styles.lineText),
      )}
    </g>
  )
}
