'use client'
import { useId } from 'react'
import { isBooleanAttribute, keywordsOf, parseSrcset, srcsetText, type SrcsetCandidate } from '../../core/html'
import { relativeUrl } from '../../core/value'
import { theDesk } from '../../desk'
import { useReading } from '../session/useReading'
import { useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import { ariaValues, namesIds, type AriaFor } from './aria'
import styles from './ElementSection.module.css'
import { SourceField } from './SourceField'

const PAGES = new Set(['href', 'action'])
const PICTURES = new Set(['src', 'poster', 'data'])
const IDS = /^(for|form|list|headers|popovertarget|commandfor)$/

interface Props {
  readonly source: string
  readonly tag: string
  readonly name: string
  readonly value: string
  readonly aria: AriaFor
  /** Ids that the page has. */
  readonly ids: readonly string[]
  readonly known: readonly string[]
}

const isName = (text: string): boolean => /^[^\s"'<>/=]+$/.test(text)

/** One attribute of the selected element: its name, which may be another, and its value by what it takes. */
export function Attribute({ source, tag, name, value, aria, ids, known }: Props) {
  const { session } = useSession()
  const set = (to: string | null) => void session.edits.onElement({ kind: 'set-attribute', source, name, value: to })
  const rename = (to: string) => void session.edits.onElement({ kind: 'rename-attribute', source, name, to })
  const isStray = name.startsWith('aria-') && !aria.names.includes(name)
  return (
    <>
      <div className={styles.row}>
        <SourceField
          label={`Name of ${name}`}
          value={name}
          quiet
          allows={(t) => isName(t) && (t.toLowerCase() === name || !known.includes(t.toLowerCase()))}
          onKeep={rename}
        />
        <Value source={source} tag={tag} name={name} value={value} ids={ids} set={set} />
        <button type="button" aria-label={`Remove ${name}`} onClick={() => set(null)}>
          ×
        </button>
      </div>
      {name === 'id' && <IdUses id={value} />}
      {isStray && (
        <p className={styles.uses} data-warn>
          {name} says nothing for the role {aria.role} (WAI-ARIA 1.2 §6.5).
        </p>
      )}
    </>
  )
}

function Value({
  source,
  tag,
  name,
  value,
  ids,
  set,
}: Pick<Props, 'source' | 'tag' | 'name' | 'value' | 'ids'> & { set: (to: string | null) => void }) {
  const project = useStudio((s) => s.project)
  const address = useStudio((s) => s.address)
  const list = useId()
  const label = `${name} of the element`
  const from = address.replace(/^\//, '').replace(/[?#].*$/, '')
  const relative = (paths: readonly string[] = []) => paths.map((path) => relativeUrl(from, path))
  const isPicture = PICTURES.has(name)
  const named = useReading(isPicture ? source : '', () => (isPicture ? theDesk().places.pictureNames(source, project?.images ?? []) : null))
  if (isBooleanAttribute(name))
    return (
      <label className={styles.on}>
        <input type="checkbox" aria-label={label} checked onChange={() => set(null)} /> on{value && `, as “${value}”`}
      </label>
    )
  if (name === 'srcset') return <Srcset value={value} pictures={relative(project?.images)} onKeep={set} />
  const words = name === 'role' ? [] : name.startsWith('aria-') ? ariaValues(name) : keywordsOf(tag, name)
  const isOpen = name === 'rel' || name === 'autocomplete'
  if (words.length > 0 && !isOpen) {
    return (
      <select className={styles.field} aria-label={label} value={value} onChange={(e) => set(e.target.value)}>
        {!words.includes(value) && <option value={value}>{value || 'empty'}</option>}
        {words.map((w) => (
          <option key={w} value={w}>
            {w}
          </option>
        ))}
      </select>
    )
  }
  const offered = isOpen
    ? words
    : PAGES.has(name)
      ? [...relative(project?.pages), ...ids.map((i) => `#${i}`)]
      : isPicture
        ? (named ?? relative(project?.images))
        : IDS.test(name) || namesIds(name)
          ? ids
          : []
  return (
    <>
      <SourceField
        label={label}
        value={value}
        list={offered.length ? list : undefined}
        placeholder={name === 'alt' ? 'empty: it only decorates' : undefined}
        onKeep={set}
      />
      {offered.length > 0 && (
        <datalist id={list}>
          {offered.map((o) => (
            <option key={o} value={o} />
          ))}
        </datalist>
      )}
    </>
  )
}

/** The pictures of a `srcset`, one a line, each for a width or a density. */
function Srcset({ value, pictures, onKeep }: { value: string; pictures: readonly string[]; onKeep: (text: string) => void }) {
  const list = useId()
  const all = parseSrcset(value)
  const put = (i: number, change: Partial<SrcsetCandidate> | null) =>
    onKeep(srcsetText(all.flatMap((c, k) => (k !== i ? [c] : change ? [{ ...c, ...change }] : []))))
  return (
    <div className={styles.srcset} role="group" aria-label="srcset of the element">
      {all.map((c, i) => (
        <div key={i}>
          <SourceField
            label={`Picture ${i + 1} of srcset`}
            value={c.url}
            list={list}
            allows={(t) => /^\S*[^\s,]$/.test(t)}
            onKeep={(url) => put(i, { url })}
          />
          <SourceField
            label={`For picture ${i + 1} of srcset`}
            value={c.descriptor}
            placeholder="1x"
            allows={(t) => t === '' || /^\d*\.?\d+[xw]$/.test(t)}
            onKeep={(descriptor) => put(i, { descriptor })}
          />
          <button type="button" aria-label={`Remove picture ${i + 1} of srcset`} disabled={all.length === 1} onClick={() => put(i, null)}>
            ×
          </button>
        </div>
      ))}
      <SourceField
        label="Another picture of srcset"
        value=""
        list={list}
        placeholder="another picture 2x"
        allows={(t) => /^\S*[^\s,]\s+\d*\.?\d+[xw]$/.test(t.trim())}
        onKeep={(t) => onKeep(`${srcsetText(all)}, ${t.trim().replace(/\s+/, ' ')}`)}
      />
      <datalist id={list}>
        {pictures.map((p) => (
          <option key={p} value={p} />
        ))}
      </datalist>
    </div>
  )
}

/** The rules that name an id: they follow when it gets another name. */
function IdUses({ id }: { id: string }) {
  const uses = useReading(id, () => theDesk().reading.rulesWithId(id)) ?? []
  if (uses.length === 0) return null
  return (
    <p className={styles.uses} data-testid="id-uses">
      In {uses.length} {uses.length === 1 ? 'rule' : 'rules'}:{' '}
      {uses.slice(0, 3).map((u) => (
        <span key={`${u.path}${u.line}`}>
          <code>{u.selector}</code> {u.path}:{u.line}{' '}
        </span>
      ))}
      They, labels and links follow another name.
    </p>
  )
}
