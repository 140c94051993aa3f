'use client'
import { memo, useLayoutEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { nearestNotch, type Notch } from './row-value'
import styles from './Tape.module.css'

const WIDTH = 116
const HEIGHT = 22
/** Screen px for one CSS px of length. */
const STRETCH = 5
const EDGE = 8
/** How near to a notch, in screen px, a pull settles on it. */
const SNAP = 5
/** Keys pressed within this time are one edit; ms. */
const KEY_REST = 450

export interface TapeProps {
  readonly label: string
  /** Now, in px. */
  readonly px: number
  readonly notches: readonly Notch[]
  readonly negative: boolean
  /** There is nothing between the notches. */
  readonly closed?: boolean
  /** It goes from notch to notch, and between them only with Alt. */
  readonly stepwise?: boolean
  /** What one step of the scale is, where lengths are not px but numbers; 1 when left out. */
  readonly step?: number
  /** The most it goes to, in steps. */
  readonly most?: number
  readonly active: boolean
  readonly describe: (px: number) => string
  /** While pulling. `notch` is what the pull has settled on. */
  readonly onShow: (px: number, notch: Notch | null) => void
  readonly onCommit: (px: number, notch: Notch | null) => void
  readonly onCancel: () => void
  readonly onFocus: () => void
}

/** A length pulled along like a tape measure: the mark moves along the scale and settles on the project's notches. */
export function Tape({
  label,
  px,
  notches,
  negative,
  closed = false,
  stepwise = false,
  step = 1,
  most = Infinity,
  active,
  describe,
  onShow,
  onCommit,
  onCancel,
  onFocus,
}: TapeProps) {
  const [pull, setPull] = useState<{ px: number; start: number } | null>(null)
  const grip = useRef<{ x: number; px: number; moved: boolean } | null>(null)
  const last = useRef<{ px: number; notch: Notch | null }>({ px, notch: null })
  const rest = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)
  const svg = useRef<SVGSVGElement>(null)

  const home = Math.max(negative ? -Infinity : -EDGE / STRETCH, px - WIDTH / 3 / STRETCH)
  const start = pull?.start ?? home
  const value = pull?.px ?? px
  const x = (v: number) => (v - start) * STRETCH
  const bounded = (v: number) => Math.min(most, negative ? v : Math.max(0, v))

  // Shows `v`, moving the scale under the mark when it would leave the tape.
  const show = (v: number, notch: Notch | null) => {
    last.current = { px: v, notch }
    setPull((p) => {
      const from = p?.start ?? home
      const at = (v - from) * STRETCH
      const shift = at < EDGE ? at - EDGE : at > WIDTH - EDGE ? at - (WIDTH - EDGE) : 0
      return { px: v, start: from + shift / STRETCH }
    })
    onShow(v, notch)
  }

  const settle = (v: number): Notch | null =>
    notches.reduce<Notch | null>(
      (best, n) => (Math.abs(n.px - v) * STRETCH <= SNAP && (!best || Math.abs(n.px - v) < Math.abs(best.px - v)) ? n : best),
      null,
    )

  const isByNotch = (e: { readonly altKey: boolean }) => closed || (stepwise && notches.length > 0 && !e.altKey)

  const end = (keep: boolean) => {
    clearTimeout(rest.current)
    grip.current = null
    if (!pull) return
    const { px: to, notch } = last.current
    setPull(null)
    if (!keep || (to === px && !notch)) onCancel()
    else onCommit(to, notch)
  }

  const onPointerDown = (e: PointerEvent<SVGSVGElement>) => {
    if (e.button !== 0) return
    onFocus()
    e.currentTarget.focus()
    e.currentTarget.setPointerCapture(e.pointerId)
    grip.current = { x: e.clientX, px: value, moved: false }
  }

  const onPointerMove = (e: PointerEvent<SVGSVGElement>) => {
    const g = grip.current
    if (!g) return
    const dx = e.clientX - g.x
    if (!g.moved && Math.abs(dx) < 2) return
    g.moved = true
    // Coarse with Shift, fine with Alt; fine pulls pass the notches by.
    const reach = e.shiftKey ? 4 : e.altKey ? 0.1 : 1
    const by = e.shiftKey ? 4 : e.altKey && step === 1 ? 0.1 : 1
    const raw = g.px + (dx / STRETCH) * reach
    const notch = isByNotch(e) ? nearestNotch(notches, raw) : e.altKey ? null : settle(raw)
    show(notch ? notch.px : bounded(Math.round(raw / by) * by), notch)
  }

  const onKeyDown = (e: KeyboardEvent) => {
    if (e.key === 'Escape' && pull) {
      end(false)
      e.stopPropagation()
      return
    }
    if (e.key.toLowerCase() === 'n' && pull) {
      const nearest = nearestNotch(notches, value)
      if (nearest) show(nearest.px, nearest)
      e.preventDefault()
      e.stopPropagation()
      return
    }
    if (e.key === 'Enter' && pull) {
      end(true)
      return
    }
    const sign = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key]
    if (!sign || e.ctrlKey || e.metaKey) return
    e.preventDefault()
    e.stopPropagation()
    const by = e.shiftKey ? 10 : e.altKey ? 0.1 : 1
    if (isByNotch(e)) {
      const ahead = notches.filter((n) => (n.px - value) * sign > 0.01)
      const next = nearestNotch(ahead, value)
      if (next) show(next.px, next)
      clearTimeout(rest.current)
      return
    }
    show(bounded(Math.round((value + sign * by) * 10) / 10), null)
    clearTimeout(rest.current)
  }

  const onKeyUp = (e: KeyboardEvent) => {
    if (!pull || grip.current || !e.key.startsWith('Arrow')) return
    clearTimeout(rest.current)
    rest.current = setTimeout(() => endRef.current(true), KEY_REST)
  }

  // The timer has to end the pull as it is then.
  const endRef = useRef(end)
  useLayoutEffect(() => {
    endRef.current = end
  })

  const shown = (v: number) => inSteps(v, step)
  return (
    <svg
      ref={svg}
      width={WIDTH}
      height={HEIGHT}
      className={styles.tape}
      data-active={active || undefined}
      data-pulling={pull ? true : undefined}
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={shown(value)}
      aria-valuemin={negative ? -2000 : 0}
      aria-valuemax={most === Infinity ? 2000 : shown(most)}
      aria-valuetext={describe(value)}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={() => end(true)}
      onPointerCancel={() => end(false)}
      onKeyDown={onKeyDown}
      onKeyUp={onKeyUp}
      onBlur={() => end(true)}
      onFocus={onFocus}
    >
      <Scale start={start} from={negative ? -Infinity : 0} most={most} step={step} />
      <path
        d={notches
          .filter((n) => x(n.px) > -4 && x(n.px) < WIDTH + 4)
          .map((n) => `M${x(n.px)} ${HEIGHT - 6}l3.5 6h-7z`)
          .join('')}
        className={styles.notch}
      />
      <line x1={x(value)} x2={x(value)} y1={0} y2={HEIGHT} className={styles.mark} />
    </svg>
  )
}

const inSteps = (v: number, step: number): number => Number((v * step).toFixed(4))

// A column of tapes is drawn with each element that is picked, and most of them stand where they stood.
const Scale = memo(function Scale({ start, from, most, step }: { start: number; from: number; most: number; step: number }) {
  const x = (v: number) => (v - start) * STRETCH
  const ticks = Array.from({ length: Math.ceil(WIDTH / STRETCH) + 2 }, (_, i) => Math.floor(start) + i).filter(
    (t) => t >= from && t <= most,
  )
  return (
    <>
      <path d={ticks.map((t) => `M${x(t)} 0v${t % 10 === 0 ? 9 : t % 5 === 0 ? 6 : 3}`).join('')} className={styles.tick} />
      {ticks
        .filter((t) => t % 10 === 0)
        .map((t) => (
          <text key={t} x={x(t) + 2} y={13} className={styles.number}>
            {inSteps(t, step)}
          </text>
        ))}
    </>
  )
})
