'use client'
import { Button, Dialog, DialogContent, DialogTitle } from '@mui/material'
import { useState } from 'react'
import { theDesk, type HistoryRow } from '../../desk'
import { useReading } from '../session/useReading'
import { setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Keeping.module.css'

const time = (made: number): string =>
  new Date(made).toLocaleString(undefined, {
    month: 'short',
    day: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  })

const matches = (e: HistoryRow, query: string): boolean =>
  `${e.path} ${e.label} ${e.name} ${e.before ?? ''} ${e.after}`.toLowerCase().includes(query.trim().toLowerCase())

/** Every edit and save of the current take, the newest first: gone back to, brought back, looked at, or taken out. */
export function HistoryDialog() {
  const { session } = useSession()
  const [query, setQuery] = useState('')
  const history = useReading('history', () => theDesk().history.read())
  const name = useStudio((s) => s.project?.name)
  const close = () => setStudio({ dialog: null })
  const { keeping } = session
  const beside = (count: number, what: string) => setStudio({ beside: { point: { count }, name: what }, dialog: null })
  const shown = history?.edits.filter((e) => matches(e, query)).reverse() ?? []
  const savesAfter = (seq: number, next: number) => history?.saves.filter((s) => s.done >= seq && s.done < next) ?? []
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="history-title">
      <DialogTitle id="history-title">History of {name}</DialogTitle>
      <DialogContent>
        <input
          type="search"
          className={styles.search}
          aria-label="Find by file, element or value"
          placeholder="file, element, property or value"
          value={query}
          onChange={(e) => setQuery(e.target.value)}
        />
        <ol className={styles.history} aria-label="Edits and saves" data-testid="history">
          {shown.map((e, i) => (
            <li key={e.seq} data-off={!e.inForce || undefined} data-here={e.seq === history!.done || undefined}>
              {savesAfter(e.seq, i === 0 ? Infinity : shown[i - 1].seq).map((s) => (
                <p key={s.made} className={styles.saved}>
                  Saved {s.files.length} {s.files.length === 1 ? 'file' : 'files'}, {time(s.made)}
                  {s.leftOut.length > 0 && `, ${s.leftOut.length} left out`}
                </p>
              ))}
              <div className={styles.entry} data-testid="history-row">
                <span className={styles.seq}>{e.seq}</span>
                <span>
                  <b>{e.outside ? 'Someone else' : e.name}</b> {e.before !== null && <s>{e.before}</s>} {e.after}
                  <small>
                    {e.label} · {e.path}
                    {e.inForce && `:${e.line}`} · {time(e.made)}
                    {e.discardedBy !== null && ` · taken out by edit ${e.discardedBy}`}
                    {!e.inForce && ' · undone'}
                    {e.seq === history!.done && ' · here'}
                  </small>
                </span>
                <span className={styles.acts}>
                  {e.seq !== history!.done && (
                    <button type="button" onClick={() => void keeping.show(() => theDesk().history.goTo(e.seq))}>
                      Go here
                    </button>
                  )}
                  {e.inForce && e.seq !== history!.done && (
                    <button type="button" onClick={() => void keeping.show(() => theDesk().history.bringBack(e.seq))}>
                      Bring back
                    </button>
                  )}
                  {e.inForce && e.discardedBy === null && (
                    <button type="button" onClick={() => void keeping.show(() => theDesk().history.discard(e.seq))}>
                      Take out
                    </button>
                  )}
                  {e.inForce && (
                    <button type="button" onClick={() => beside(e.seq, `after edit ${e.seq}`)}>
                      Beside
                    </button>
                  )}
                </span>
              </div>
            </li>
          ))}
          {query === '' && history && history.edits.length > 0 && (
            <li data-here={history.done === 0 || undefined}>
              <div className={styles.entry}>
                <span className={styles.seq}>0</span>
                <span>
                  <b>The beginning</b>
                  <small>as it was brought in{history.done === 0 && ' · here'}</small>
                </span>
                <span className={styles.acts}>
                  {history.done !== 0 && (
                    <>
                      <button type="button" onClick={() => void keeping.show(() => theDesk().history.goTo(0))}>
                        Go here
                      </button>
                      <button type="button" onClick={() => void keeping.show(() => theDesk().history.bringBack(0))}>
                        Bring back
                      </button>
                      <button type="button" onClick={() => beside(0, 'as it was brought in')}>
                        Beside
                      </button>
                    </>
                  )}
                </span>
              </div>
            </li>
          )}
        </ol>
        {history && shown.length === 0 && (
          <p className={styles.hint}>{query ? 'No edit says that.' : 'No edit was made yet. Each one, and each save, will stand here.'}</p>
        )}
        <div className={styles.foot}>
          <Button color="inherit" onClick={close}>
            Close
          </Button>
        </div>
      </DialogContent>
    </Dialog>
  )
}
