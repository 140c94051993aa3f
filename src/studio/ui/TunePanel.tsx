'use client'
import { ColorRow } from '../tune/ColorRow'
import { LengthRow } from '../tune/LengthRow'
import { NoEffectRow } from '../tune/NoEffectRow'
import { SECTIONS } from '../tune/properties'
import { useStudio, type Picked } from '../store'
import styles from './TunePanel.module.css'

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
            if (aim.noEffect) return <NoEffectRow key={row.property} row={row} aim={aim} noEffect={aim.noEffect} />
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
