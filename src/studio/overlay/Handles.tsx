'use client'
import { useEffect, useRef, useState, type PointerEvent } from 'react'
import type { Geometry } from '../../agent/protocol'
import { formatLength } from '../../core/value'
import { useStudio, type Picked } from '../store'
import { lengthIn, notchesFor, sourceUnit, unitContext } from '../tune/row-value'
import { useSession } from '../ui/SessionContext'
import { handlesOf, type Handle } from './handle-list'
import styles from './Overlay.module.css'

/** How near to a notch a pull settles on it; screen px. */
const SNAP = 4

interface Pull {
  readonly handle: Handle
  readonly text: string
}

/** The lengths of the chosen element where they are, to be pulled: Alt takes the other side along, Shift all of them. */
export function Handles({ geometry, picked, scale }: { geometry: Geometry; picked: Picked; scale: number }) {
  const { session } = useSession()
  const projectScale = useStudio((s) => s.scale)
  const [pull, setPull] = useState<Pull | null>(null)
  const grip = useRef<{ x: number; y: number; last: readonly (readonly [string, string])[] | null } | null>(null)
  const [box] = geometry.boxes
  const handles = pull ? [] : handlesOf(geometry, picked.report)

  const valueAt = (handle: Handle, e: PointerEvent): string => {
    const aim = picked.aims.get(handle.property)
    const context = unitContext(picked.report, handle.property)
    const moved = (handle.axis === 'x' ? e.clientX - grip.current!.x : e.clientY - grip.current!.y) / scale
    const raw = handle.px + moved * handle.sign
    const least = handle.kind === 'margin' || handle.kind === 'offset' ? -Infinity : 0
    const near = e.ctrlKey ? undefined : notchesFor(projectScale, picked.report, handle.property).find((n) => Math.abs(n.px - raw) * scale <= SNAP)
    if (near) return near.text
    const px = Math.max(least, Math.round(raw))
    return formatLength(lengthIn(px, aim ? sourceUnit(aim, context) : 'px', context))
  }

  const changesFor = (handle: Handle, e: PointerEvent): readonly (readonly [string, string])[] => {
    const text = valueAt(handle, e)
    if (e.shiftKey && handle.all) return [[handle.all, text]]
    if (e.altKey && handle.opposite) return [[handle.property, text], [handle.opposite, text]]
    return [[handle.property, text]]
  }

  const end = (keep: boolean) => {
    const changes = grip.current?.last
    grip.current = null
    setPull(null)
    if (keep && changes) void session.edits.commitAll(changes)
    else if (changes) void session.edits.cancelPreview()
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
  }, [pull])

  if (!box) return null
  return (
    <g transform={`matrix(${box.a} ${box.b} ${box.c} ${box.d} ${box.cx} ${box.cy})`}>
      {[...handles, ...(pull ? [pull.handle] : [])].map((handle) => (
        <g
          key={handle.property} className={styles.handle} data-kind={handle.kind} data-axis={handle.axis} data-testid={`handle-${handle.property}`} data-pulled={pull !== null || undefined}
          transform={`translate(${handle.x} ${handle.y}) scale(${1 / scale})`}
          onPointerDown={(e) => {
            if (e.button !== 0) return
            e.stopPropagation()
            e.currentTarget.setPointerCapture(e.pointerId)
            grip.current = { x: e.clientX, y: e.clientY, last: null }
            session.selection.touch(handle.property)
            void session.selection.needAim(handle.property)
          }}
          onPointerMove={(e) => {
            if (!grip.current) return
            e.stopPropagation()
            if (!grip.current.last && Math.hypot(e.clientX - grip.current.x, e.clientY - grip.current.y) < 2) return
            const changes = changesFor(handle, e)
            grip.current.last = changes
            setPull({ handle, text: changes[0][1] })
            session.edits.previewAll(changes)
          }}
          onPointerUp={(e) => {
            e.stopPropagation()
            end(true)
          }}
          onPointerCancel={() => end(false)}
          onClick={(e) => e.stopPropagation()}
        >
          <title>{`${handle.property}: ${formatLength({ number: handle.px, unit: 'px' })}. Pull; Alt with the other side, Shift all sides, Ctrl without notches`}</title>
          <rect x={-9} y={-9} width={18} height={18} className={styles.grip} />
          <Mark kind={handle.kind} axis={handle.axis} />
        </g>
      ))}
      {pull && (
        <g transform={`translate(${pull.handle.x} ${pull.handle.y}) scale(${1 / scale})`} pointerEvents="none">
          <text x={12} y={-8} className={styles.pullText} data-testid="handle-value">{pull.handle.property} {pull.text}</text>
        </g>
      )}
    </g>
  )
}

/** Each kind has a mark in its own texture's manner: dots for padding, slants for margin, crosses for gap. */
function Mark({ kind, axis }: { kind: Handle['kind']; axis: Handle['axis'] }) {
  const turn = axis === 'y' ? 'rotate(90)' : undefined
  switch (kind) {
    case 'padding': return <g transform={turn}><circle cy={-4} r={1.7} /><circle r={1.7} /><circle cy={4} r={1.7} /></g>
    case 'margin': return <path transform={turn} d="M-2.5 -2l5 -4M-2.5 2l5 -4M-2.5 6l5 -4" />
    case 'gap': return <path transform={turn} d="M-3 -3l6 6M3 -3l-6 6" />
    case 'size': return <path transform={turn} d="M-2 -6h4v12h-4" />
    case 'radius': return <path d="M-4 4a8 8 0 0 1 8 -8" />
    case 'offset': return <path transform={turn} d="M-5 0h10M2 -3l3 3l-3 3" />
    case 'type': return <path d="M-8 0h16" />
  }
}
