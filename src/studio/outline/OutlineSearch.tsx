'use client'
import { useEffect, useRef, useState } from 'react'
import type { NodeHandle } from '../../agent/protocol'
import { setStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './OutlinePanel.module.css'

/** Finds by selector, text or attribute, and goes from one to the next. */
export function OutlineSearch({ onFound, onDown }: { onFound: (node: NodeHandle) => void; onDown: () => void }) {
  const { session } = useSession()
  const field = useRef<HTMLInputElement>(null)
  // Opened by its key, it is ready to be typed in; with the project it was left open.
  useEffect(() => {
    if (document.activeElement === document.body || document.activeElement?.closest('[role=menu]')) field.current?.focus()
  }, [])
  const [query, setQuery] = useState('')
  const [found, setFound] = useState<{ nodes: readonly NodeHandle[]; at: number } | null>(null)
  const show = (nodes: readonly NodeHandle[], at: number) => {
    setFound({ nodes, at })
    if (nodes.length === 0) return
    onFound(nodes[at])
    void session.selection.pick(nodes[at]).then(() => session.selection.bringIntoView(nodes[at]))
  }
  const step = async (by: 1 | -1) => {
    if (found?.nodes.length) show(found.nodes, (found.at + by + found.nodes.length) % found.nodes.length)
    else show(await session.selection.find(query), 0)
  }
  return (
    <div className={styles.search} role="search">
      <input
        ref={field}
        type="text"
        value={query}
        aria-label="Find by selector, text or attribute"
        placeholder="selector, text or attribute"
        spellCheck={false}
        onChange={(e) => {
          setQuery(e.target.value)
          setFound(null)
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown' || e.key === 'Escape') {
            e.preventDefault()
            if (e.key === 'ArrowDown') onDown()
            else setStudio({ outline: false })
          }
          if (e.key !== 'Enter') return
          e.preventDefault()
          void step(e.shiftKey ? -1 : 1)
        }}
      />
      <output>{found && (found.nodes.length ? `${found.at + 1} of ${found.nodes.length}` : 'none')}</output>
      <button type="button" aria-label="The one before" disabled={!found?.nodes.length} onClick={() => void step(-1)}>
        ↑
      </button>
      <button type="button" aria-label="The next one" disabled={query === ''} onClick={() => void step(1)}>
        ↓
      </button>
    </div>
  )
}
