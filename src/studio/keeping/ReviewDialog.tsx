'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useState } from 'react'
import { theDesk } from '../../desk'
import { useReading } from '../session/useReading'
import { download } from '../projects'
import { setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import styles from './Keeping.module.css'
import { draftMessage } from './commit-message'
import { PatchView } from './PatchView'
import { SinceCommitFiles } from './SinceCommitFiles'

/** What will be written, edit by edit and file by file; each edit can be left out of it. */
export function ReviewDialog() {
  const { session } = useSession()
  const ledger = useStudio((s) => s.ledger)
  const project = useStudio((s) => s.project)
  const drafts = useStudio((s) => s.drafts)
  const [leave, setLeave] = useState<readonly number[]>([])
  const [leaveOthers, setLeaveOthers] = useState<readonly string[]>([])
  const review = useReading(JSON.stringify([leave, leaveOthers]), () => theDesk().saving.review(leave, leaveOthers), true)
  const [busy, setBusy] = useState(false)
  const git = useReading('git', () => theDesk().git.state())
  const [against, setAgainst] = useState<'folder' | 'commit'>('folder')
  const isSinceCommit = against === 'commit' && !(review && review.dependents.length > 0)
  const since = useReading(JSON.stringify([leave, leaveOthers, isSinceCommit]), async () =>
    isSinceCommit ? theDesk().sinceCommit.files(leave, leaveOthers) : null,
  )
  const [written, setWritten] = useState<{ readonly message: string } | null>(null)
  const [branch, setBranch] = useState('')
  const close = () => setStudio({ dialog: null })
  const message = written?.message ?? draftMessage((review?.edits ?? []).filter((e) => !leave.includes(e.seq)))

  const commit = async () => {
    setBusy(true)
    const done = await session.keeping.commit(leave, leaveOthers, message, branch.trim() || null)
    setBusy(false)
    if (done) close()
  }
  const save = async () => {
    setBusy(true)
    const done = await session.keeping.save(leave, leaveOthers)
    setBusy(false)
    if (done) close()
  }
  const toggle = (seq: number) => setLeave(leave.includes(seq) ? leave.filter((n) => n !== seq) : [...leave, seq])
  const toggleOther = (path: string) =>
    setLeaveOthers(leaveOthers.includes(path) ? leaveOthers.filter((p) => p !== path) : [...leaveOthers, path])
  const blocked = review !== null && review.dependents.length > 0
  const name = project?.id ?? 'project'
  const count = review?.files.length ?? 0
  const filesOfSave = isSinceCommit ? [] : (review?.files ?? [])
  const shown = isSinceCommit ? since?.files : review?.files
  return (
    <Dialog open onClose={close} maxWidth="lg" fullWidth aria-labelledby="review-title">
      <DialogTitle id="review-title">
        {ledger.folder ? (
          <>
            What will be written to <code>{ledger.folder}</code>
          </>
        ) : (
          'What has changed'
        )}
      </DialogTitle>
      <DialogContent>
        <div className={styles.review}>
          <div>
            <h3>
              {plural(review?.edits.length ?? 0, 'edit')}
              {review && review.others.length > 0 && ` and ${plural(review.others.length, 'other change')}`}
            </h3>
            <ul className={styles.edits} aria-label="Edits">
              {review?.edits.map((e) => (
                <li key={e.seq} data-left={leave.includes(e.seq) || undefined} data-stands={review.dependents.includes(e.seq) || undefined}>
                  <label>
                    <input type="checkbox" checked={!leave.includes(e.seq)} onChange={() => toggle(e.seq)} />
                    <span>
                      <b>{e.name}</b> {e.before !== null && <s>{e.before}</s>} {e.after}
                      <small>
                        {e.label} · {e.path}:{e.line}
                      </small>
                    </span>
                  </label>
                </li>
              ))}
              {review?.others.map((o) => (
                <li key={o.path} data-left={leaveOthers.includes(o.path) || undefined}>
                  <label>
                    <input
                      type="checkbox"
                      disabled={o.isStoodOn}
                      checked={!leaveOthers.includes(o.path)}
                      onChange={() => toggleOther(o.path)}
                    />
                    <span>
                      <b>saved lines change back</b>, undone since or saved in another take
                      <small>
                        {o.path}
                        {o.isStoodOn && ' · edits above stand on it'}
                      </small>
                    </span>
                  </label>
                </li>
              ))}
            </ul>
            {drafts.size > 0 && (
              <p className={styles.hint}>Text at fault in {[...drafts.keys()].join(', ')} is no part of this: it waits in Source.</p>
            )}
            {blocked && (
              <p className={styles.warn} role="alert" data-testid="review-blocked">
                {review.dependents.map((n) => `edit ${n}`).join(', ')} {review.dependents.length === 1 ? 'stands' : 'stand'} on what is left
                out.{' '}
                <button type="button" onClick={() => setLeave([...new Set([...leave, ...review.dependents])])}>
                  Leave {review.dependents.length === 1 ? 'it' : 'them'} out too
                </button>
              </p>
            )}
          </div>
          <div data-testid="review-files">
            <div className={styles.compared}>
              <h3>{plural(shown?.length ?? 0, 'file')}</h3>
              {git && git.head !== null && (
                <label>
                  Compared with
                  <select value={against} onChange={(e) => setAgainst(e.target.value as typeof against)}>
                    <option value="folder">what the folder has</option>
                    <option value="commit">the last commit ({git.head})</option>
                  </select>
                </label>
              )}
            </div>
            {isSinceCommit && since && <SinceCommitFiles {...since} />}
            {filesOfSave.map((f) => (
              <section key={f.path} aria-label={f.path}>
                <h4>
                  {f.path}{' '}
                  {git?.changed.some((c) => c.path === f.path && c.is === 'changed') && <small>differs from the last commit already</small>}{' '}
                  {f.isNew && <small>{ledger.folder ? 'not in the folder yet' : 'new'}</small>}
                </h4>
                {f.patch && <PatchView patch={f.patch} />}
              </section>
            ))}
            {!isSinceCommit && !blocked && count === 0 && <p className={styles.hint}>Nothing differs from what was saved last.</p>}
          </div>
        </div>
        {git && (
          <fieldset className={styles.commit} data-testid="commit">
            <legend>
              Commit{' '}
              {git.branch === null ? (
                `at ${git.head}, on no branch`
              ) : (
                <>
                  on <b>{git.branch}</b>
                </>
              )}
            </legend>
            {git.refusal !== null ? (
              <p className={styles.warn}>{git.refusal}</p>
            ) : (
              <>
                <label>
                  Message
                  <textarea
                    rows={Math.min(8, Math.max(2, message.split('\n').length))}
                    value={message}
                    onChange={(e) => setWritten({ message: e.target.value })}
                    spellCheck
                  />
                </label>
                <label>
                  New branch
                  <input
                    type="text"
                    value={branch}
                    placeholder={git.branch === null ? 'needed here' : 'none'}
                    onChange={(e) => setBranch(e.target.value)}
                    spellCheck={false}
                  />
                </label>
                <p className={styles.hint}>
                  {git.commits > 0 && (
                    <>
                      <button
                        type="button"
                        onClick={() =>
                          void theDesk()
                            .git.series()
                            .then((s) => s && download(`${name}.mbox`, s, 'application/mbox'))
                        }
                      >
                        {plural(git.commits, 'commit')} since it was opened, as a patch series
                      </button>
                      .{' '}
                    </>
                  )}
                  Only what these edits change is committed; other changes in the same files, and what is staged, stay as they are.
                </p>
              </>
            )}
          </fieldset>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Close
        </Button>
        <Button
          color="inherit"
          disabled={blocked || count === 0}
          onClick={() =>
            void theDesk()
              .exports.patch(leave, leaveOthers)
              .then((p) => download(`${name}.patch`, p, 'text/x-diff'))
          }
        >
          As a patch
        </Button>
        <Button
          color="inherit"
          disabled={blocked}
          onClick={() =>
            void theDesk()
              .exports.zip(leave, leaveOthers)
              .then((z) => download(`${name}.zip`, z as BlobPart, 'application/zip'))
          }
        >
          As a zip
        </Button>
        {git && git.refusal === null && (
          <Button
            variant="outlined"
            disabled={busy || blocked || message.trim() === '' || (git.branch === null && branch.trim() === '')}
            onClick={() => void commit()}
            data-testid="commit-now"
          >
            {count ? 'Write and commit' : 'Commit'}
          </Button>
        )}
        {ledger.folder && (
          <Button variant="contained" disabled={busy || blocked || count === 0} onClick={() => void save()} data-testid="save-now">
            Write {count} {count === 1 ? 'file' : 'files'}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  )
}
