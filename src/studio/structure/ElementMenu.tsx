'use client'
import { Button, Divider, Menu, MenuItem } from '@mui/material'
import { useState } from 'react'
import { theDesk } from '../../desk'
import { copy } from '../keeping/copy'
import { getStudio, say, setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './ElementMenu.module.css'
import { currentAim } from '../session/landings'

/** The tag that was wrapped in last. */
let lastWrapper = 'div'

/** What can be done with the selected element as a whole. */
export function ElementMenu({ anchor, onClose }: { readonly anchor: HTMLElement; readonly onClose: () => void }) {
  const { session } = useSession()
  const { structure } = session
  const chosen = useStudio((s) => s.picked !== null && s.picked.report.info.source !== null)
  const isOfPage = useStudio((s) => s.picked?.report.made == null)
  const hidden = useStudio((s) => s.hidden.length)
  const [wrapper, setWrapper] = useState(lastWrapper)
  const about = async (of: (a: { readonly selector: string; readonly changed: string }) => string, what: string) => {
    const { picked } = getStudio()
    const matched = await session.selection.reach.selectorsOfMatched()
    const found = picked?.report.info.source ? await theDesk().exports.about(picked.report.info.source, matched) : null
    const text = found ? of(found) : ''
    if (text === '') say('info', `${what}: there is nothing to copy.`)
    else await copy(text, what)
  }
  const item = (label: string, keys: string, work: () => Promise<unknown>, can = true) => (
    <MenuItem
      disabled={!chosen || !can}
      onClick={() => {
        onClose()
        void work()
      }}
    >
      <span className={styles.label}>{label}</span>
      <kbd className={styles.keys}>{keys}</kbd>
    </MenuItem>
  )
  return (
    <Menu anchorEl={anchor} open onClose={onClose} slotProps={{ list: { dense: true, 'aria-label': 'Element' } }}>
      {item('Insert beside or inside…', 'I', () => Promise.resolve(setStudio({ inserting: true })))}
      {item('Draw a layout over it…', 'G', () => structure.beginBlockOut(), isOfPage)}
      {item('Its selector and classes…', 'N', () => Promise.resolve(setStudio({ naming: true })))}
      {item('Type its text', 'Enter', () => session.typing.begin())}
      {item('Duplicate', '2', () => structure.duplicate())}
      <Divider />
      {item('Move before its neighbour', 'Alt ↑', () => structure.step('back'))}
      {item('Move after its neighbour', 'Alt ↓', () => structure.step('on'))}
      {item('Move out of its parent', 'Alt ←', () => structure.step('out'))}
      {item('Move into the one before it', 'Alt →', () => structure.step('in'))}
      <Divider />
      <MenuItem disabled={!chosen} disableRipple onKeyDown={(e) => e.key !== 'Escape' && e.stopPropagation()} sx={{ gap: 1 }}>
        <label className={styles.wrap}>
          Wrap in{' '}
          <input
            type="text"
            aria-label="Tag and class to wrap in"
            spellCheck={false}
            value={wrapper}
            onChange={(e) => setWrapper(e.target.value)}
            onClick={(e) => e.stopPropagation()}
          />
        </label>
        <Button
          size="small"
          onClick={() => {
            onClose()
            lastWrapper = wrapper
            void structure.wrap(wrapper)
          }}
        >
          Wrap
        </Button>
      </MenuItem>
      {item('Take its own tags away', '', () => structure.unwrap())}
      <Divider />
      {item('Cut', 'Ctrl X', () => structure.cut())}
      {item('Copy', 'Ctrl C', () => structure.copy())}
      {item('Copy what was changed for it', '', () => about((a) => a.changed || '', 'Its changed declarations'))}
      {item('Copy the selector of its rule', '', () => copy(currentAim(getStudio().property)?.label ?? '', 'The selector'))}
      {item('Copy a selector of its own', '', () => about((a) => a.selector, 'Its selector'))}
      {item('Paste after it', 'Ctrl V', () => structure.paste())}
      {item('Back to what was saved', 'Z', () => session.edits.resetElement())}
      {item('Delete', 'Del', () => structure.remove())}
      <Divider />
      {item('Off the page for now', 'H', () => structure.hideForNow(true))}
      <MenuItem
        disabled={hidden === 0}
        onClick={() => {
          onClose()
          void structure.hideForNow(false)
        }}
      >
        Show again what is off the page ({hidden})
      </MenuItem>
      {item('hidden attribute on or off', '', () => structure.hide())}
      {item('display: none for this one', '', () => session.edits.commitAlone([['display', 'none']], 'hidden'))}
      {item('display: none where it is styled', '', () => session.edits.commit('display', 'none'))}
    </Menu>
  )
}
