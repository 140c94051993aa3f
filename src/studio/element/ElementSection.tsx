'use client'
import { useEffect, useId, useState } from 'react'
import { relativeUrl } from '../../core/value'
import { theDesk } from '../desk/desk'
import type { MatchChange, RuleNote } from '../../core/project'
import type { ElementSource } from '../desk/desk.worker'
import { say, useStudio, type Picked } from '../store'
import { ELEMENT } from '../tune/properties'
import { useSession } from '../ui/SessionContext'
import styles from './ElementSection.module.css'
import { SourceField } from './SourceField'

/** Attributes that are there or not, whatever they say (HTML §2.3.2). */
const BOOLEAN = new Set(['allowfullscreen', 'async', 'autofocus', 'autoplay', 'checked', 'controls', 'default', 'defer', 'disabled', 'formnovalidate', 'hidden', 'inert', 'ismap', 'itemscope', 'loop', 'multiple', 'muted', 'nomodule', 'novalidate', 'open', 'playsinline', 'readonly', 'required', 'reversed', 'selected'])
const ADDRESS = new Set(['href', 'src', 'poster', 'action', 'data'])

const MOST_NOTES = 6

/** What the source says of the element in hand, to be changed there: its tag name, its attributes and its own texts. */
export function ElementSection({ picked, open }: { picked: Picked; open: boolean }) {
  const { session } = useSession()
  const { source, tag } = picked.report.info
  const revision = useStudio((s) => s.revision)
  const [told, setTold] = useState<{ source: string; element: ElementSource | null } | null>(null)
  const [asked, setAsked] = useState<{ tag: string; changes: readonly MatchChange[] } | null>(null)
  useEffect(() => {
    let current = true
    // `revision` counts the edits: the file may say something else after each.
    if (open && source && revision >= 0) void theDesk().elementOf(source).then((element) => current && setTold({ source, element }))
    return () => {
      current = false
    }
  }, [open, source, revision])
  if (source === null) return null
  const retag = async (to: string) => {
    const { why, changes } = await theDesk().retag(source, to)
    if (why) say('error', why)
    else if (changes.length === 0) void session.edits.onElement({ kind: 'set-tag', source, tag: to })
    else setAsked({ tag: to, changes })
  }
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
            <SourceField key={asked?.tag} label="Tag name" value={element.tag} allows={(t) => /^[a-z][a-z0-9-]*$/i.test(t)} onKeep={(to) => void retag(to)} />
          </div>
          {asked && <Retag asked={asked} from={element.tag} onEnd={(go) => { setAsked(null); if (go) void session.edits.onElement({ kind: 'set-tag', source, tag: asked.tag }) }} />}
          {element.attributes.map((a) => <Attribute key={a.name} source={source} name={a.name} value={a.value} />)}
          <NewAttribute source={source} known={element.attributes.map((a) => a.name)} />
          {element.texts.map((text, index) => text.trim() !== '' && <Text key={index} source={source} index={index} text={text} />)}
        </div>
      )}
    </section>
  )
}

/** What another tag name would do to the rules that match, before it is written. */
function Retag({ asked, from, onEnd }: { asked: { tag: string; changes: readonly MatchChange[] }; from: string; onEnd: (go: boolean) => void }) {
  return (
    <div className={styles.asked} role="alertdialog" aria-label={`What <${asked.tag}> would change`} data-testid="retag">
      <p>As <code>{asked.tag}</code> in place of <code>{from}</code>:</p>
      <ul>
        {asked.changes.slice(0, MOST_NOTES).map((c) => (
          <li key={`${c.path}${c.line}`}>
            <code>{c.selector}</code> {c.own === 'stops' ? 'stops matching it' : c.own === 'starts' ? 'starts matching it' : ''}{c.own && c.others ? ', and ' : ''}{c.others ? `${c.others} ${c.others === 1 ? 'other' : 'others'} of the page come or go` : ''} <small>{c.path}:{c.line}</small>
          </li>
        ))}
        {asked.changes.length > MOST_NOTES && <li>and {asked.changes.length - MOST_NOTES} more rules</li>}
      </ul>
      <button type="button" onClick={() => onEnd(true)}>Change it</button> <button type="button" onClick={() => onEnd(false)}>Leave it</button>
    </div>
  )
}

/** The rules that name an id: they follow when it gets another name. */
function IdUses({ id }: { id: string }) {
  const revision = useStudio((s) => s.revision)
  const [uses, setUses] = useState<readonly RuleNote[]>([])
  useEffect(() => {
    let current = true
    if (revision >= 0) void theDesk().rulesWithId(id).then((u) => current && setUses(u))
    return () => {
      current = false
    }
  }, [id, revision])
  if (uses.length === 0) return null
  return <p className={styles.uses} data-testid="id-uses">In {uses.length} {uses.length === 1 ? 'rule' : 'rules'}: {uses.slice(0, 3).map((u) => <span key={`${u.path}${u.line}`}><code>{u.selector}</code> {u.path}:{u.line} </span>)}They, labels and links follow another name.</p>
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
      {name === 'id' && <IdUses id={value} />}
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
