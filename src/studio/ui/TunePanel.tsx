'use client'
import type { PropertyAim } from '../../core/aim'
import { whyNoEffect, type NoEffect } from '../../core/cascade'
import { ColorRow } from '../tune/ColorRow'
import { LengthRow } from '../tune/LengthRow'
import { NoEffectRow } from '../tune/NoEffectRow'
import { SECTIONS } from '../tune/properties'
import { useStudio, type Picked } from '../store'
import styles from './TunePanel.module.css'

function noEffectOf(property: string, aim: PropertyAim, picked: Picked): NoEffect | null {
  const { info, computed, parent, isSvg } = picked.report
  return whyNoEffect(property, { tag: info.tag, isSvg, computed, parent, value: aim.written ?? aim.computed })
}

/** The controls that change values, in the order of DESIGN section 3. */
export function TunePanel() {
  const picked = useStudio((s) => s.picked)
  if (!picked || picked.aims.size === 0) return null
  return (
    <div className={styles.tune} data-testid="tune" data-node={picked.report.info.node}>
      {SECTIONS.map((section) => (
        <section key={section.title} aria-label={section.title}>
          <h2>{section.title}<span>{summary(section.title, picked)}</span></h2>
          {section.rows.map((row) => {
            const aim = picked.aims.get(row.property)
            if (!aim) return null
            const noEffect = noEffectOf(row.property, aim, picked)
            if (noEffect) return <NoEffectRow key={row.property} row={row} aim={aim} noEffect={noEffect} />
            return row.kind === 'color'
              ? <ColorRow key={row.property} row={row} aim={aim} picked={picked} />
              : <LengthRow key={row.property} row={row} aim={aim} picked={picked} />
          })}
        </section>
      ))}
    </div>
  )
}

function summary(title: string, picked: Picked): string {
  const c = picked.report.computed
  switch (title) {
    case 'Space': return 'notches: the project’s lengths'
    case 'Type': return `${c['font-family']?.split(',')[0].replace(/["']/g, '') ?? ''} ${c['font-size'] ?? ''}`
    default: return ''
  }
}
