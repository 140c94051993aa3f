'use client'
import type { KeyboardEvent } from 'react'
import type { PropertyAim } from '../../core/aim'
import type { Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import { ChildrenPicture } from './ChildrenPicture'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import styles from './Rows.module.css'

// What the browser computes for the same thing said otherwise.
const SAME: Readonly<Record<string, string>> = {
  'flex-start': 'start',
  'flex-end': 'end',
  left: 'start',
  right: 'end',
  stretch: 'normal',
}

const SHORT: Readonly<Record<string, string>> = {
  'row-reverse': 'row ↤',
  'column-reverse': 'column ↥',
  'space-between': 'between',
  'space-around': 'around',
  'space-evenly': 'evenly',
  'line-through': 'through',
  'wrap-reverse': 'wrap ↥',
  'content-box': 'content',
  'border-box': 'with border',
  'scale-down': 'down',
  uppercase: 'UPPER',
  lowercase: 'lower',
  capitalize: 'Title',
}

/** One of a few words; with a picture, each is shown on the element's own children. */
export function ChoiceRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const options = row.options ?? []
  const now = aim.computed.replace(/^(\S+) \1$/, '$1')
  const known = options.includes(now) ? now : options.includes(SAME[now]) ? SAME[now] : null
  const isRarer = row.rarer?.includes(now) ?? false
  const list = known === null && !isRarer ? [...options, now] : options
  const pick = (value: string) => {
    session.selection.touch(row.property)
    void session.edits.commit(row.property, value)
  }
  // Arrow keys show each choice on the page and keep it, as a radio group does.
  const onKeyDown = (e: KeyboardEvent<HTMLDivElement>) => {
    if (e.target instanceof HTMLSelectElement) return
    const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key]
    if (!by) return
    e.preventDefault()
    e.stopPropagation()
    const buttons = [...e.currentTarget.querySelectorAll('button')]
    const next = buttons[(buttons.indexOf(document.activeElement as HTMLButtonElement) + by + buttons.length) % buttons.length]
    next.focus()
    session.edits.preview(row.property, next.dataset.value!)
  }
  return (
    <RowFrame row={row} aim={aim} wide>
      <div
        role="radiogroup"
        aria-label={row.property}
        className={styles.choices}
        data-picture={row.picture || undefined}
        data-tight={list.length > 4 || undefined}
        onKeyDown={onKeyDown}
        onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && void session.edits.cancelPreview()}
      >
        {list.map((option) => (
          <button
            key={option}
            type="button"
            role="radio"
            aria-checked={(known ?? now) === option}
            data-value={option}
            tabIndex={(known ?? now) === option ? 0 : -1}
            title={`${row.property}: ${option}`}
            // Aim may change its height with the property, so with the pointer the click does it, not the press.
            onFocus={(e) => e.target.matches(':focus-visible') && session.selection.touch(row.property)}
            onClick={() => pick(option)}
          >
            {row.picture && <ChildrenPicture report={picked.report} property={row.property} value={option} />}
            <span>{SHORT[option] ?? option}</span>
          </button>
        ))}
        {row.rarer && (
          <select
            className={styles.rarer}
            aria-label={`Other values of ${row.property}`}
            data-set={isRarer || undefined}
            value={isRarer ? now : ''}
            onFocus={() => session.selection.touch(row.property)}
            onChange={(e) => pick(e.target.value)}
          >
            <option value="" disabled>
              …
            </option>
            {row.rarer.map((o) => (
              <option key={o} value={o}>
                {o}
              </option>
            ))}
          </select>
        )}
      </div>
    </RowFrame>
  )
}
