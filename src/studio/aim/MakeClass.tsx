'use client'
import { useState } from 'react'
import { useSession } from '../ui/SessionContext'
import styles from './ClassList.module.css'

/** Gives a list a name: one class with all that it says, in place of it wherever it stands. */
export function MakeClass({ source, count }: { source: string; count: number }) {
  const { session } = useSession()
  const [name, setName] = useState<string | null>(null)
  if (count < 2) return null
  if (name === null)
    return (
      <button
        type="button"
        className={styles.quiet}
        title="One class with all that these say, in place of this list wherever the project has it"
        onClick={() => setName('')}
      >
        Make one…
      </button>
    )
  const make = () => {
    setName(null)
    if (name.trim()) void session.edits.makeClass(source, name.trim().replace(/^\./, ''))
  }
  return (
    <input
      className={styles.naming}
      autoFocus
      aria-label="Name of the new class"
      placeholder="its name, Enter"
      spellCheck={false}
      value={name}
      onChange={(e) => setName(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') make()
        else if (e.key === 'Escape') setName(null)
        else return
        e.preventDefault()
        e.stopPropagation()
      }}
      onBlur={() => setName(null)}
    />
  )
}
