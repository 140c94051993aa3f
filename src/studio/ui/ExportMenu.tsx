'use client'
import { ListSubheader, Menu, MenuItem } from '@mui/material'
import { theDesk } from '../../desk'
import { copy } from '../keeping/copy'
import { download } from '../projects'
import { setStudio, useStudio } from '../store'

/** What of the project can be carried elsewhere. */
export function ExportMenu({ anchor, onClose }: { readonly anchor: HTMLElement; readonly onClose: () => void }) {
  const name = useStudio((s) => s.project?.id ?? 'project')
  const changed = useStudio((s) => s.ledger.changed)
  const give = (work: () => Promise<void>) => () => {
    onClose()
    void work()
  }
  return (
    <Menu anchorEl={anchor} open onClose={onClose} slotProps={{ list: { dense: true, 'aria-label': 'Save' } }}>
      <MenuItem onClick={give(async () => setStudio({ dialog: 'review' }))}>Look over the edits…</MenuItem>
      <MenuItem onClick={give(async () => download(`${name}.zip`, (await theDesk().exports.zip()) as BlobPart, 'application/zip'))}>
        The whole project as a zip
      </MenuItem>
      <MenuItem
        disabled={changed.length === 0}
        onClick={give(async () => download(`${name}.patch`, await theDesk().exports.patch(), 'text/x-diff'))}
      >
        The changes as a patch for <code>&nbsp;git apply</code>
      </MenuItem>
      <MenuItem
        disabled={changed.length === 0}
        onClick={give(async () => download(`${name}-changed.css`, await theDesk().exports.changedCss(true), 'text/css'))}
      >
        The changed rules as CSS, with their files
      </MenuItem>
      <MenuItem disabled={changed.length === 0} onClick={give(() => copy(theDesk().exports.changedCss(false), 'The changed rules'))}>
        Copy the changed rules alone
      </MenuItem>
      <MenuItem onClick={give(async () => setStudio({ dialog: 'wishes' }))}>Wishes (W)…</MenuItem>
      <MenuItem onClick={give(async () => setStudio({ dialog: 'note' }))}>A hand-off note…</MenuItem>
      {changed.length > 0 && <ListSubheader role="presentation">A changed file by itself</ListSubheader>}
      {changed.map((path) => (
        <MenuItem
          key={path}
          onClick={give(async () =>
            download(path.split('/').at(-1)!, (await theDesk().exports.file(path)) as BlobPart, 'application/octet-stream'),
          )}
        >
          <code>{path}</code>
        </MenuItem>
      ))}
    </Menu>
  )
}
