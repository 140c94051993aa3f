'use client'
import { useId, useState } from 'react'
import { attributesFor } from '../../core/html'
import type { MatchChange } from '../../core/project'
import { theDesk, type ElementSource } from '../../desk'
import { useReading } from '../session/useReading'
import { useSession } from '../ui/SessionContext'
import { ariaFor, ariaValues } from './aria'
import { Attribute } from './Attribute'
import styles from './ElementSection.module.css'
import { SourceField } from './SourceField'

const MOST_NOTES = 6

/** The tag name, attributes and own texts of an element, each to be changed where it is written. */
export function ElementFields({ source, element }: { source: string; element: ElementSource }) {
  const { session } = useSession()
  const [asked, setAsked] = useState<{ tag: string; changes: readonly MatchChange[] } | null>(null)
  const ids = useReading(source, () => theDesk().places.idsBeside(source)) ?? []
  const [refused, setRefused] = useState<{ readonly of: string; readonly why: string } | null>(null)
  const retag = async (to: string) => {
    setRefused(null)
    const { why, changes } = await theDesk().places.retag(source, to)
    if (why) setRefused({ of: element.tag, why })
    else if (changes.length === 0) void session.edits.onElement({ kind: 'set-tag', source, tag: to })
    else setAsked({ tag: to, changes })
  }
  const { tag, attributes } = element
  const aria = ariaFor(tag, attributes)
  const known = attributes.map((a) => a.name)
  const missing = aria.required.filter((name) => !known.includes(name) && known.includes('role'))
  return (
    <div className={styles.rows}>
      <div className={styles.row}>
        <span>tag</span>
        <SourceField
          key={asked?.tag}
          label="Tag name"
          value={tag}
          allows={(t) => /^[a-z][a-z0-9-]*$/i.test(t)}
          onType={() => setRefused(null)}
          onKeep={(to) => void retag(to)}
        />
      </div>
      {refused?.of === tag && (
        <p className={styles.uses} data-warn role="alert">
          {refused.why}
        </p>
      )}
      {asked && (
        <Retag
          asked={asked}
          from={tag}
          onEnd={(go) => {
            setAsked(null)
            if (go) void session.edits.onElement({ kind: 'set-tag', source, tag: asked.tag })
          }}
        />
      )}
      {attributes.map((a) => (
        <Attribute key={a.name} source={source} tag={tag} name={a.name} value={a.value} aria={aria} ids={ids} known={known} />
      ))}
      <NewAttribute
        source={source}
        known={known}
        offered={[...attributesFor(tag), 'data-', 'role', ...aria.names].filter((n) => !known.includes(n))}
      />
      {missing.length > 0 && (
        <p className={styles.uses} data-warn>
          The role {aria.role} asks for {missing.join(' and ')} (WAI-ARIA 1.2 §5.2.2).
        </p>
      )}
      {element.texts.map((text, index) => text.trim() !== '' && <Text key={index} source={source} index={index} text={text} />)}
    </div>
  )
}

/** What another tag name would do to the rules that match, before it is written. */
function Retag({
  asked,
  from,
  onEnd,
}: {
  asked: { tag: string; changes: readonly MatchChange[] }
  from: string
  onEnd: (go: boolean) => void
}) {
  return (
    <div className={styles.asked} role="alertdialog" aria-label={`What <${asked.tag}> would change`} data-testid="retag">
      <p>
        As <code>{asked.tag}</code> in place of <code>{from}</code>:
      </p>
      <ul>
        {asked.changes.slice(0, MOST_NOTES).map((c) => (
          <li key={`${c.path}${c.line}`}>
            <code>{c.selector}</code> {c.own === 'stops' ? 'stops matching it' : c.own === 'starts' ? 'starts matching it' : ''}
            {c.own && c.others ? ', and ' : ''}
            {c.others ? `${c.others} ${c.others === 1 ? 'other' : 'others'} of the page come or go` : ''}{' '}
            <small>
              {c.path}:{c.line}
            </small>
          </li>
        ))}
        {asked.changes.length > MOST_NOTES && <li>and {asked.changes.length - MOST_NOTES} more rules</li>}
      </ul>
      <button type="button" onClick={() => onEnd(true)}>
        Change it
      </button>{' '}
      <button type="button" onClick={() => onEnd(false)}>
        Leave it
      </button>
    </div>
  )
}

function NewAttribute({ source, known, offered }: { source: string; known: readonly string[]; offered: readonly string[] }) {
  const { session } = useSession()
  const list = useId()
  const add = (text: string) => {
    const [, name, value] = /^([^\s=]+)(?:\s*=\s*["']?([^]*?)["']?)?$/.exec(text.trim()) ?? []
    // One that takes words begins with the first of them.
    if (name)
      void session.edits.onElement({
        kind: 'set-attribute',
        source,
        name: name.toLowerCase(),
        value: value ?? ariaValues(name)[0] ?? '',
      })
  }
  const allows = (text: string) => {
    const name = /^[^\s=]+/.exec(text.trim())?.[0].toLowerCase()
    return name !== undefined && !/["'<>/]/.test(name) && name !== 'data-' && !known.includes(name)
  }
  return (
    <div className={styles.row}>
      <span>add</span>
      <SourceField label="New attribute" value="" placeholder='name="value"' list={list} allows={allows} onKeep={add} />
      <datalist id={list}>
        {offered.map((o) => (
          <option key={o} value={o} />
        ))}
      </datalist>
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
      <SourceField
        label={`Text ${index + 1}`}
        value={body}
        many
        onKeep={(to) => void session.edits.onElement({ kind: 'set-text', source, index, text: lead + to + trail })}
      />
    </div>
  )
}
