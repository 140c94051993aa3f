'use client'
import { useState } from 'react'
import type { ThemeToken } from '../../core/theme'
import { useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import { wholePage } from './whole-page'
import styles from './Theme.module.css'

/** All steps of a ramp pulled as one: lighter or darker, and more or less of their colour (CSS Color 4 §9.4, OKLCH). */
export function RampPuller({ steps }: { readonly steps: readonly ThemeToken[] }) {
  const { session } = useSession()
  const readOnly = useStudio((s) => s.ledger.readOnly !== null)
  const [lightness, setLightness] = useState('0')
  const [chroma, setChroma] = useState('100')
  const [by, times] = [Number(lightness) / 100, Number(chroma) / 100]
  const isPull = Number.isFinite(by) && Number.isFinite(times) && times >= 0 && (by !== 0 || times !== 1)
  return (
    <form
      className={styles.pull}
      onSubmit={(e) => {
        e.preventDefault()
        if (!isPull) return
        void wholePage(session)
          .pullRamp(steps, { lightness: by, chroma: times })
          .then((done) => {
            if (!done) return
            setLightness('0')
            setChroma('100')
          })
      }}
    >
      <label>
        Lightness by
        <input
          value={lightness}
          inputMode="decimal"
          aria-label="Lightness by, in per cent"
          onChange={(e) => setLightness(e.target.value)}
        />
        %
      </label>
      <label>
        chroma to
        <input value={chroma} inputMode="decimal" aria-label="Chroma to, in per cent" onChange={(e) => setChroma(e.target.value)} />%
      </label>
      <button type="submit" disabled={!isPull || readOnly}>
        Pull all {steps.length}
      </button>
    </form>
  )
}
