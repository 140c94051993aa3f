'use client'
import { Button, Slider } from '@mui/material'
import type { Oklch } from 'culori'
import { useEffect, useRef, useState } from 'react'
import { formatColor, notationOf, parseColor, PLAIN_NOTATION, readTyped, toOklch } from '../../core/value'
import { useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './ColorChooser.module.css'

interface Props {
  readonly property: string
  /** As the page computes it. */
  readonly current: string
  readonly written: string | null
  readonly computed: Readonly<Record<string, string>>
  readonly onShow: (value: string) => void
  readonly onChoose: (value: string) => void
  /** Nothing is pointed at any more: the page as it was. */
  readonly onRest: () => void
  readonly onCancel: () => void
}

/** The system's own (EyeDropper API); not every browser has it. */
interface Dropper {
  open(): Promise<{ sRGBHex: string }>
}

/** A colour in each notation that the person can choose for all. */
const EXAMPLES = { hex: '#000', rgb: 'rgb(0 0 0)', hsl: 'hsl(0 0% 0%)', oklch: 'oklch(0% 0 0)' } as const

const CHANNELS = [
  { key: 'l', label: 'Lightness', most: 1, step: 0.005 },
  { key: 'c', label: 'Chroma', most: 0.37, step: 0.002 },
  { key: 'h', label: 'Hue', most: 360, step: 1 },
  { key: 'alpha', label: 'Alpha', most: 1, step: 0.01 },
] as const

/** The project's own colours first, then any other by lightness, chroma, hue and alpha (CSS Color 4 §9.4, Oklch). */
export function ColorChooser({ property, current, written, computed, onShow, onChoose, onRest, onCancel }: Props) {
  const tokens = useStudio((s) => s.scale.tokens).filter((t) => t.kind === 'color')
  const [color, setColor] = useState<Oklch>(() => ({
    ...toOklch(parseColor(current) ?? { mode: 'rgb', r: 0, g: 0, b: 0 }),
  }))
  const preferred = useStudio((s) => s.preferences.colors)
  const notation =
    preferred !== 'as the source' ? notationOf(EXAMPLES[preferred]) : written && parseColor(written) ? notationOf(written) : PLAIN_NOTATION
  const [typed, setTyped] = useState(written ?? current)
  const [why, setWhy] = useState<string | null>(null)
  const [touched, setTouched] = useState(false)

  const { session } = useSession()
  const [colors, setColors] = useState<readonly { color: string; count: number }[]>([])
  useEffect(() => {
    let current = true
    void session.selection.palette().then((p) => current && setColors((p?.colors ?? []).filter((c) => parseColor(c.color))))
    return () => {
      current = false
    }
  }, [session])
  const dropper = 'EyeDropper' in window ? new (window as unknown as { EyeDropper: new () => Dropper }).EyeDropper() : null

  const pointed = useRef<string | null>(null)
  const point = (value: string) => {
    if (pointed.current === value) return
    pointed.current = value
    onShow(value)
  }

  const move = (key: 'l' | 'c' | 'h' | 'alpha', value: number) => {
    const next = { ...color, [key]: value }
    setColor(next)
    setTouched(true)
    const text = formatColor(next, notation)
    setTyped(text)
    onShow(text)
  }
  const take = (text: string) => {
    setTyped(text)
    setTouched(true)
    setColor({ ...toOklch(parseColor(text)!) })
    onShow(text)
  }
  const enter = () => {
    const value = readTyped(typed, {
      property,
      lengths: false,
      current: null,
      supports: (text) => CSS.supports(property, text),
    })
    if (value.ok) onChoose(value.value)
    else setWhy(value.why)
  }
  return (
    <div className={styles.chooser}>
      {tokens.length > 0 && (
        <div
          className={styles.tokens}
          role="group"
          aria-label="Colours of the project"
          onPointerLeave={() => {
            pointed.current = null
            onRest()
          }}
        >
          {tokens.map((t) => (
            <button
              key={t.name}
              type="button"
              title={`${t.name}: ${t.text}`}
              aria-label={`${t.name}, ${t.text}`}
              aria-pressed={written === `var(${t.name})`}
              // Only a pointer that moves points: the chooser may open under one that rests.
              onPointerMove={(e) => (e.movementX !== 0 || e.movementY !== 0) && point(`var(${t.name})`)}
              onFocus={(e) => e.target.matches(':focus-visible') && point(`var(${t.name})`)}
              onClick={() => onChoose(`var(${t.name})`)}
            >
              <i style={{ background: computed[t.name] || t.text }} />
              <span>{t.name.replace(/^--(color-)?/, '')}</span>
            </button>
          ))}
        </div>
      )}
      {/* It has its room before it is filled: nothing may move under a pointer that is about to press. */}
      <div
        className={styles.page}
        role="group"
        aria-label="Colours on the page"
        onPointerLeave={() => {
          pointed.current = null
          onRest()
        }}
      >
        {colors.map(({ color: c, count }) => {
          const text = formatColor(parseColor(c)!, notation)
          return (
            <button
              key={c}
              type="button"
              title={`${text}, ${count} ${count === 1 ? 'element' : 'elements'}`}
              aria-label={`${text}, ${count} elements`}
              style={{ background: c }}
              onPointerMove={(e) => (e.movementX !== 0 || e.movementY !== 0) && point(text)}
              onFocus={(e) => e.target.matches(':focus-visible') && point(text)}
              onClick={() => onChoose(text)}
            />
          )
        })}
      </div>
      {CHANNELS.map(({ key, label, most, step }) => (
        <label key={key} className={styles.channel}>
          <span>{label}</span>
          <Slider
            size="small"
            min={0}
            max={most}
            step={step}
            value={color[key] ?? (key === 'alpha' ? 1 : 0)}
            aria-label={label}
            onChange={(_, v) => move(key, v as number)}
          />
        </label>
      ))}
      <div className={styles.typed}>
        <input
          type="text"
          aria-label="Colour value"
          aria-invalid={why !== null}
          spellCheck={false}
          value={typed}
          onChange={(e) => {
            setTyped(e.target.value)
            setWhy(null)
            setTouched(true)
          }}
          onKeyDown={(e) => {
            if (e.key !== 'Enter') return
            // The chooser closes and gives the focus back: the key must not press what then has it.
            e.preventDefault()
            enter()
          }}
        />
        {dropper && (
          <Button
            color="inherit"
            onClick={() =>
              void dropper.open().then(
                ({ sRGBHex }) => take(formatColor(parseColor(sRGBHex)!, notation)),
                () => {},
              )
            }
          >
            From the screen
          </Button>
        )}
        <Button onClick={onCancel} color="inherit">
          Cancel
        </Button>
        <Button variant="contained" disabled={!touched} onClick={enter}>
          Use it
        </Button>
      </div>
      {why && (
        <p role="alert" className={styles.why}>
          {why}
        </p>
      )}
    </div>
  )
}
