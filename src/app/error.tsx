'use client'
import { Button } from '@mui/material'

/** What shows where the interface itself failed: nothing that was stored depends on it. */
export default function Fault({ error }: { error: Error }) {
  return (
    <main role="alert" data-testid="own-fault" style={{ maxWidth: 560, padding: '64px 24px' }}>
      <h1 style={{ margin: '0 0 8px', fontSize: 20 }}>Steady Brush stopped at a fault of its own</h1>
      <p>
        Each edit that stood in the ledger is stored in this browser, and your folder is as you saved it last. Open it again to go on from
        there.
      </p>
      <p>
        <code>{error.message}</code>
      </p>
      <Button variant="contained" onClick={() => location.reload()}>
        Open it again
      </Button>
    </main>
  )
}
