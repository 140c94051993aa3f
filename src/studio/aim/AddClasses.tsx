'use client'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { type Completion, theDesk } from '../../desk'
import { useSession } from '../ui/SessionContext'
import styles from './ClassList.module.css'
import { ClassSample } from './ClassSample'

/** Classes typed with completion over all that the project's vocabularies have, or pasted as a list. */
export function AddClasses({ source, names }: { source: string; names: readonly string[] }) {
  const { session } = useSession()
  const [typed, setTyped] = useState('')
  const [found, setFound] = useState<readonly Completion[]>([])
  const [at, setAt] = useState(0)
  const list = useRef<HTMLUListElement>(null)
  const listed = names.join(' ')
  useEffect(() => {
    if (typed.trim() === '') return
    let current = true
    void theDesk()
      .reading.completions(typed.trim())
      .then((rows) => {
        if (!current) return
        setFound(rows.filter((r) => !listed.split(' ').includes(r.name)))
        setAt(0)
      })
    return () => {
      current = false
    }
  }, [typed, listed])
  useEffect(() => {
    list.current?.children[at]?.scrollIntoView({ block: 'nearest' })
  }, [at])
  const open = typed.trim() !== '' && found.length > 0

  const intentFor = (added: readonly string[]) => ({
    kind: 'change-classes' as const,
    sources: [source],
    remove: [],
    add: added.map((name) => ({ name })),
  })
  const add = (text: string) => {
    const added = text.split(/\s+/).filter((n) => n && !names.includes(n))
    setTyped('')
    setFound([])
    if (added.length) void session.edits.changeClasses(intentFor(added))
  }
  const choose = (index: number) => {
    setAt(index)
    void session.edits.previewClasses(intentFor([found[index].name]))
  }
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.key === 'Enter') add(open && found[at] && !/\s/.test(typed.trim()) ? found[at].name : typed)
    else if (e.key === 'Escape' && typed) {
      setTyped('')
      setFound([])
      void session.edits.cancelPreview()
    } else if (open && (e.key === 'ArrowDown' || e.key === 'ArrowUp'))
      choose(Math.max(0, Math.min(found.length - 1, at + (e.key === 'ArrowDown' ? 1 : -1))))
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  return (
    <div className={styles.add}>
      <input
        role="combobox"
        aria-label="Add classes"
        aria-expanded={open}
        aria-controls="classes-found"
        aria-activedescendant={open ? `class-${at}` : undefined}
        aria-autocomplete="list"
        placeholder="Add or paste classes"
        spellCheck={false}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={onKeyDown}
        onPaste={(e) => {
          const text = e.clipboardData
            .getData('text/plain')
            .replace(/^\s*class(Name)?\s*=\s*["'{]+|["'}]+\s*$/g, '')
            .trim()
          if (!/\s/.test(text)) return
          e.preventDefault()
          add(text)
        }}
        onBlur={() => {
          if (typed) void session.edits.cancelPreview()
          setTyped('')
        }}
      />
      {open && (
        <ul ref={list} id="classes-found" role="listbox" aria-label="Classes" className={styles.found}>
          {found.map((c, i) => (
            <li
              key={c.name}
              id={`class-${i}`}
              role="option"
              aria-selected={i === at}
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => add(c.name)}
            >
              <span className={styles.name}>{c.name}</span>
              <span className={styles.sets}>{c.sets}</span>
              <ClassSample told={c} />
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
