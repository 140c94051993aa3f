'use client'
import { Button, Dialog, DialogContent, DialogTitle } from '@mui/material'
import { useLiveQuery } from 'dexie-react-hooks'
import { useRef, useState } from 'react'
import { CHOICES, DEFAULTS, loadPreferences, readPreferences, storePreferences, type Preferences } from '../../storage/preferences'
import { db, download } from '../projects'
import { say, setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Keeping.module.css'

const WORDS: { readonly [K in keyof Preferences]: readonly [name: string, about: string] } = {
  theme: ['Theme', 'of this window; the page has its own'],
  motion: ['Motion', 'in this window'],
  units: ['Lengths that are pulled', 'the unit that is written'],
  colors: ['Colours that are chosen', 'the notation that is written'],
  newRules: ['New rules', 'where they stand in their sheet'],
  aim: ['An edit lands first at', 'where it wins there; else as it is ranked'],
  important: ['!important', 'is added by itself'],
  hover: ['An element that is pointed at', 'shows'],
  outline: ['Outline', 'when a project is opened'],
  strip: ['Ledger and Source', 'when a project is opened'],
  unsaved: ['Edits not saved yet', 'are kept'],
  save: ['Saving to a folder', 'edits are written'],
}

/** The person's choices, for all projects or for the one that is open. */
export function PreferencesDialog() {
  const { session } = useSession()
  const project = useStudio((s) => s.project)
  const [scope, setScope] = useState<'all' | 'own'>('all')
  const file = useRef<HTMLInputElement>(null)
  const stored = useLiveQuery(() => loadPreferences(db, project?.id ?? ''), [project?.id])
  const values = stored?.[scope] ?? {}
  const close = () => setStudio({ dialog: null })
  const keep = async (next: Partial<Preferences>) => {
    await storePreferences(db, scope === 'all' ? '' : project!.id, next)
    await session.readPreferences()
  }
  const set = (key: keyof Preferences, value: string) => {
    const { [key]: _, ...rest } = values
    void keep(value === '' ? rest : ({ ...rest, [key]: value } as Partial<Preferences>))
  }
  const bringIn = async (chosen: File) => {
    try {
      const { values: read, damaged } = await readPreferences(JSON.parse(await chosen.text()))
      await keep(read)
      say(
        damaged.length ? 'error' : 'info',
        damaged.length
          ? `${chosen.name}: ${damaged.join(', ')} could not be read and ${damaged.length === 1 ? 'was' : 'were'} left as before; the rest was imported.`
          : `${chosen.name} was imported.`,
      )
    } catch (error) {
      say(
        'error',
        `${chosen.name} is no file of preferences (${error instanceof Error ? error.message : String(error)}). Nothing was changed.`,
      )
    }
  }
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="preferences-title">
      <DialogTitle id="preferences-title">Preferences</DialogTitle>
      <DialogContent>
        <div className={styles.choice} role="radiogroup" aria-label="Which projects they are for">
          <label>
            <input type="radio" name="scope" checked={scope === 'all'} onChange={() => setScope('all')} /> For all projects
          </label>
          <label>
            <input type="radio" name="scope" checked={scope === 'own'} disabled={!project} onChange={() => setScope('own')} /> For{' '}
            {project?.name ?? 'this one'} alone
          </label>
        </div>
        <div className={styles.prefs}>
          {(Object.keys(CHOICES) as (keyof Preferences)[]).map((key) => {
            const above = scope === 'own' ? (stored?.all[key] ?? DEFAULTS[key]) : null
            return (
              <label key={key}>
                <span>
                  {WORDS[key][0]}
                  <small>{WORDS[key][1]}</small>
                </span>
                <select value={values[key] ?? (above === null ? DEFAULTS[key] : '')} onChange={(e) => set(key, e.target.value)}>
                  {above !== null && <option value="">as for all: {above}</option>}
                  {CHOICES[key].map((c) => (
                    <option key={c} value={c}>
                      {c}
                    </option>
                  ))}
                </select>
              </label>
            )
          })}
        </div>
        <div className={styles.foot}>
          <Button
            color="inherit"
            onClick={() => download('steady-brush-preferences.json', `${JSON.stringify(values, null, 2)}\n`, 'application/json')}
          >
            To a file
          </Button>
          <Button color="inherit" onClick={() => file.current?.click()}>
            From a file…
          </Button>
          <Button color="inherit" onClick={close}>
            Close
          </Button>
          <input
            ref={file}
            type="file"
            hidden
            accept="application/json,.json"
            data-testid="preferences-input"
            onChange={(e) => {
              const chosen = e.target.files?.[0]
              e.target.value = ''
              if (chosen) void bringIn(chosen)
            }}
          />
        </div>
      </DialogContent>
    </Dialog>
  )
}
