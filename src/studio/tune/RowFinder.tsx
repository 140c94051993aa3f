'use client'
import { useEffect, useRef, useState } from 'react'
import { setStudio, useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import { moreOf, rowId, rowsFor, SECTIONS } from './properties'
import styles from './TunePanel.module.css'

/** How long a section may take to unfold; ms. */
const UNFOLDING = 1500

/** A row by the name of its property: typed, it has the keyboard. */
export function RowFinder({ picked }: { picked: Picked }) {
  const finding = useStudio((s) => s.findingRow)
  return finding && <Field picked={picked} />
}

function Field({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const [typed, setTyped] = useState('')
  const field = useRef<HTMLInputElement>(null)
  useEffect(() => field.current?.focus(), [])
  const rows = SECTIONS.flatMap((section) =>
    rowsFor(section, picked.report)
      .filter((r) => !r.with)
      .map((row) => ({ section: section.title, row })),
  )
  const text = typed.trim().toLowerCase().replace(/\s+/g, '-')
  const found =
    text === ''
      ? []
      : [
          ...rows.filter(({ row }) => row.property.startsWith(text)),
          ...rows.filter(
            ({ row }) => !row.property.startsWith(text) && (row.property.includes(text) || row.label.toLowerCase().includes(text)),
          ),
        ]
  const go = async () => {
    const [first] = found
    setStudio({ findingRow: false })
    if (!first) return
    await session.selection.unfold(first.section, true)
    if (first.row.more) await session.selection.unfold(moreOf(first.section), true)
    const control = () =>
      document.querySelector<HTMLElement>(
        `[data-testid="row-${CSS.escape(rowId(first.row))}"] :is(input, [role=slider], select, [aria-haspopup=dialog], button)`,
      )
    for (const end = performance.now() + UNFOLDING; !control() && performance.now() < end;)
      await new Promise((done) => requestAnimationFrame(done))
    const row = control()?.closest('[data-testid^="row-"]')
    row?.scrollIntoView({ block: 'center' })
    const best = row?.querySelector<HTMLElement>('input[type=text]') ?? control()
    best?.focus()
  }
  return (
    <div className={styles.finder}>
      <input
        ref={field}
        type="text"
        aria-label="A row by its property"
        placeholder="property, Enter"
        spellCheck={false}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => setStudio({ findingRow: false })}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            e.preventDefault()
            void go()
          } else if (e.key === 'Escape') setStudio({ findingRow: false })
        }}
      />
      {found.length > 0 && (
        <ul>
          {found.slice(0, 6).map(({ row }, i) => (
            <li key={rowId(row)} data-first={i === 0 || undefined}>
              {row.property}
            </li>
          ))}
        </ul>
      )}
      {text !== '' && found.length === 0 && <p>No row of this element has it.</p>}
    </div>
  )
}
