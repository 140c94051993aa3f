'use client'
import { lazy, Suspense, useEffect, useRef, type PointerEvent } from 'react'
import type { Box, Geometry, NodeInfo, NodeOrigin, Sides } from '../../agent/protocol'
import { useStudio } from '../store'
import styles from './Overlay.module.css'
import { useSession } from '../ui/SessionContext'
import { usePageShown } from '../ui/usePageShown'
import { DropMark } from './DropMark'
import { useDrag } from '../structure/useDrag'
import { useBoxSelect } from './useBoxSelect'

/** Where an element comes from, where that is no tag of the page's own file. */
const WHENCE: Readonly<Record<NodeOrigin, string | null>> = {
  source: null,
  component: 'of a component',
  script: 'made by a script',
  parser: 'added by the parser',
}

const OnChosen = lazy(() => import('./OnChosen').then((m) => ({ default: m.OnChosen })))
const HoverCard = lazy(() => import('./HoverCard').then((m) => ({ default: m.HoverCard })))
const BlockOutCanvas = lazy(() => import('../block-out/BlockOutCanvas').then((m) => ({ default: m.BlockOutCanvas })))

interface Props {
  /** Of the page's viewport, CSS px. */
  readonly width: number
  readonly height: number
  readonly scale: number
}

/** Frames and measures over the page, and the pointer in Pick. Nothing here changes the page. */
export function Overlay({ width, height, scale }: Props) {
  const { session } = useSession()
  const mode = useStudio((s) => s.mode)
  const frames = useStudio((s) => s.frames)
  const hover = useStudio((s) => s.hover)
  const facts = useStudio((s) => (s.preferences.hover === 'names and facts' ? s.hoverFacts : null))
  const picked = useStudio((s) => s.picked)
  const carrying = useStudio((s) => s.carrying)
  const measuring = useStudio((s) => s.measuring)
  const typing = useStudio((s) => s.typing)
  const drawing = useStudio((s) => s.drawing)
  const shown = usePageShown()
  const workable =
    mode === 'pick' && drawing === null && !typing && !carrying && !measuring && picked !== null && picked.report.info.source !== null
  // What a layout is drawn over stays selected.
  const picking = mode === 'pick' && drawing === null
  const place = useRef<HTMLDivElement>(null)
  const box = useBoxSelect(scale)

  // React's own wheel listener is passive, and the page below must not scroll twice.
  useEffect(() => {
    const element = place.current
    if (!element || mode !== 'pick') return
    const onWheel = (e: WheelEvent) => {
      e.preventDefault()
      const box = element.getBoundingClientRect()
      const unit = e.deltaMode === 1 ? 16 : e.deltaMode === 2 ? box.height : 1
      session.page.wheel((e.clientX - box.left) / scale, (e.clientY - box.top) / scale, e.deltaX * unit, e.deltaY * unit)
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [session, scale, mode])

  // By its label, what is chosen is taken to another place.
  const drag = useDrag((x, y) => {
    const corner = place.current!.getBoundingClientRect()
    return session.structure.dropAt((x - corner.left) / scale, (y - corner.top) / scale)
  })

  const at = (e: PointerEvent): [number, number] => {
    const box = e.currentTarget.getBoundingClientRect()
    return [(e.clientX - box.left) / scale, (e.clientY - box.top) / scale]
  }

  return (
    <div
      ref={place}
      className={styles.overlay}
      data-mode={mode}
      data-carrying={carrying || undefined}
      data-typing={typing || undefined}
      data-testid="overlay"
      onPointerDown={(e) => picking && box.down(e)}
      onPointerMove={(e) => picking && !box.move(e) && void session.selection.pointing.at(...at(e))}
      onPointerUp={box.up}
      onPointerCancel={box.cancel}
      onDoubleClick={() => workable && void session.typing.begin()}
      onPointerLeave={() => mode === 'pick' && session.selection.pointing.nothing()}
      onClick={(e) =>
        picking &&
        !box.tookClick() &&
        (carrying
          ? void session.carryAt(...at(e as unknown as PointerEvent))
          : void session.selection.pickAt(...at(e as unknown as PointerEvent), e.shiftKey))
      }
    >
      <svg width="100%" height="100%" viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="none">
        <Textures scale={scale} />
        <path d={outlines(frames.reach)} className={styles.reach} vectorEffect="non-scaling-stroke" />
        {frames.hover &&
          hover &&
          hover.node !== picked?.report.info.node &&
          frames.hover.boxes.map((box, i) => <Frame key={i} box={box} className={styles.hover} />)}
        {frames.containers.length > 0 && (
          <path d={outlines(frames.containers)} className={styles.edges} vectorEffect="non-scaling-stroke" />
        )}
        <path d={outlines(frames.others)} className={styles.other} vectorEffect="non-scaling-stroke" />
        {frames.picked && picked && <Chosen geometry={frames.picked} scale={scale} />}
        {shown && (
          <Suspense>
            <OnChosen workable={workable} width={width} height={height} scale={scale} />
          </Suspense>
        )}
      </svg>
      <DropMark scale={scale} width={width} />
      {drawing && frames.picked && (
        <Suspense>
          <BlockOutCanvas drawing={drawing} geometry={frames.picked} scale={scale} />
        </Suspense>
      )}
      {box.area && <div className={styles.drawn} style={box.area} />}
      {frames.picked && picked && (
        <Label info={picked.report.info} geometry={frames.picked} scale={scale} kind="picked" drag={workable ? drag : null} />
      )}
      {frames.hover && hover && hover.node !== picked?.report.info.node && (
        <Label info={hover} geometry={frames.hover} scale={scale} kind="hover" />
      )}
      {frames.hover && hover && facts && !carrying && hover.node !== picked?.report.info.node && (
        <Suspense>
          <HoverCard facts={facts} geometry={frames.hover} chosen={frames.picked} width={width} height={height} scale={scale} />
        </Suspense>
      )}
    </div>
  )
}

/** Boxes are distinguished by texture in one ink: padding fine dots, margin open diagonals, gap cross-hatching. */
function Textures({ scale }: { scale: number }) {
  const s = 1 / scale
  return (
    <defs>
      <pattern id="steady-padding" width={6 * s} height={6 * s} patternUnits="userSpaceOnUse">
        <circle cx={2 * s} cy={2 * s} r={0.9 * s} className={styles.texture} />
      </pattern>
      <pattern id="steady-margin" width={9 * s} height={9 * s} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1={0} x2={0} y1={0} y2={9 * s} strokeWidth={s} className={styles.hatch} />
      </pattern>
      <pattern id="steady-gap" width={6 * s} height={6 * s} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d={`M0 0V${6 * s}M0 0H${6 * s}`} strokeWidth={s} className={styles.hatch} fill="none" />
      </pattern>
    </defs>
  )
}

const matrix = (b: Box): string => `matrix(${b.a} ${b.b} ${b.c} ${b.d} ${b.cx} ${b.cy})`

function Frame({ box, className }: { box: Box; className: string }) {
  return (
    <rect
      transform={matrix(box)}
      x={-box.w / 2}
      y={-box.h / 2}
      width={box.w}
      height={box.h}
      className={className}
      vectorEffect="non-scaling-stroke"
    />
  )
}

/** Many boxes as one path: a page may have hundreds within reach, drawn again each frame of a pull. */
function outlines(boxes: readonly Box[]): string {
  let d = ''
  for (const { a, b, c, d: e, cx, cy, w, h } of boxes) {
    const corner = (x: number, y: number) => `${(a * x + c * y + cx).toFixed(2)} ${(b * x + e * y + cy).toFixed(2)}`
    d += `M${corner(-w / 2, -h / 2)}L${corner(w / 2, -h / 2)}L${corner(w / 2, h / 2)}L${corner(-w / 2, h / 2)}Z`
  }
  return d
}

/** The band between a rectangle and one that stands in or out of it by `sides`. */
function band(w: number, h: number, outer: Sides, inner: Sides): string {
  const rect = ([t, r, b, l]: Sides, clockwise: boolean) => {
    const [x0, y0, x1, y1] = [-w / 2 + l, -h / 2 + t, w / 2 - r, h / 2 - b]
    return clockwise ? `M${x0} ${y0}H${x1}V${y1}H${x0}Z` : `M${x0} ${y0}V${y1}H${x1}V${y0}Z`
  }
  return rect(outer, true) + rect(inner, false)
}

const minus = (s: Sides): Sides => s.map((n) => -Math.max(0, n)) as unknown as Sides
const plus = (a: Sides, b: Sides): Sides => a.map((n, i) => n + b[i]) as unknown as Sides

function Chosen({ geometry, scale }: { geometry: Geometry; scale: number }) {
  const single = geometry.boxes.length === 1
  const zero: Sides = [0, 0, 0, 0]
  const away = 3 / scale
  const arm = 12 / scale
  return (
    <>
      {geometry.boxes.map((box, i) => {
        const x = box.w / 2 + away
        const y = box.h / 2 + away
        const a = Math.min(arm, x, y)
        return (
          <g key={i} transform={matrix(box)} data-testid="picked-frame">
            {single && <path d={band(box.w, box.h, minus(geometry.margin), zero)} fill="url(#steady-margin)" />}
            {single && (
              <path d={band(box.w, box.h, geometry.border, plus(geometry.border, geometry.padding))} fill="url(#steady-padding)" />
            )}
            {single &&
              geometry.gaps.map((g, k) => (
                <rect key={k} x={g.x - box.w / 2} y={g.y - box.h / 2} width={g.w} height={g.h} fill="url(#steady-gap)" />
              ))}
            <rect x={-box.w / 2} y={-box.h / 2} width={box.w} height={box.h} className={styles.picked} data-testid="picked-box" />
            <rect x={-x} y={-y} width={2 * x} height={2 * y} className={styles.picked} />
            <path
              className={styles.bracket}
              d={`M${-x} ${-y + a}V${-y}H${-x + a}M${x - a} ${-y}H${x}V${-y + a}M${x} ${y - a}V${y}H${x - a}M${-x + a} ${y}H${-x}V${y - a}`}
            />
          </g>
        )
      })}
    </>
  )
}

/** Classes that the label of a frame names; lists of utilities are longer than that. */
const NAMED = 3

// Without its number among its like: beside a size that would read as a part of it.
const nameOf = ({ tag, id, classes }: NodeInfo): string =>
  tag +
  (id ? `#${id}` : '') +
  classes
    .slice(0, NAMED)
    .map((c) => `.${c}`)
    .join('') +
  (classes.length > NAMED ? ` +${classes.length - NAMED}` : '')

// A drag of the label draws no box; a click on it is one on what it covers.
const grip = (begin: (e: PointerEvent) => void) => ({
  'data-movable': true,
  title: 'Drag it to another place',
  onPointerDown: (e: PointerEvent) => {
    e.stopPropagation()
    begin(e)
  },
})

function Label({
  info,
  geometry,
  scale,
  kind,
  drag = null,
}: {
  info: NodeInfo
  geometry: Geometry
  scale: number
  kind: 'hover' | 'picked'
  drag?: ((e: PointerEvent) => void) | null
}) {
  const box = geometry.boxes[0]
  if (!box) return null
  const halfW = (Math.abs(box.a) * box.w + Math.abs(box.c) * box.h) / 2
  const halfH = (Math.abs(box.b) * box.w + Math.abs(box.d) * box.h) / 2
  const left = Math.max(0, (box.cx - halfW) * scale - 3)
  const top = (box.cy - halfH) * scale - 25
  return (
    <div
      className={`${styles.label} ${kind === 'picked' ? styles.labelPicked : ''}`}
      style={{ left, top: top < 0 ? Math.max(2, (box.cy + halfH) * scale + 6) : top }}
      data-testid={`${kind}-label`}
      {...(drag && grip(drag))}
    >
      {nameOf(info)}{' '}
      <span>
        {Math.round(box.w)} × {Math.round(box.h)}
      </span>
      {WHENCE[info.origin] !== null && <em>{WHENCE[info.origin]}</em>}
    </div>
  )
}
