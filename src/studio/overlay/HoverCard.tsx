import type { Geometry, HoverFacts } from '../../agent/protocol'
import { contrast, parseColor } from '../../core/value'
import styles from './Overlay.module.css'

/** Of the card, and how far it keeps from the edges; px of the screen. */
const SIZE = { width: 268, height: 112 }
const AWAY = 8

const isNone = (sides: string): boolean => /^(0px ?)+$/.test(sides)

/** What is told of the element that is pointed at, in a corner that neither it nor the chosen one covers. */
export function HoverCard({
  facts,
  geometry,
  chosen,
  width,
  height,
  scale,
}: {
  facts: HoverFacts
  geometry: Geometry
  chosen: Geometry | null
  width: number
  height: number
  scale: number
}) {
  const { family, size, weight, color, backdrop, padding, margin, display, around } = facts
  const ground = backdrop ? parseColor(backdrop) : null
  const ink = parseColor(color)
  const [right, bottom] = [width * scale - SIZE.width - AWAY, height * scale - SIZE.height - AWAY]
  const corners = [
    [AWAY, bottom],
    [right, bottom],
    [right, AWAY],
    [AWAY, AWAY],
  ]
  const covers = (x: number, y: number) =>
    [geometry, chosen].reduce(
      (n, g, i) =>
        n +
        (g?.boxes.some((b) => {
          const [w, h] = [(Math.abs(b.a) * b.w + Math.abs(b.c) * b.h) / 2, (Math.abs(b.b) * b.w + Math.abs(b.d) * b.h) / 2]
          return (
            (b.cx - w) * scale < x + SIZE.width && (b.cx + w) * scale > x && (b.cy - h) * scale < y + SIZE.height && (b.cy + h) * scale > y
          )
        })
          ? 2 - i
          : 0),
      0,
    )
  const [left, top] = corners.toSorted((a, b) => covers(a[0], a[1]) - covers(b[0], b[1]))[0]
  return (
    <dl className={styles.card} style={{ left, top, width: SIZE.width }} data-testid="hover-card">
      {family && (
        <>
          <dt>text</dt>
          <dd>
            {family} {size} {weight}
          </dd>
        </>
      )}
      {family && (
        <>
          <dt>colour</dt>
          <dd>
            <i style={{ background: color }} />
            {color}
            {ink && ground ? `, contrast ${contrast(ink, ground).toFixed(2)}` : ''}
          </dd>
        </>
      )}
      {backdrop && (
        <>
          <dt>on</dt>
          <dd>
            <i style={{ background: backdrop }} />
            {backdrop}
          </dd>
        </>
      )}
      <dt>layout</dt>
      <dd>
        {display}
        {around ? ` in ${around}` : ''}
      </dd>
      {!isNone(padding) && (
        <>
          <dt>padding</dt>
          <dd>{padding}</dd>
        </>
      )}
      {!isNone(margin) && (
        <>
          <dt>margin</dt>
          <dd>{margin}</dd>
        </>
      )}
    </dl>
  )
}
