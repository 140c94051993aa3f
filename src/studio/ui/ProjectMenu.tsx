'use client'
import { ListSubheader, Menu, MenuItem } from '@mui/material'
import { useLiveQuery } from 'dexie-react-hooks'
import { addDemo, db } from '../projects'
import { setStudio, useStudio } from '../store'
import { useImport } from './ImportContext'
import { useSession } from './SessionContext'

/** Other projects, and what there is of the open one beside its page. */
export function ProjectMenu({ anchor, onClose }: { readonly anchor: HTMLElement; readonly onClose: () => void }) {
  const { openProject } = useSession()
  const { chooseFolder, chooseZip, linkFolder } = useImport()
  const current = useStudio((s) => s.project?.id)
  const server = useStudio((s) => s.server)
  const projects = useLiveQuery(() => db.projects.orderBy('opened').reverse().toArray()) ?? []
  const then = (work: () => void) => () => {
    onClose()
    work()
  }
  return (
    <Menu anchorEl={anchor} open onClose={onClose} slotProps={{ list: { dense: true, 'aria-label': 'Projects' } }}>
      <MenuItem onClick={then(() => setStudio({ dialog: 'projects' }))}>All projects…</MenuItem>
      <MenuItem onClick={then(() => setStudio({ dialog: 'history' }))}>History of this one…</MenuItem>
      <MenuItem onClick={then(() => setStudio({ dialog: 'takes' }))}>Takes of this one…</MenuItem>
      {server !== null && <MenuItem onClick={then(() => setStudio({ dialog: 'server' }))}>Its development server…</MenuItem>}
      <MenuItem onClick={then(() => setStudio({ dialog: 'preferences' }))}>Preferences…</MenuItem>
      <ListSubheader role="presentation">Open</ListSubheader>
      {projects.slice(0, 6).map((p) => (
        <MenuItem key={p.id} selected={p.id === current} onClick={then(() => openProject(p.id))}>
          {p.name}
        </MenuItem>
      ))}
      <ListSubheader role="presentation">Bring your own</ListSubheader>
      {linkFolder && <MenuItem onClick={then(linkFolder)}>A folder, to save to it…</MenuItem>}
      <MenuItem onClick={then(chooseFolder)}>A copy of a folder…</MenuItem>
      <MenuItem onClick={then(chooseZip)}>A zip…</MenuItem>
      <ListSubheader role="presentation">Samples, fresh</ListSubheader>
      <MenuItem onClick={then(() => void addDemo('brinewick').then(openProject))}>Brinewick Ferry, in rules</MenuItem>
      <MenuItem onClick={then(() => void addDemo('brinewick-crew').then(openProject))}>Brinewick crew, in utility classes</MenuItem>
    </Menu>
  )
}
