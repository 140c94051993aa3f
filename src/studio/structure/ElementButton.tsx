'use client'
import { Button } from '@mui/material'
import { Suspense, useState } from 'react'
import { useStudio } from '../store'
import { later } from '../ui/later'

const ElementMenu = later(() => import('./ElementMenu').then((m) => m.ElementMenu))

/** Opens the menu of the selected element. */
export function ElementButton() {
  const chosen = useStudio((s) => s.picked !== null && s.picked.report.info.source !== null)
  const hidden = useStudio((s) => s.hidden.length)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  return (
    <>
      <Button color="inherit" aria-haspopup="menu" disabled={!chosen && hidden === 0} onClick={(e) => setAnchor(e.currentTarget)}>
        Element ▾
      </Button>
      {anchor && (
        <Suspense>
          <ElementMenu anchor={anchor} onClose={() => setAnchor(null)} />
        </Suspense>
      )}
    </>
  )
}
