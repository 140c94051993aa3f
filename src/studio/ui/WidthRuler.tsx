'use client'
import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { useStudio } from '../store'
import { useSession } from './SessionContext'
import styles from './WidthRuler.module.css'

const HEIGHT = 26
const LEAST = 200
const MOST = 4000

/** A ruler in CSS px over the page, with the project's breakpoints; its end sets the page's width. */
export function WidthRuler({ width, scale, free, margin }: { width: number; scale: number; free: number; margin: number }) {
  const { session } = useSession()
  const asked = useStudio((s) => s.width)
  const breakpoints = useStudio((s) => s.scale.breakpoints)
  const svg = useRef<SVGSVGElement>(null)
  const shown = (free + 2 * margin) / scale
  const x = (px: number) => margin + px * scale
  const ticks = Array.from({ length: Math.max(0, Math.floor(shown / 10)) }, (_, i) => i * 10)
  const step = scale < 0.5 ? 50 : 10

  const widthAt = (e: PointerEvent): number => {
    const box = svg.current!.getBoundingClientRect()
    return Math.round(Math.min(MOST, Math.max(LEAST, (e.clientX - box.left - margin) / scale)))
  }
  const settled = (w: number): number => breakpoints.find((b) => Math.abs(b - w) * scale < 5) ?? w
  const onPointerMove = (e: PointerEvent<SVGGElement>) => {
    if (e.currentTarget.hasPointerCapture(e.pointerId)) session.setWidth(settled(widthAt(e)))
  }
  const onKeyDown = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key]
    if (by) session.setWidth(Math.min(MOST, Math.max(LEAST, Math.round(width) + by * (e.shiftKey ? 100 : 10))))
    else if (e.key === 'Escape' || e.key === 'Home') session.setWidth(null)
    else return
    e.preventDefault()
    e.stopPropagation()
  }

  const end = x(width)
  return (
    <div className={styles.ruler}>
      <svg ref={svg} width="100%" height={HEIGHT} aria-label="Page width in CSS pixels" role="group">
        {ticks
          .filter((t) => t % step === 0)
          .map((t) => (
            <line key={t} x1={x(t)} x2={x(t)} y1={t % 100 === 0 ? 14 : t % 50 === 0 ? 18 : 21} y2={HEIGHT} className={styles.tick} />
          ))}
        {ticks
          .filter((t) => t > 0 && t % (scale < 0.5 ? 500 : 100) === 0)
          .map((t) => (
            <text key={t} x={x(t) + 3} y={12} className={styles.number} visibility={Math.abs(x(t) - end + 16) < 44 ? 'hidden' : undefined}>
              {t}
            </text>
          ))}
        {breakpoints.map((b) => (
          <g
            key={b}
            role="button"
            tabIndex={0}
            aria-label={`Breakpoint at ${b} pixels`}
            className={styles.breakpoint}
            onClick={() => session.setWidth(b)}
            onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && session.setWidth(b)}
          >
            <title>{`The project’s media queries turn at ${b}px`}</title>
            <rect x={x(b) - 6} y={0} width={12} height={HEIGHT} fill="transparent" />
            <path d={`M${x(b)} ${HEIGHT}V2`} />
            <path d={`M${x(b)} 2l5 4-5 4z`} className={styles.flag} />
          </g>
        ))}
        <g
          role="slider"
          tabIndex={0}
          aria-label="Page width"
          aria-valuenow={Math.round(width)}
          aria-valuemin={LEAST}
          aria-valuemax={MOST}
          aria-valuetext={`${Math.round(width)} pixels`}
          className={styles.end}
          data-testid="width-end"
          onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
          onPointerMove={onPointerMove}
          onDoubleClick={() => session.setWidth(null)}
          onKeyDown={onKeyDown}
        >
          <title>Drag to set the page’s width; double-click for all the room there is</title>
          <line x1={end} x2={end} y1={0} y2={HEIGHT} />
          <rect x={end - 36} y={3} width={35} height={15} rx={2} />
          <text x={end - 18.5} y={14.5} textAnchor="middle">
            {Math.round(width)}
          </text>
        </g>
      </svg>
      {(scale < 1 || asked !== null) && (
        <span className={styles.scale} data-testid="scale">
          {scale < 1 ? `shown at ${Math.round(scale * 100)}%` : ''}
          <button type="button" onClick={() => session.setWidth(null)}>
            Fit
          </button>
        </span>
      )}
    </div>
  )
}
