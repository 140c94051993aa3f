'use client'
import { useRef, useState, type PointerEvent } from 'react'
import type { Geometry } from '../../agent/protocol'
import { gradient } from '../../core/value'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Overlay.module.css'

const PROPERTY = 'background-image'
/** What a turned line settles on, in degrees; with Ctrl it does not. */
const TURN = 15

interface Point {
  readonly x: number
  readonly y: number
}

/** Something of a gradient that is pulled on the page: where it is, from the corner of the padding box, and what it makes of the gradient. */
interface Grip {
  readonly id: string
  readonly at: Point
  readonly color: string | null
  readonly title: string
  readonly move: (to: Point, free: boolean) => gradient.Gradient
}

const radians = (degrees: number) => (degrees * Math.PI) / 180
const toward = (from: Point, degrees: number, by: number): Point => ({
  x: from.x + Math.sin(radians(degrees)) * by,
  y: from.y - Math.cos(radians(degrees)) * by,
})
const angleFrom = (from: Point, to: Point, free: boolean): number => {
  const angle = (Math.atan2(to.x - from.x, from.y - to.y) * 180) / Math.PI
  return free ? angle : Math.round(angle / TURN) * TURN
}

function linear(g: gradient.Gradient, area: gradient.Area): { line: [Point, Point]; ring: null; grips: Grip[] } {
  const angle = gradient.angleOf(g, area)
  const length = gradient.lineLength(angle, area)
  const middle = { x: area.w / 2, y: area.h / 2 }
  const start = toward(middle, angle, -length / 2)
  const end = toward(middle, angle, length / 2)
  const share = (to: Point) => ((to.x - start.x) * Math.sin(radians(angle)) - (to.y - start.y) * Math.cos(radians(angle))) / (length || 1)
  const shares = gradient.stopShares(g, length)
  return {
    line: [start, end],
    ring: null,
    grips: [
      {
        id: 'turn',
        at: toward(middle, angle, length / 2 + 16),
        color: null,
        title: 'Turn the gradient',
        move: (to, free) => gradient.withAngle(g, angleFrom(middle, to, free)),
      },
      ...g.stops.map((s, i): Grip => ({
        id: `stop-${i + 1}`,
        at: toward(start, angle, shares[i] * length),
        color: s.color,
        title: `Stop ${i + 1}: ${s.color}`,
        move: (to) => gradient.withStop(g, i, share(to), length),
      })),
    ],
  }
}

function around(
  g: gradient.Gradient,
  area: gradient.Area,
): { line: [Point, Point] | null; ring: { centre: Point; radius: number } | null; grips: Grip[] } {
  const centre = gradient.centreOf(g, area)
  const centreGrip: Grip = {
    id: 'centre',
    at: centre,
    color: null,
    title: 'Move the centre',
    move: (to) => gradient.withCentre(g, to, area),
  }
  if (g.kind === 'radial') {
    const length = gradient.rayLength(g, area)
    const shares = gradient.stopShares(g, length)
    return {
      line: [centre, { x: centre.x + length, y: centre.y }],
      ring: null,
      grips: [
        centreGrip,
        ...g.stops.map((s, i): Grip => ({
          id: `stop-${i + 1}`,
          at: { x: centre.x + shares[i] * length, y: centre.y },
          color: s.color,
          title: `Stop ${i + 1}: ${s.color}`,
          move: (to) => gradient.withStop(g, i, (to.x - centre.x) / (length || 1), length),
        })),
      ],
    }
  }
  const from = gradient.degrees(/\bfrom\s+(\S+)/i.exec(g.line)?.[1] ?? '') ?? 0
  const radius = Math.max(18, Math.min(area.w, area.h) * 0.35)
  const shares = gradient.stopShares(g, 360)
  return {
    line: null,
    ring: { centre, radius },
    grips: [
      centreGrip,
      {
        id: 'turn',
        at: toward(centre, from, radius + 18),
        color: null,
        title: 'Turn the gradient',
        move: (to, free) => gradient.withAngle(g, angleFrom(centre, to, free)),
      },
      ...g.stops.map((s, i): Grip => ({
        id: `stop-${i + 1}`,
        at: toward(centre, from + shares[i] * 360, radius),
        color: s.color,
        title: `Stop ${i + 1}: ${s.color}`,
        move: (to) => gradient.withStop(g, i, ((((angleFrom(centre, to, true) - from) % 360) + 360) % 360) / 360, 360),
      })),
    ],
  }
}

/** The selected gradient, on the element it fills: its line or ring, its stops, its centre and its turn, each to be pulled. */
export function GradientHandles({ geometry, picked, scale }: { geometry: Geometry; picked: Picked; scale: number }) {
  const { session } = useSession()
  const inHand = useStudio((s) => s.layer)
  const [pulled, setPulled] = useState<{ id: string; text: string } | null>(null)
  const last = useRef<string | null>(null)
  const [box] = geometry.boxes
  const aim = picked.aims.get(PROPERTY)
  const layers = aim ? gradient.layers(aim.written ?? aim.computed) : []
  const at = Math.min(inHand, Math.max(0, layers.length - 1))
  const shown = pulled ? (gradient.layers(pulled.text)[at] ?? '') : (layers[at] ?? '')
  const found = gradient.parse(shown)
  if (!box || geometry.boxes.length !== 1 || !found) return null
  const [top, right, bottom, left] = geometry.border
  const area = { w: box.w - left - right, h: box.h - top - bottom }
  if (area.w <= 0 || area.h <= 0) return null
  const { line, ring, grips } = found.kind === 'linear' ? linear(found, area) : around(found, area)
  const text = (g: gradient.Gradient) => gradient.formatLayers(layers.map((l, i) => (i === at ? gradient.format(g) : l)))
  const end = (keep: boolean) => {
    const to = last.current
    last.current = null
    setPulled(null)
    if (to && keep) void session.edits.commit(PROPERTY, to)
    else if (to) void session.edits.cancelPreview()
  }
  const pull = (grip: Grip, e: PointerEvent<SVGGElement>) => {
    const inverse = (e.currentTarget.parentNode as SVGGElement).getScreenCTM()!.inverse()
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(inverse)
    const next = text(grip.move({ x: p.x, y: p.y }, e.ctrlKey))
    last.current = next
    setPulled({ id: grip.id, text: next })
    session.edits.preview(PROPERTY, next)
  }
  const s = 1 / scale
  return (
    <g
      transform={`matrix(${box.a} ${box.b} ${box.c} ${box.d} ${box.cx} ${box.cy}) translate(${left - box.w / 2} ${top - box.h / 2})`}
      data-testid="gradient-handles"
    >
      {line && (
        <path className={styles.ramp} d={`M${line[0].x} ${line[0].y}L${line[1].x} ${line[1].y}`} vectorEffect="non-scaling-stroke" />
      )}
      {ring && <circle className={styles.ramp} cx={ring.centre.x} cy={ring.centre.y} r={ring.radius} vectorEffect="non-scaling-stroke" />}
      {grips.map((grip) => (
        <g
          key={grip.id}
          className={styles.stop}
          data-testid={`gradient-${grip.id}`}
          transform={`translate(${grip.at.x} ${grip.at.y}) scale(${s})`}
          onPointerDown={(e) => {
            if (e.button !== 0) return
            e.stopPropagation()
            e.currentTarget.setPointerCapture(e.pointerId)
          }}
          onPointerMove={(e) => {
            if (!e.currentTarget.hasPointerCapture(e.pointerId)) return
            e.stopPropagation()
            pull(grip, e)
          }}
          onPointerUp={(e) => {
            e.stopPropagation()
            end(true)
          }}
          onPointerCancel={() => end(false)}
          onClick={(e) => e.stopPropagation()}
        >
          <title>{grip.title}</title>
          {grip.color !== null ? (
            <circle r={6} style={{ fill: grip.color }} />
          ) : grip.id === 'turn' ? (
            <path d="M0 -6L6 0L0 6L-6 0Z" />
          ) : (
            <path d="M-6 0h12M0 -6v12" className={styles.cross} />
          )}
        </g>
      ))}
      {pulled && (
        <text className={styles.pullText} transform={`translate(8 ${area.h - 8}) scale(${s})`} pointerEvents="none">
          {shown}
        </text>
      )}
    </g>
  )
}
