'use client'
import { Button, Dialog, DialogContent, DialogTitle } from '@mui/material'
import { useState } from 'react'
import { theDesk } from '../../desk'
import { useReading } from '../session/useReading'
import { SourceField } from '../element/SourceField'
import { setStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Keeping.module.css'
import { PatchView } from './PatchView'

const COLOR = /^diff --git a\/(.*) b\//

/** The takes of the project: named, switched between, compared, and edits of one brought into another. */
export function TakesDialog() {
  const { session } = useSession()
  const [round, setRound] = useState(0)
  const takes = useReading(`takes ${round}`, () => theDesk().takes.all())
  const [name, setName] = useState('')
  const [from, setFrom] = useState<'here' | 'saved'>('here')
  const [looked, setLooked] = useState<string | null>(null)
  const close = () => setStudio({ dialog: null })
  const again = () => setRound((n) => n + 1)
  const act = (work: () => Promise<unknown>) => void work().then(again)
  const { keeping } = session
  const others = takes?.list.filter((t) => t.id !== takes.current) ?? []
  const looking = others.find((t) => t.id === looked) ?? others[0] ?? null
  return (
    <Dialog open onClose={close} maxWidth="lg" fullWidth aria-labelledby="takes-title">
      <DialogTitle id="takes-title">Takes</DialogTitle>
      <DialogContent>
        <div className={styles.review}>
          <div>
            <ul className={styles.takes} aria-label="Takes">
              {takes?.list.map((t) => (
                <li key={t.id} data-here={t.id === takes.current || undefined} data-testid="take">
                  <SourceField
                    label={`Name of take ${t.name}`}
                    value={t.name}
                    quiet
                    allows={(n) => n.trim() !== ''}
                    onKeep={(n) => act(() => theDesk().takes.renameTake(t.id, n.trim()))}
                  />
                  <small>
                    {t.edits} {t.edits === 1 ? 'edit' : 'edits'}
                    {t.id === takes.current && ', current'}
                  </small>
                  {t.id !== takes.current && (
                    <span className={styles.acts}>
                      <button type="button" onClick={() => act(() => keeping.switchTo(t.id))}>
                        Switch to it
                      </button>
                      <button type="button" onClick={() => setLooked(t.id)}>
                        Compare
                      </button>
                      <button type="button" onClick={() => setStudio({ beside: { point: { take: t.id }, name: t.name }, dialog: null })}>
                        Beside
                      </button>
                      <button type="button" onClick={() => act(() => theDesk().takes.dropTakes([t.id]))}>
                        Drop
                      </button>
                    </span>
                  )}
                </li>
              ))}
            </ul>
            <form
              className={styles.newTake}
              onSubmit={(e) => {
                e.preventDefault()
                if (name.trim()) act(() => keeping.show(() => theDesk().takes.newTake(name.trim(), from)).then(() => setName('')))
              }}
            >
              <input
                aria-label="Name of a new take"
                placeholder="name of another take"
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
              <select aria-label="It begins with" value={from} onChange={(e) => setFrom(e.target.value as 'here' | 'saved')}>
                <option value="here">with the edits of the current take</option>
                <option value="saved">as saved</option>
              </select>
              <Button type="submit" variant="outlined" disabled={name.trim() === ''}>
                Begin it
              </Button>
            </form>
            {others.length > 0 && (
              <p className={styles.hint}>
                K switches to the next take on the same spot.{' '}
                <button type="button" onClick={() => act(() => theDesk().takes.dropTakes(others.map((t) => t.id)))}>
                  Make the current take the project: drop the others
                </button>
              </p>
            )}
          </div>
          {looking && <Compared key={`${looking.id} ${takes!.current} ${round}`} id={looking.id} name={looking.name} onBrought={again} />}
        </div>
        <div className={styles.foot}>
          <Button color="inherit" onClick={close}>
            Close
          </Button>
        </div>
      </DialogContent>
    </Dialog>
  )
}

/** What differs from another take to the current one, and its edits, to be brought over. */
function Compared({ id, name, onBrought }: { id: string; name: string; onBrought: () => void }) {
  const { session } = useSession()
  const patch = useReading(`difference ${id}`, () => theDesk().points.difference({ take: id }))
  const edits = useReading(`only ${id}`, () => theDesk().takes.editsOnlyIn(id)) ?? []
  const [chosen, setChosen] = useState<readonly number[]>([])
  const files = (patch ?? '').split(/(?=^diff --git )/m).filter(Boolean)
  const bring = () => void session.keeping.show(() => theDesk().takes.bringFrom(id, chosen)).then((done) => done && onBrought())
  return (
    <div data-testid="takes-difference">
      <h3>From {name} to the current take</h3>
      {files.map((f) => (
        <section key={f}>
          <h4>{COLOR.exec(f)?.[1] ?? ''}</h4>
          <PatchView patch={f} />
        </section>
      ))}
      {patch !== null && files.length === 0 && <p className={styles.hint}>They say the same.</p>}
      {edits.length > 0 && <h3>Edits that only {name} has</h3>}
      <ul className={styles.edits} aria-label={`Edits of ${name}`}>
        {edits.map((e) => (
          <li key={e.seq}>
            <label>
              <input
                type="checkbox"
                checked={chosen.includes(e.seq)}
                onChange={() => setChosen(chosen.includes(e.seq) ? chosen.filter((n) => n !== e.seq) : [...chosen, e.seq])}
              />
              <span>
                <b>{e.name}</b> {e.before !== null && <s>{e.before}</s>} {e.after}
                <small>
                  {e.label} · {e.path}
                </small>
              </span>
            </label>
          </li>
        ))}
      </ul>
      {edits.length > 0 && (
        <Button variant="outlined" disabled={chosen.length === 0} onClick={bring}>
          Bring {chosen.length || 'them'} into the current take
        </Button>
      )}
    </div>
  )
}
