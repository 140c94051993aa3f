'use client'
import { useEffect, useId, useState } from 'react'
import { relativeUrl } from '../../core/value'
import { theDesk } from '../desk/desk'
import type { ElementSource } from '../desk/desk.worker'
import { useStudio, type Picked } from '../store'
import { ELEMENT } from '../tune/properties'
import { useSession } from '../ui/SessionContext'
import styles from './ElementSection.module.css'
import { SourceField } from './SourceField'

/** Attributes that are there or not, whatever they say (HTML §2.3.2). */
const BOOLEAN = new Set(['allowfullscreen', 'async', 'autofocus', 'autoplay', 'checked', 'controls', 'default', 'defer', 'disabled', 'formnovalidate', 'hidden', 'inert', 'ismap', 'itemscope', 'loop', 'multiple', 'muted', 'nomodule', 'novalidate', 'open', 'playsinline', 'readonly', 'required', 'reversed', 'selected'])
const ADDRESS = new Set(['href', 'src', 'poster', 'action', 'data'])

/** What the source says of the element in hand, to be changed there: its tag name, its attributes and its own texts. */
export function ElementSection({ picked, open }: { picked: Picked; open: boolean }) {
  const { session } = useSession()
  const { source, tag } = picked.report.info
  const revision = useStudio((s) => s.revision)
  const [told, setTold] = useState<{ source: string; element: ElementSource | null } | null>(null)
  useEffect(() => {
    let current = true
    // `revision` counts the edits: the file may say something else after each.
    if (open && source && revision >= 0) void theDesk().elementOf(source).then((element) => current && setTold({ source, element }))
    return () => {
      current = false
    }
  }, [open, source, revision])
  if (source === null) return null
  const element = told?.source === source ? told.element : null
  return (
    <section aria-label="Element">
      <h2>
        <button type="button" aria-expanded={open} data-testid="section-Element" onClick={() => void session.selection.unfold(ELEMENT, !open)}>
          <i aria-hidden="true">{open ? '▾' : '▸'}</i>Element
        </button>
        <span>{tag}{picked.place && `, ${picked.place.path}:${picked.place.line}`}</span>
      </h2>
      {open && element && (
        <div className={styles.rows} key={source}>
          <div className={styles.row}>
            <span>tag</span>
            <SourceField label="Tag name" value={element.tag} allows={(t) => /^[a-z][a-z0-9-]*$/i.test(t)} onKeep={(to) => void session.edits.onElement({ kind: 'set-tag', source, tag: to })} />
          </div>
          {element.attributes.map((a) => <Attribute key={a.name} source={source} name={a.name} value={a.value} />)}
          <NewAttribute source={source} known={element.attributes.map((a) => a.name)} />
          {element.texts.map((text, index) => text.trim() !== '' && <Text key={index} source={source} index={index} text={text} />)}
        </div>
      )}
    </section>
  )
}

function Attribute({ source, name, value }: { source: string; name: string; value: string }) {
  const { session } = useSession()
  const project = useStudio((s) => s.project)
  const address = useStudio((s) => s.address)
  const id = useId()
  const set = (to: string | null) => void session.edits.onElement({ kind: 'set-attribute', source, name, value: to })
  const from = address.replace(/^\//, '').replace(/[?#].*$/, '')
  const offered = ADDRESS.has(name) ? (name === 'href' ? project?.pages : project?.images)?.map((path) => relativeUrl(from, path)) ?? [] : []
  return (
    <div className={styles.row}>
      <span title={name}>{name}</span>
      {BOOLEAN.has(name) ? <i>{value || 'set'}</i> : <SourceField label={`${name} of the element`} value={value} list={offered.length ? id : undefined} onKeep={set} />}
      {offered.length > 0 && <datalist id={id}>{offered.map((o) => <option key={o} value={o} />)}</datalist>}
      <button type="button" aria-label={`Remove ${name}`} onClick={() => set(null)}>×</button>
    </div>
  )
}

function NewAttribute({ source, known }: { source: string; known: readonly string[] }) {
  const { session } = useSession()
  const add = (text: string) => {
    const [, name, value] = /^([^\s=]+)(?:\s*=\s*["']?([^]*?)["']?)?$/.exec(text.trim()) ?? []
    if (name) void session.edits.onElement({ kind: 'set-attribute', source, name: name.toLowerCase(), value: value ?? '' })
  }
  const allows = (text: string) => {
    const name = /^[^\s=]+/.exec(text.trim())?.[0].toLowerCase()
    return name !== undefined && !/["'<>/]/.test(name) && !known.includes(name)
  }
  return (
    <div className={styles.row}>
      <span>add</span>
      <SourceField label="New attribute" value="" placeholder='name="value"' allows={allows} onKeep={add} />
    </div>
  )
}

function Text({ source, index, text }: { source: string; index: number; text: string }) {
  const { session } = useSession()
  // White space around it is how the file is laid out, and stays.
  const [, lead, body, trail] = /^(\s*)([^]*?)(\s*)$/.exec(text)!
  return (
    <div className={styles.row} data-text="true">
      <span>text</span>
      <SourceField label={`Text ${index + 1}`} value={body} many onKeep={(to) => void session.edits.onElement({ kind: 'set-text', source, index, text: lead + to + trail })} />
    </div>
  )
}
