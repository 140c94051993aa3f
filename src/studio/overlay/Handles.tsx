'use client'
import { memo, useEffect, useRef, useState, type PointerEvent } from 'react'
import type { Box, Geometry } from '../../agent/protocol'
import { formatLength } from '../../core/value'
import { getStudio, useStudio, type Picked } from '../store'
import { lengthIn, nearestNotch, notchesFor, sourceUnit, stepNotches, unitContext } from '../tune/row-value'
import { useSession } from '../ui/SessionContext'
import type { Handle, Outcome, PullBy } from './handle'
import { handlesOf } from './handle-list'
import styles from './Overlay.module.css'
import { currentAim } from '../session/landings'

/** How near to a notch or an edge a pull settles on it; screen px. */
const SNAP = 4
/** Beyond any page; px. */
const FAR = 20_000

interface Pull {
  readonly handle: Handle
  readonly outcome: Outcome
  /** A neighbour's edge that the pull has settled on, from the corner of the border box. */
  readonly level: number | null
  /** Where the element was when the pull began: what is said of neighbours and cells is said from there. */
  readonly from: Box
}

/** What the chosen element can be pulled by, where it is: Alt takes the other side along, Shift all of them, Ctrl settles on nothing. */
export function Handles({ geometry, picked, scale }: { geometry: Geometry; picked: Picked; scale: number }) {
  const { session } = useSession()
  const projectScale = useStudio((s) => s.scale)
  const [pull, setPull] = useState<Pull | null>(null)
  const grip = useRef<{ x: number; y: number; geometry: Geometry; last: Outcome | null; shown: boolean } | null>(null)
  const [box] = geometry.boxes
  const handles = pull ? [] : handlesOf(geometry, picked.report)

  const inUnit = (property: string) => (px: number, unit: string) => formatLength(lengthIn(px, unit, unitContext(picked.report, property)))

  /** The length a pull comes to, settled on the project's scale first and on a neighbour's edge next. */
  const lengthAt = (handle: Handle, moved: number, free: boolean): { text: string; level: number | null } => {
    const aim = picked.aims.get(handle.property)
    const context = unitContext(picked.report, handle.property)
    const raw = handle.px + moved * handle.sign
    // A class list has the steps of its vocabulary, and what is between them only where that is asked for.
    const landing = free ? null : currentAim(handle.property)
    const step = landing?.ref.kind === 'class-list' && landing.steps?.length ? nearestNotch(stepNotches(landing.steps), raw) : null
    if (step) return { text: step.text, level: null }
    const near = free
      ? undefined
      : notchesFor(projectScale, picked.report, handle.property).find((n) => Math.abs(n.px - raw) * scale <= SNAP)
    if (near) return { text: near.text, level: null }
    const lines = (free ? null : grip.current?.geometry.edges?.[handle.axis === 'x' ? 'x' : 'y']) ?? []
    const level = lines
      .flatMap((at) => handle.edges.map((edge) => ({ at, by: at - edge })))
      .filter(({ by }) => Math.abs(by - moved) * scale <= SNAP)
      .sort((a, b) => Math.abs(a.by - moved) - Math.abs(b.by - moved))[0]
    const least = handle.kind === 'margin' || handle.kind === 'offset' ? -Infinity : 0
    const px = Math.max(least, level ? handle.px + level.by * handle.sign : Math.round(raw))
    return {
      text: formatLength(lengthIn(px, aim ? sourceUnit(aim, context, getStudio().preferences.units) : 'px', context)),
      level: level?.at ?? null,
    }
  }

  const outcomeAt = (handle: Handle, e: PointerEvent): Pick<Pull, 'outcome' | 'level'> | null => {
    const [dx, dy] = [(e.clientX - grip.current!.x) / scale, (e.clientY - grip.current!.y) / scale]
    if (handle.outcomeOf) {
      const by: PullBy = {
        dx,
        dy,
        inUnit: inUnit(handle.property),
        written: (p) => picked.aims.get(p)?.written ?? null,
      }
      const outcome = handle.outcomeOf(by)
      if (outcome !== 'length') return outcome && { outcome, level: null }
    }
    const { text, level } = lengthAt(handle, handle.axis === 'x' ? dx : dy, e.ctrlKey)
    const changes: Outcome['changes'] =
      e.shiftKey && handle.all
        ? [[handle.all, text]]
        : e.altKey && handle.opposite
          ? [
              [handle.property, text],
              [handle.opposite, text],
            ]
          : [[handle.property, text]]
    return { outcome: { changes, words: `${handle.property} ${text}`, target: null }, level }
  }

  const end = (keep: boolean) => {
    const { changes = [], move } = grip.current?.last ?? {}
    const shown = grip.current?.shown
    grip.current = null
    setPull(null)
    if (keep && move) void session.structure.move(move)
    else if (keep && changes.some(([name]) => name === 'grid-column' || name === 'grid-row')) void session.layout.placeInGrid(changes)
    else if (keep && changes.length) void session.edits.commitAll(changes)
    else if (shown) void session.edits.cancelPreview()
  }
  const endRef = useRef(end)
  useEffect(() => {
    endRef.current = end
  })
  useEffect(() => {
    if (!pull) return
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return
      e.stopPropagation()
      endRef.current(false)
    }
    addEventListener('keydown', onKey, true)
    return () => removeEventListener('keydown', onKey, true)
  }, [pull, endRef])

  if (!box) return null
  const target = pull?.outcome.target
  const matrix = (b: Box) => `matrix(${b.a} ${b.b} ${b.c} ${b.d} ${b.cx} ${b.cy})`
  return (
    <>
      <g transform={matrix(box)}>
        {[...handles, ...(pull ? [pull.handle] : [])].map((handle) => (
          <g
            key={handle.id}
            className={styles.handle}
            data-kind={handle.kind}
            data-axis={handle.axis}
            data-testid={`handle-${handle.id.replaceAll(' ', '-')}`}
            data-pulled={pull !== null || undefined}
            transform={`translate(${handle.x} ${handle.y}) scale(${1 / scale})`}
            onPointerDown={(e) => {
              if (e.button !== 0) return
              e.stopPropagation()
              e.currentTarget.setPointerCapture(e.pointerId)
              grip.current = { x: e.clientX, y: e.clientY, geometry, last: null, shown: false }
              session.selection.touch(handle.property)
              const along = ALONG[handle.kind]
              if (along) void session.selection.aimAlone(along)
              else void session.selection.needAims([handle.property])
            }}
            onPointerMove={(e) => {
              if (!grip.current) return
              e.stopPropagation()
              if (!grip.current.last && Math.hypot(e.clientX - grip.current.x, e.clientY - grip.current.y) < 2) return
              const next = outcomeAt(handle, e)
              if (!next) return
              grip.current.last = next.outcome
              setPull({ handle, ...next, from: grip.current.geometry.boxes[0] })
              if (next.outcome.changes.length) session.edits.previewAll(next.outcome.changes)
              // Back where it began, the page shows what the source says.
              else if (grip.current.shown) void session.edits.cancelPreview()
              grip.current.shown = next.outcome.changes.length > 0
            }}
            onPointerUp={(e) => {
              e.stopPropagation()
              end(true)
            }}
            onPointerCancel={() => end(false)}
            onClick={(e) => e.stopPropagation()}
          >
            <title>{titleOf(handle)}</title>
            <rect x={-9} y={-9} width={18} height={18} className={styles.grip} />
            <Mark kind={handle.kind} axis={handle.axis} />
          </g>
        ))}
      </g>
      {pull && (
        <g transform={matrix(pull.from)} pointerEvents="none">
          {pull.level !== null && (
            <path
              className={styles.level}
              vectorEffect="non-scaling-stroke"
              data-testid="level"
              d={
                pull.handle.axis === 'x'
                  ? `M${pull.level - pull.from.w / 2} ${-FAR}V${FAR}`
                  : `M${-FAR} ${pull.level - pull.from.h / 2}H${FAR}`
              }
            />
          )}
          {target && (
            <rect
              className={styles.target}
              x={target.x - pull.from.w / 2}
              y={target.y - pull.from.h / 2}
              width={target.w}
              height={target.h}
              vectorEffect="non-scaling-stroke"
              data-testid="place-target"
            />
          )}
          <g
            transform={`translate(${target ? target.x - pull.from.w / 2 : pull.handle.x} ${target ? target.y + target.h - pull.from.h / 2 : pull.handle.y}) scale(${1 / scale})`}
          >
            <text x={12} y={pull.handle.kind === 'cell' && !target ? 24 : -8} className={styles.pullText} data-testid="handle-value">
              {pull.outcome.words}
            </text>
          </g>
        </g>
      )}
    </>
  )
}

/** Properties that place one element among others, which a pull may write. */
const ALONG: Readonly<Partial<Record<Handle['kind'], readonly string[]>>> = {
  cell: ['grid-column', 'grid-row', 'align-self', 'margin-left', 'margin-top'],
  span: ['grid-column', 'grid-row'],
}

function titleOf({ kind, property, px }: Handle): string {
  switch (kind) {
    case 'cell':
      return 'Pull to another place in its parent'
    case 'span':
      return 'Pull over more cells'
    case 'track':
      return `${property}: pull this track`
    case 'radius':
      return 'border-radius: pull along; downwards too for an ellipse'
    default:
      return `${property}: ${formatLength({ number: px, unit: 'px' })}. Pull; Alt with the other side, Shift all sides, Ctrl settles on nothing`
  }
}

/** Each kind has a mark in its own texture's manner: dots for padding, slants for margin, crosses for gap. */
const Mark = memo(function Mark({ kind, axis }: { kind: Handle['kind']; axis: Handle['axis'] }) {
  const turn = axis === 'y' ? 'rotate(90)' : undefined
  switch (kind) {
    case 'padding':
      return (
        <g transform={turn}>
          <circle cy={-4} r={1.7} />
          <circle r={1.7} />
          <circle cy={4} r={1.7} />
        </g>
      )
    case 'margin':
      return <path transform={turn} d="M-2.5 -2l5 -4M-2.5 2l5 -4M-2.5 6l5 -4" />
    case 'gap':
      return <path transform={turn} d="M-3 -3l6 6M3 -3l-6 6" />
    case 'size':
      return <path transform={turn} d="M-2 -6h4v12h-4" />
    case 'radius':
      return <path d="M-4 4a8 8 0 0 1 8 -8" />
    case 'offset':
      return <path transform={turn} d="M-5 0h10M2 -3l3 3l-3 3" />
    case 'type':
      return <path d="M-8 0h16" />
    case 'track':
      return <path transform={turn} d="M-1.5 -6v12M1.5 -6v12" />
    case 'cell':
      return <path d="M-6 0h12M0 -6v12M-6 0l2 -2M-6 0l2 2M6 0l-2 -2M6 0l-2 2M0 -6l-2 2M0 -6l2 2M0 6l-2 -2M0 6l2 -2" />
    case 'span':
      return <path d="M-5 5h10v-10M5 5l-6 -6" />
  }
})
