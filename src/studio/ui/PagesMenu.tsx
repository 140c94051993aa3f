'use client'
import { Menu, MenuItem } from '@mui/material'
import { useStudio } from '../store'
import { useSession } from './SessionContext'

interface Props {
  readonly addresses: readonly string[]
  readonly current: string
  readonly anchor: HTMLElement
  readonly onClose: () => void
}

/** The pages of the project. */
export function PagesMenu({ addresses, current, anchor, onClose }: Props) {
  const { session } = useSession()
  const project = useStudio((s) => s.project)
  return (
    <Menu
      anchorEl={anchor}
      open
      onClose={onClose}
      slotProps={{ list: { dense: true, 'aria-label': 'Pages' }, paper: { sx: { maxHeight: 420 } } }}
    >
      {addresses.map((a) => (
        <MenuItem
          key={a}
          selected={a === current}
          onClick={() => {
            onClose()
            session.goTo(a)
          }}
        >
          <code>{a === '/' && project?.pages.includes('index.html') ? '/index.html' : a}</code>
        </MenuItem>
      ))}
    </Menu>
  )
}
