'use client'
import { Popover } from '@mui/material'
import { useState, type ReactNode } from 'react'

interface Props {
  readonly label: string
  /** The control that it was opened from; null while it is closed. */
  readonly anchor: HTMLElement | null
  readonly onClose: () => void
  readonly side: 'left' | 'right'
  readonly children: () => ReactNode
}

/** What a row's control opens. Nothing of it is made while it is closed: a column of rows is drawn with each element that is picked. */
export function RowPopover({ label, anchor, onClose, side, children }: Props) {
  // It stays until it has faded out.
  const [shown, setShown] = useState<HTMLElement | null>(null)
  if (anchor && anchor !== shown) setShown(anchor)
  const at = anchor ?? shown
  return (
    at && (
      <Popover
        open={anchor !== null}
        anchorEl={at}
        onClose={onClose}
        anchorOrigin={{ vertical: 'bottom', horizontal: side }}
        transformOrigin={{ vertical: 'top', horizontal: side }}
        slotProps={{
          paper: { 'aria-label': label, role: 'dialog' } as object,
          transition: { onExited: () => setShown(null) },
        }}
      >
        {children()}
      </Popover>
    )
  )
}
