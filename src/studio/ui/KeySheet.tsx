'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { setStudio, useStudio } from '../store'
import styles from './KeySheet.module.css'
import { SHORTCUTS } from './shortcuts'

/** All keys at a glance, with what the pointer does with keys held. */
export function KeySheet() {
  const open = useStudio((s) => s.keys)
  const close = () => setStudio({ keys: false })
  const groups = [...new Set(SHORTCUTS.map((s) => s.group))]
  // The nine numbered places are one line.
  const shown = SHORTCUTS.filter((s) => !s.alt || !/^[2-9]$/.test(s.key))
  return (
    <Dialog open={open} onClose={close} maxWidth="md" aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys</DialogTitle>
      {/* It can be taller than the window, and then the arrow keys have to scroll it. */}
      <DialogContent tabIndex={0}>
        <div className={styles.groups}>
          {groups.map((group) => (
            <section key={group}>
              <h3>{group}</h3>
              <dl>
                {shown
                  .filter((s) => s.group === group)
                  .map((s) => (
                    <div key={s.shown}>
                      <dt>{s.key === '1' ? 'Alt 1 … 9' : s.shown}</dt>
                      <dd>{s.key === '1' ? 'One of the places in the list' : s.does}</dd>
                    </div>
                  ))}
                {group === 'Choosing' && (
                  <>
                    <div>
                      <dt>Shift click</dt>
                      <dd>Add an element, or take it out</dd>
                    </div>
                    <div>
                      <dt>Shift drag</dt>
                      <dd>All that stand in a box</dd>
                    </div>
                  </>
                )}
                {group === 'Editing' && (
                  <>
                    <div>
                      <dt>Double click</dt>
                      <dd>Type the text on the page</dd>
                    </div>
                    <div>
                      <dt>Label, dragged</dt>
                      <dd>Take it to another place</dd>
                    </div>
                    <div>
                      <dt>Ctrl Z</dt>
                      <dd>Undo</dd>
                    </div>
                    <div>
                      <dt>Ctrl Shift Z</dt>
                      <dd>Redo</dd>
                    </div>
                    <div>
                      <dt>Ctrl C, X, V</dt>
                      <dd>Copy, cut, paste after</dd>
                    </div>
                    <div>
                      <dt>Handle + Alt</dt>
                      <dd>The other side too</dd>
                    </div>
                    <div>
                      <dt>Handle + Shift</dt>
                      <dd>All sides</dd>
                    </div>
                    <div>
                      <dt>Handle + Ctrl</dt>
                      <dd>Past the notches</dd>
                    </div>
                    <div>
                      <dt>Tape + Shift, Alt</dt>
                      <dd>Coarse, fine</dd>
                    </div>
                    <div>
                      <dt>Tape, N</dt>
                      <dd>The nearest step</dd>
                    </div>
                    <div>
                      <dt>Class ← →, Space</dt>
                      <dd>Walk its family, switch it off</dd>
                    </div>
                  </>
                )}
              </dl>
            </section>
          ))}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
