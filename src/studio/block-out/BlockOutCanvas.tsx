'use client'
import { useState, type PointerEvent } from 'react'
import type { Geometry } from '../../agent/protocol'
import type { Cells } from '../../core/edit'
import { say, setStudio, type Drawing } from '../store'
import styles from './BlockOut.module.css'
import { cellAt, cellsBetween, guessRegion, isFree, tracksIn, type DrawnTrack } from './drawing'

/** An empty container is drawn on as though it were this high; CSS px. */
const LEAST_HEIGHT = 320

interface Stroke {
  readonly kind: 'draw' | 'move' | 'size'
  readonly region: number
  readonly from: { readonly column: number; readonly row: number }
  readonly cells: Cells
}

/** Column and row lines over the selected container, on which regions are drawn, moved and sized. */
export function BlockOutCanvas({ drawing, geometry, scale }: { drawing: Drawing; geometry: Geometry; scale: number }) {
  const [stroke, setStroke] = useState<Stroke | null>(null)
  const [box] = geometry.boxes
  if (!box) return null
  const [t, r, b, l] = geometry.padding.map((p, i) => p + geometry.border[i])
  const width = Math.max(40, box.w - l - r)
  const height = Math.max(LEAST_HEIGHT, box.h - t - b)
  const columns = tracksIn(drawing.columns, drawing.gap, width)
  const rows = tracksIn(
    Array.from({ length: drawing.rows }, () => '1fr'),
    drawing.gap,
    height,
  )

  const cell = (e: PointerEvent<HTMLElement>) => {
    const corner = e.currentTarget.closest('[data-canvas]')!.getBoundingClientRect()
    return {
      column: cellAt(columns, (e.clientX - corner.left) / scale),
      row: cellAt(rows, (e.clientY - corner.top) / scale),
    }
  }
  const begin = (e: PointerEvent<HTMLElement>, kind: Stroke['kind'], region: number) => {
    if (e.button !== 0) return
    e.stopPropagation()
    e.currentTarget.setPointerCapture(e.pointerId)
    const from = cell(e)
    setStroke({ kind, region, from, cells: region < 0 ? cellsBetween(from, from) : drawing.regions[region] })
    if (region !== drawing.current) setStudio({ drawing: { ...drawing, current: region } })
  }
  const move = (e: PointerEvent<HTMLElement>) => {
    e.stopPropagation()
    if (!stroke) return
    const to = cell(e)
    const own = drawing.regions[stroke.region]
    const by = { column: to.column - stroke.from.column, row: to.row - stroke.from.row }
    const cells =
      stroke.kind === 'draw'
        ? cellsBetween(stroke.from, to)
        : stroke.kind === 'size'
          ? cellsBetween(own, { column: Math.max(own.column, to.column), row: Math.max(own.row, to.row) })
          : {
              column: own.column + by.column,
              columnEnd: own.columnEnd + by.column,
              row: own.row + by.row,
              rowEnd: own.rowEnd + by.row,
            }
    setStroke({ ...stroke, cells })
  }
  const end = () => {
    if (!stroke) return
    setStroke(null)
    if (!isFree(stroke.cells, drawing, stroke.region)) {
      say('info', 'Regions do not share cells, and stay within the lines.')
      return
    }
    const { column, columnEnd, row, rowEnd } = stroke.cells
    const cells = { column, columnEnd, row, rowEnd }
    const regions =
      stroke.region < 0
        ? [...drawing.regions, guessRegion(cells, drawing)]
        : drawing.regions.map((x, i) => (i === stroke.region ? { ...x, ...cells } : x))
    setStudio({ drawing: { ...drawing, regions, current: stroke.region < 0 ? regions.length - 1 : stroke.region } })
  }
  const area = (c: Cells) => ({
    left: edge(columns, c.column) * scale,
    top: edge(rows, c.row) * scale,
    width: (endOf(columns, c.columnEnd) - edge(columns, c.column)) * scale,
    height: (endOf(rows, c.rowEnd) - edge(rows, c.row)) * scale,
  })
  const pointer = {
    onPointerMove: move,
    onPointerUp: end,
    onPointerCancel: () => setStroke(null),
    onClick: (e: { stopPropagation: () => void }) => e.stopPropagation(),
  }
  return (
    <div
      className={styles.canvas}
      data-canvas
      data-testid="block-out-canvas"
      style={{
        left: (box.cx - box.w / 2 + l) * scale,
        top: (box.cy - box.h / 2 + t) * scale,
        width: width * scale,
        height: height * scale,
      }}
      onPointerDown={(e) => begin(e, 'draw', -1)}
      onDoubleClick={(e) => e.stopPropagation()}
      {...pointer}
    >
      {rows.flatMap((_, y) =>
        columns.map((__, x) => (
          <div key={`${x} ${y}`} className={styles.cell} style={area({ column: x + 1, columnEnd: x + 2, row: y + 1, rowEnd: y + 2 })} />
        )),
      )}
      {drawing.regions.map((region, i) => (
        <div
          key={i}
          className={styles.region}
          data-current={i === drawing.current || undefined}
          style={area(stroke?.region === i && isFree(stroke.cells, drawing, i) ? stroke.cells : region)}
          onPointerDown={(e) => begin(e, 'move', i)}
          {...pointer}
        >
          <b>{region.name}</b>{' '}
          <code>{region.source === null ? `<${region.tag}>` : (drawing.children.find((c) => c.source === region.source)?.name ?? '')}</code>
          <span className={styles.sizer} title="Drag it to other lines" onPointerDown={(e) => begin(e, 'size', i)} {...pointer} />
        </div>
      ))}
      {stroke && stroke.kind === 'draw' && (
        <div className={styles.stroke} data-refused={!isFree(stroke.cells, drawing) || undefined} style={area(stroke.cells)} />
      )}
    </div>
  )
}

const edge = (tracks: readonly DrawnTrack[], line: number): number => tracks[Math.min(tracks.length, Math.max(1, line)) - 1]?.at ?? 0

const endOf = (tracks: readonly DrawnTrack[], line: number): number => {
  const track = tracks[Math.min(tracks.length, Math.max(2, line) - 1) - 1]
  return track ? track.at + track.size : 0
}
