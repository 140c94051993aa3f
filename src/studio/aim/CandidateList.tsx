'use client'
import { placeText } from '../../core/text'
import type { PropertyAim } from '../../core/aim'
import { reachOf, uncountedWords } from '../session/chosen-aim'
import { setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './AimPanel.module.css'

/** Every place an edit of the property could land; Alt with a number chooses one too. */
export function CandidateList({ aim, index, because }: { aim: PropertyAim; index: number; because: string }) {
  const { session } = useSession()
  const fresh = useStudio((s) => s.fresh)
  return (
    <>
      {because && <p className={styles.because}>{because}</p>}
      <div role="radiogroup" aria-label={`Where ${aim.property} can be written`} className={styles.list}>
        {aim.candidates.map((c, i) => (
          <button
            key={i}
            type="button"
            role="radio"
            aria-checked={i === index}
            onClick={() => session.selection.chooseAim(aim.property, i)}
            data-testid="candidate"
            data-kind={c.ref.kind}
          >
            <span className={styles.selector}>
              {c.label}
              {c.of && ` in ${c.of}`}
            </span>
            <span className={styles.where}>
              {c.near ? `${c.path.split('/').at(-1)}, behind ${c.near}` : placeText({ path: c.path.split('/').at(-1)!, line: c.line })}
            </span>
            <span className={styles.why}>
              {i < 9 && <kbd>Alt {i + 1}</kbd>} {c.reason}; reach {reachOf(c, fresh) ?? uncountedWords(c.ref)}
              {c.conditions.length ? `; ${c.conditions.join(' ')}` : ''}
              {c.wins ? '' : `; would lose to ${c.losesTo}`}
            </span>
          </button>
        ))}
      </div>
      <button type="button" className={styles.more} onClick={() => setStudio({ composing: true })}>
        <kbd>+</kbd> a new rule: any selector, sheet and condition
      </button>
    </>
  )
}
