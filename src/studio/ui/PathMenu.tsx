'use client'
import { MenuItem, MenuList, Popover, TextField } from '@mui/material'
import fuzzysort from 'fuzzysort'
import { useMemo, useRef, useState } from 'react'
import styles from './PathMenu.module.css'

const SHOWN = 60

interface Props {
  readonly label: string
  readonly paths: readonly string[]
  /** The one that is shown now. */
  readonly current: string
  /** What is said beside a path, if anything. */
  readonly note?: (path: string) => string
  readonly anchor: HTMLElement
  readonly onChoose: (path: string) => void
  readonly onClose: () => void
}

/** A choice among many paths: those that fit best what is typed. */
export function PathMenu({ label, paths, current, note, anchor, onChoose, onClose }: Props) {
  const [typed, setTyped] = useState('')
  const list = useRef<HTMLUListElement>(null)
  const found = useMemo(
    () => (typed.trim() ? fuzzysort.go(typed.trim(), paths, { limit: SHOWN }).map((r) => r.target) : paths.slice(0, SHOWN)),
    [typed, paths],
  )
  const choose = (path: string) => {
    onClose()
    onChoose(path)
  }
  return (
    <Popover open anchorEl={anchor} onClose={onClose} anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}>
      <div className={styles.menu}>
        <TextField
          size="small"
          fullWidth
          autoFocus
          label={label}
          value={typed}
          slotProps={{ htmlInput: { 'data-testid': 'path-search', spellCheck: false } }}
          onChange={(e) => setTyped(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && found[0]) choose(found[0])
            if (e.key === 'ArrowDown') {
              e.preventDefault()
              list.current?.querySelector<HTMLElement>('[role=menuitem]')?.focus()
            }
          }}
        />
        <MenuList ref={list} dense className={styles.list} aria-label={label}>
          {found.map((path) => (
            <MenuItem key={path} selected={path === current} onClick={() => choose(path)}>
              <code>{path}</code>
              {note && <span className={styles.note}>{note(path)}</span>}
            </MenuItem>
          ))}
        </MenuList>
        <p className={styles.count} aria-live="polite">
          {found.length === 0
            ? 'None has that in its path.'
            : found.length < SHOWN && typed.trim()
              ? `${found.length} of ${paths.length.toLocaleString('en')}`
              : `The first ${found.length} of ${paths.length.toLocaleString('en')}`}
        </p>
      </div>
    </Popover>
  )
}
