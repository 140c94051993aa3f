'use client'
import { useState } from 'react'
import { theDesk } from '../../desk'
import { getStudio, setStudio, useStudio } from '../store'
import { MANY_PATHS, PathSearch } from '../ui/PathSearch'
import styles from './Source.module.css'

const GIT_STATES = {
  changed: 'not committed',
  new: 'new in git',
  deleted: 'deleted',
  conflicted: 'in conflict in git',
} as const

/** The files that can be shown, those that were changed marked. */
export function FileChooser() {
  const project = useStudio((s) => s.project)
  const changed = useStudio((s) => s.ledger.changed)
  const spot = useStudio((s) => s.source)
  const drafts = useStudio((s) => s.drafts)
  const git = useStudio((s) => s.git)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const inGit = new Map(git?.changed.map((c) => [c.path, GIT_STATES[c.is]]))
  const files = project?.written ?? []
  // It opens at what is chosen: the element's tag, or the rule that counts most for it.
  const open = async (path: string) => {
    const { picked } = getStudio()
    const rules = picked?.report.matched[0]?.map(({ sheet, rule }) => ({ sheet, rule })) ?? []
    setStudio({ source: { path, line: await theDesk().places.lineIn(path, picked?.report.info.source ?? null, rules) } })
  }
  const noteOf = (f: string) => `${drafts.has(f) ? ' (text at fault)' : ''}${inGit.has(f) ? `, ${inGit.get(f)}` : ''}`
  if (files.length > MANY_PATHS)
    return (
      <>
        <button
          type="button"
          className={styles.files}
          aria-haspopup="dialog"
          aria-label="File in Source"
          data-testid="source-path"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          {spot ? `${changed.includes(spot.path) ? '● ' : ''}${spot.path}${noteOf(spot.path)}` : 'a file…'}{' '}
          <span aria-hidden="true">▾</span>
        </button>
        {anchor && (
          <PathSearch
            label="File in Source"
            paths={files}
            current={spot?.path ?? ''}
            note={noteOf}
            anchor={anchor}
            onChoose={(path) => void open(path)}
            onClose={() => setAnchor(null)}
          />
        )}
      </>
    )
  return (
    <select
      className={styles.files}
      aria-label="File in Source"
      data-testid="source-path"
      value={spot?.path ?? ''}
      onChange={(e) => void open(e.target.value)}
    >
      {!spot && <option value="">a file…</option>}
      {spot && !files.includes(spot.path) && <option value={spot.path}>{spot.path}</option>}
      {files.map((f) => (
        <option key={f} value={f}>
          {changed.includes(f) ? `● ${f}` : f}
          {noteOf(f)}
        </option>
      ))}
    </select>
  )
}
