'use client'
import { useRef, type PointerEvent } from 'react'
import type { PropertyAim } from '../../../core/aim'
import { formatLength, parseLength, shadow } from '../../../core/value'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import styles from './Editors.module.css'
import { OnOff } from './OnOff'
import { PartField } from './PartField'
import { useListValue } from './useListValue'

const PAD = 40
/** Screen px of the pad for one px of the shadow. */
const STRETCH = 1.25

const isColor = (text: string) => CSS.supports('color', text)
const px = (text: string) => parseLength(text)?.number ?? 0

/** Shadows one under the other, the topmost first; the dot is the light's place, pulled. */
export function ShadowRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  const list = useListValue(row, aim, shadow, ',')
  const isText = row.property === 'text-shadow'
  const fresh: shadow.Shadow = {
    inset: false,
    x: '0',
    y: '2px',
    blur: '6px',
    spread: null,
    color: 'rgb(0 0 0 / 25%)',
    colorFirst: false,
  }
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.stack}>
        {list.items === null && <code className={styles.text}>{aim.written}</code>}
        {list.items?.map((s, i) => (
          <div key={i} className={styles.shadow} data-off={s.off || undefined} role="group" aria-label={`Shadow ${i + 1}`}>
            <Pad
              shadow={s}
              onShow={(x, y) => list.show(list.with(i, { x, y }))}
              onKeep={(x, y) => list.keep(list.with(i, { x, y }))}
              onCancel={list.cancel}
            />
            <div className={styles.parts}>
              <PartField label="Right" value={s.x} width={35} onKeep={(x) => list.keep(list.with(i, { x }))} />
              <PartField label="Down" value={s.y} width={35} onKeep={(y) => list.keep(list.with(i, { y }))} />
              <PartField label="Blur" value={s.blur ?? '0'} width={35} onKeep={(blur) => list.keep(list.with(i, { blur }))} />
              {!isText && (
                <PartField label="Spread" value={s.spread ?? '0'} width={35} onKeep={(spread) => list.keep(list.with(i, { spread }))} />
              )}
              <PartField
                label="Colour"
                value={s.color ?? 'currentcolor'}
                width={118}
                allows={isColor}
                onKeep={(color) => list.keep(list.with(i, { color }))}
              />
              {!isText && (
                <label className={styles.check}>
                  <input type="checkbox" checked={s.inset} onChange={(e) => list.keep(list.with(i, { inset: e.target.checked }))} />
                  inset
                </label>
              )}
              <OnOff what={`Shadow ${i + 1}`} off={s.off} onToggle={list.toggle && (() => list.toggle!(i))} />
              <button type="button" aria-label={`Remove shadow ${i + 1}`} onClick={() => list.keep(list.without(i))}>
                ×
              </button>
            </div>
          </div>
        ))}
        {list.items && (
          <button type="button" className={styles.add} onClick={() => list.add(fresh)}>
            Add a shadow
          </button>
        )}
      </div>
    </RowFrame>
  )
}

function Pad({
  shadow: s,
  onShow,
  onKeep,
  onCancel,
}: {
  shadow: shadow.Shadow
  onShow: (x: string, y: string) => void
  onKeep: (x: string, y: string) => void
  onCancel: () => void
}) {
  const at = useRef<{ x: string; y: string } | null>(null)
  const unit = (text: string) => parseLength(text)?.unit || 'px'
  // Shadows in other units are told in px of the usual font size: this is a picture.
  const per = (text: string) => (unit(text) === 'px' ? 1 : 16)
  const read = (e: PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect()
    const value = (offset: number, like: string) =>
      formatLength({ number: Math.round((offset - PAD / 2) / STRETCH) / per(like), unit: unit(like) })
    return { x: value(e.clientX - box.left, s.x), y: value(e.clientY - box.top, s.y) }
  }
  const scale = (text: string) => px(text) * per(text) * STRETCH
  const clamp = (v: number) => Math.max(-PAD / 2 + 3, Math.min(PAD / 2 - 3, v))
  return (
    <svg
      className={styles.pad}
      width={PAD}
      height={PAD}
      viewBox={`${-PAD / 2} ${-PAD / 2} ${PAD} ${PAD}`}
      role="img"
      aria-label="Where the shadow falls; pull to move it"
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => {
        if (!e.currentTarget.hasPointerCapture(e.pointerId)) return
        at.current = read(e)
        onShow(at.current.x, at.current.y)
      }}
      onPointerUp={() => {
        if (at.current) onKeep(at.current.x, at.current.y)
        at.current = null
      }}
      onPointerCancel={() => {
        at.current = null
        onCancel()
      }}
    >
      <rect x={-7} y={-7} width={14} height={14} className={styles.padBox} />
      <line x1={0} y1={0} x2={clamp(scale(s.x))} y2={clamp(scale(s.y))} className={styles.padLine} />
      <circle cx={clamp(scale(s.x))} cy={clamp(scale(s.y))} r={4} className={styles.padDot} />
    </svg>
  )
}
