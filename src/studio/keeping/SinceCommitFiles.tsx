import type { ChangedLine } from '../../core/text'
import type { FileSinceCommit, SinceCommit } from '../../desk'
import { plural } from '../ui/plural'
import styles from './Keeping.module.css'

const SIGN: Readonly<Record<ChangedLine['kind'], string>> = { same: ' ', goes: '-', comes: '+' }

/** What is said of a file whose lines are not shown. */
const INSTEAD: Readonly<Record<FileSinceCommit['is'], string>> = {
  changed: 'Changed outside; no text of this project.',
  new: 'New outside; no text of this project.',
  deleted: 'Deleted outside; no text of this project.',
  conflicted: 'In conflict in git.',
}

function Lines({ lines }: { lines: readonly ChangedLine[] }) {
  const isOutside = (l: ChangedLine | undefined) => l !== undefined && l.kind !== 'same' && !l.isOurs
  return lines.map((l, i) => (
    <span key={i} data-kind={l.kind === 'same' ? undefined : l.kind} data-outside={isOutside(l) || undefined}>
      {`${SIGN[l.kind]} ${l.text.replace(/[\r\n]+$/, '')}`}
      {isOutside(l) && !isOutside(lines[i - 1]) && <small>changed outside</small>}
    </span>
  ))
}

function counts({ parts }: FileSinceCommit): string {
  const changed = (parts ?? []).flatMap((p) => p.lines).filter((l) => l.kind !== 'same')
  const ours = changed.filter((l) => l.isOurs).length
  const outside = changed.length - ours
  return [ours && `${plural(ours, 'line')} by your edits`, outside && `${plural(outside, 'line')} outside`].filter(Boolean).join(', ')
}

/** The files against the last commit, with our edits and changes from outside marked apart. */
export function SinceCommitFiles({ files, more, isToldApart }: SinceCommit) {
  return (
    <>
      {!isToldApart && (
        <p className={styles.warn}>
          Others changed what your edits wrote, so the two cannot be told apart here: all lines are shown as changed outside.
        </p>
      )}
      {files.map((f) => (
        <section key={f.path} aria-label={f.path}>
          <h4>
            {f.path} <small>{f.parts?.length ? counts(f) : INSTEAD[f.is]}</small>
          </h4>
          {f.parts && f.parts.length > 0 && (
            <pre className={styles.patch} tabIndex={0} aria-label="Changed lines">
              {f.parts.map((part) => [
                <i key={part.line}>{`line ${part.line}`}</i>,
                <Lines key={`lines ${part.line}`} lines={part.lines} />,
              ])}
            </pre>
          )}
        </section>
      ))}
      {more > 0 && <p className={styles.hint}>And {plural(more, 'more file')}.</p>}
      {files.length === 0 && <p className={styles.hint}>Nothing differs from the last commit.</p>}
    </>
  )
}
