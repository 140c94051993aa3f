import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useEffect, useState } from 'react'
import { folderOf, type DevReport } from '../../folder'
import { db } from '../projects'
import { setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Keeping.module.css'

/** How often what it printed is asked for; ms. */
const ASK = 1500

// A place in a file as programs print it: a path, a line, and often a column.
const PLACE = /((?:[\w@.-]*\/)*[\w@.-]+\.(?:[jt]sx?|mjs|css|html|json|vue|svelte|astro)):(\d+)(?::\d+)?/g

/** A printed line; places in files of the project lead to Source. */
function Printed({ line, files }: { line: string; files: ReadonlySet<string> }) {
  const parts: (string | { readonly text: string; readonly path: string; readonly line: number })[] = []
  let at = 0
  for (const m of line.matchAll(PLACE)) {
    const path = [...files].find((f) => m[1] === f || m[1].endsWith(`/${f}`))
    if (path === undefined) continue
    parts.push(line.slice(at, m.index), { text: m[0], path, line: Number(m[2]) })
    at = m.index + m[0].length
  }
  parts.push(line.slice(at))
  return (
    <span>
      {parts.map((p, i) =>
        typeof p === 'string' ? (
          p
        ) : (
          <button key={i} type="button" onClick={() => setStudio({ source: { path: p.path, line: p.line }, dialog: null })}>
            {p.text}
          </button>
        ),
      )}
    </span>
  )
}

function stateOf({ state, project }: DevReport): string {
  switch (state.is) {
    case 'running':
      return state.isOurs
        ? `It runs at ${state.address}, from the project’s own packages and settings.`
        : `It runs at ${state.address}, and was started by you.`
    case 'starting':
      return 'It is being started.'
    case 'failed':
      return `It does not run: ${state.why}`
    case 'off':
      return project?.canStart ? 'It was not started.' : 'Steady Brush cannot start it.'
  }
}

/** The development server of the project: whether it runs, and what it printed. */
export function ServerDialog() {
  const { session } = useSession()
  const project = useStudio((s) => s.project)
  const name = useStudio((s) => s.server)
  const [report, setReport] = useState<DevReport | null>(null)
  const id = project?.id ?? ''
  useEffect(() => {
    let current = true
    const ask = async () => {
      const place = await db.folders.get(id)
      const now = place
        ? await folderOf(place)
            .development?.report()
            .catch(() => null)
        : null
      if (current && now) setReport(now)
    }
    void ask()
    const timer = setInterval(() => void ask(), ASK)
    return () => {
      current = false
      clearInterval(timer)
    }
  }, [id])
  const files = new Set(project?.written ?? [])
  const close = () => setStudio({ dialog: null })
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="server-title">
      <DialogTitle id="server-title">{name}</DialogTitle>
      <DialogContent>
        <p className={styles.hint} data-testid="server-state">
          {report ? stateOf(report) : 'Asking…'}
        </p>
        {report && report.output.length > 0 ? (
          <pre className={`${styles.patch} ${styles.printed}`} tabIndex={0} aria-label="What it printed">
            {report.output.map((line, i) => (
              <Printed key={i} line={line} files={files} />
            ))}
          </pre>
        ) : (
          <p className={styles.hint}>It has printed nothing.</p>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Close
        </Button>
        <Button
          variant="outlined"
          onClick={() => {
            close()
            void session.page.restart()
          }}
        >
          Start it again
        </Button>
      </DialogActions>
    </Dialog>
  )
}
