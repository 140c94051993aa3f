'use client'
import { useRef, useState, type PointerEvent } from 'react'
import type { PropertyAim } from '../../../core/aim'
import { transition } from '../../../core/value'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import styles from './Editors.module.css'
import { OnOff } from './OnOff'
import { PartField } from './PartField'
import { useListValue } from './useListValue'
import { currentAim } from '../../session/landings'

/** The keywords as the curves they stand for (CSS Easing 1 §2.2). */
const CURVES: Readonly<Record<string, Curve>> = {
  linear: [0, 0, 1, 1],
  ease: [0.25, 0.1, 0.25, 1],
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
}

type Curve = readonly [x1: number, y1: number, x2: number, y2: number]

function curveOf(text: string | null): Curve | null {
  if (text === null) return CURVES.ease
  if (text in CURVES) return CURVES[text]
  const m = /^cubic-bezier\(([^)]*)\)$/i.exec(text)
  const four = m?.[1].split(',').map(Number)
  return four?.length === 4 && four.every(Number.isFinite) ? (four as unknown as Curve) : null
}

const curveText = (c: Curve): string =>
  Object.entries(CURVES).find(([, k]) => k.every((v, i) => Math.abs(v - c[i]) < 0.005))?.[0] ??
  `cubic-bezier(${c.map((v) => Number(v.toFixed(2))).join(', ')})`

const isTime = (text: string) => CSS.supports('transition-delay', text)
const isProperty = (text: string) => CSS.supports('transition-property', text)

const CODEC = {
  parse: (text: string) => (/^(none|all 0s( ease 0s)?|all)$/.test(text.trim()) ? [] : transition.parse(text)),
  format: (items: readonly transition.Transition[]) => (items.length ? transition.format(items) : 'none'),
}

/** Transitions one under the other, each with the curve of its course, whose two ends are pulled. */
export function TransitionRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  const list = useListValue(row, aim, CODEC, ',')
  // Classes give their own course with the property.
  const isByClass = currentAim(row.property)?.ref.kind === 'class-list'
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.stack}>
        {list.items === null && <code className={styles.text}>{aim.written}</code>}
        {list.items?.map((t, i) => (
          <div key={i} className={styles.shadow} data-off={t.off || undefined} role="group" aria-label={`Transition ${i + 1}`}>
            <CurvePad curve={curveOf(t.easing)} onKeep={(curve) => list.keep(list.with(i, { easing: curveText(curve) }))} />
            <div className={styles.parts}>
              <PartField
                label="Property"
                value={t.property ?? 'all'}
                width={92}
                allows={isProperty}
                onKeep={(property) => list.keep(list.with(i, { property }))}
              />
              <PartField
                label="Lasts"
                value={t.duration ?? '0s'}
                width={46}
                allows={isTime}
                onKeep={(duration) => list.keep(list.with(i, { duration }))}
              />
              <PartField
                label="Waits"
                value={t.delay ?? '0s'}
                width={46}
                allows={isTime}
                onKeep={(delay) => list.keep(list.with(i, { delay, duration: t.duration ?? '0s' }))}
              />
              <PartField
                label="Course"
                value={t.easing ?? 'ease'}
                width={140}
                allows={(e) => CSS.supports('transition-timing-function', e)}
                onKeep={(easing) => list.keep(list.with(i, { easing }))}
              />
              <OnOff what={`Transition ${i + 1}`} off={t.off} onToggle={list.toggle && (() => list.toggle!(i))} />
              <button type="button" aria-label={`Remove transition ${i + 1}`} onClick={() => list.keep(list.without(i))}>
                ×
              </button>
            </div>
          </div>
        ))}
        {list.items && (
          <button
            type="button"
            className={styles.add}
            onClick={() =>
              list.add({
                property: 'all',
                duration: '200ms',
                easing: isByClass ? null : 'ease',
                delay: null,
                behavior: null,
              })
            }
          >
            Add a transition
          </button>
        )}
      </div>
    </RowFrame>
  )
}

const PAD = 46
const EDGE = 6

function CurvePad({ curve, onKeep }: { curve: Curve | null; onKeep: (curve: Curve) => void }) {
  const [pulled, setPulled] = useState<Curve | null>(null)
  const which = useRef<0 | 2>(0)
  const now = pulled ?? curve
  if (!now) return <svg width={PAD} height={PAD} aria-hidden="true" className={styles.pad} />
  const x = (v: number) => EDGE + v * (PAD - 2 * EDGE)
  const y = (v: number) => PAD - EDGE - v * (PAD - 2 * EDGE)
  const read = (e: PointerEvent<SVGSVGElement>): Curve => {
    const box = e.currentTarget.getBoundingClientRect()
    const px = Math.min(1, Math.max(0, (e.clientX - box.left - EDGE) / (PAD - 2 * EDGE)))
    const py = Math.min(1.6, Math.max(-0.6, (PAD - EDGE - (e.clientY - box.top)) / (PAD - 2 * EDGE)))
    const round = (v: number) => Math.round(v * 20) / 20
    return which.current === 0 ? [round(px), round(py), now[2], now[3]] : [now[0], now[1], round(px), round(py)]
  }
  return (
    <svg
      className={styles.pad}
      width={PAD}
      height={PAD}
      role="img"
      aria-label="Course of the transition; pull its two ends"
      onPointerDown={(e) => {
        const box = e.currentTarget.getBoundingClientRect()
        const far = (i: 0 | 2) => Math.hypot(x(now[i]) - (e.clientX - box.left), y(now[i + 1]) - (e.clientY - box.top))
        which.current = far(0) <= far(2) ? 0 : 2
        e.currentTarget.setPointerCapture(e.pointerId)
      }}
      onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && setPulled(read(e))}
      onPointerUp={() => {
        if (pulled) onKeep(pulled)
        setPulled(null)
      }}
      onPointerCancel={() => setPulled(null)}
    >
      <path d={`M${x(0)} ${y(0)}L${x(now[0])} ${y(now[1])}M${x(1)} ${y(1)}L${x(now[2])} ${y(now[3])}`} className={styles.padLine} />
      <path d={`M${x(0)} ${y(0)}C${x(now[0])} ${y(now[1])} ${x(now[2])} ${y(now[3])} ${x(1)} ${y(1)}`} className={styles.course} />
      {[0, 2].map((i) => (
        <circle key={i} cx={x(now[i])} cy={y(now[i + 1])} r={3.5} className={styles.padDot} />
      ))}
    </svg>
  )
}
