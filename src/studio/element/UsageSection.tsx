'use client'
import { theDesk, type UsageProperties } from '../../desk'
import { useReading } from '../session/useReading'
import type { Picked } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import styles from './ElementSection.module.css'
import { SourceField } from './SourceField'

type Property = UsageProperties['properties'][number]

/** What the tag of a component gives it, at the one place where it is used that led to the selected element: each by what it takes. */
export function UsageSection({ picked }: { readonly picked: Picked }) {
  const { usage, report } = picked
  const source = usage?.place.ok ? usage.place.source : null
  const of = useReading(source ?? '', () => (source === null ? null : theDesk().places.propertiesOf(source, report.info.source)))
  if (source === null || !usage?.place.ok || !of || of.properties.length === 0) return null
  const count = report.usage?.count ?? 1
  return (
    <div className={styles.rows} role="group" aria-label={`Properties of this ${usage.name}`} data-testid="usage-properties">
      <h3>
        Properties of this {usage.name}
        <small>
          {usage.place.path.split('/').at(-1)}:{usage.place.line}
          {count > 1 && `, ${plural(count, 'element')}`}
        </small>
      </h3>
      {of.properties.map((p) => (
        <Row key={p.name} source={source} property={p} disabled={of.readOnly !== null} />
      ))}
    </div>
  )
}

function Row({ source, property, disabled }: { readonly source: string; readonly property: Property; readonly disabled: boolean }) {
  const { session } = useSession()
  const { name, kind, given } = property
  const set = (value: string | null) => void session.edits.onElement({ kind: 'set-attribute', source, name, value, as: kind })
  const isWorkedOut = given !== null && given.value === null
  return (
    <div className={styles.row}>
      <span>{name}</span>
      {isWorkedOut || kind === 'other' ? (
        <code className={styles.said} title={given?.said}>
          {given?.said || 'not given'}
        </code>
      ) : (
        <Value property={property} disabled={disabled} set={set} />
      )}
      {given && !isWorkedOut && kind !== 'boolean' && (
        <button type="button" aria-label={`Remove ${name}`} disabled={disabled} onClick={() => set(null)}>
          ×
        </button>
      )}
    </div>
  )
}

function Value({
  property: { name, kind, choices, initial, given },
  disabled,
  set,
}: {
  readonly property: Property
  readonly disabled: boolean
  readonly set: (value: string | null) => void
}) {
  const label = `${name} of the component`
  const value = given?.value ?? ''
  if (kind === 'boolean') {
    const isOn = (given?.value ?? initial) === 'true'
    return (
      <label className={styles.on}>
        <input
          type="checkbox"
          aria-label={label}
          disabled={disabled}
          checked={isOn}
          // What counts without being given is not written.
          onChange={() => set(String(!isOn) === (initial ?? 'false') ? null : String(!isOn))}
        />
        {given ? '' : 'not given'}
      </label>
    )
  }
  if (kind === 'choice')
    return (
      <select className={styles.field} aria-label={label} disabled={disabled} value={value} onChange={(e) => set(e.target.value || null)}>
        <option value="">{initial === null ? 'not given' : `not given: ${initial}`}</option>
        {given?.value != null && !choices.includes(value) && <option value={value}>{value}</option>}
        {choices.map((c) => (
          <option key={c} value={c}>
            {c}
          </option>
        ))}
      </select>
    )
  return (
    <SourceField
      label={label}
      value={value}
      placeholder={initial === null ? 'not given' : `not given: ${initial}`}
      allows={(t) => kind !== 'number' || /^-?\d+(\.\d+)?$/.test(t)}
      onKeep={(t) => set(t)}
    />
  )
}
