'use client'
import { setStudio, type StudioState } from '../store'
import { SidePanel } from '../ui/SidePanel'
import { Findings } from './Findings'
import { InUse } from './InUse'
import { Picture } from './Picture'
import { ThemeBoard } from './ThemeBoard'
import { Unused } from './Unused'
import { Weight } from './Weight'
import styles from './WholePanel.module.css'

const VIEWS: readonly (readonly [of: NonNullable<StudioState['whole']>, words: string])[] = [
  ['findings', 'Findings'],
  ['in use', 'In use'],
  ['theme', 'Theme'],
  ['weight', 'Weight'],
  ['unused', 'Unused'],
  ['picture', 'Picture'],
]

/** The page as a whole, over its left edge: what it lacks, and what it shows. */
export function WholePanel({ of }: { readonly of: NonNullable<StudioState['whole']> }) {
  return (
    <SidePanel title="Whole page" said="" testId="whole-page" onClose={() => setStudio({ whole: null })}>
      <div className={styles.tabs} role="tablist" aria-label="Of the whole page">
        {VIEWS.map(([view, words]) => (
          <button
            key={view}
            type="button"
            role="tab"
            id={`whole-${words}`}
            aria-selected={view === of}
            aria-controls="whole-view"
            onClick={() => setStudio({ whole: view })}
          >
            {words}
          </button>
        ))}
      </div>
      <div className={styles.view} id="whole-view" role="tabpanel" aria-labelledby={`whole-${VIEWS.find(([view]) => view === of)![1]}`}>
        {of === 'findings' ? (
          <Findings />
        ) : of === 'in use' ? (
          <InUse />
        ) : of === 'theme' ? (
          <ThemeBoard />
        ) : of === 'weight' ? (
          <Weight />
        ) : of === 'unused' ? (
          <Unused />
        ) : (
          <Picture />
        )}
      </div>
    </SidePanel>
  )
}
