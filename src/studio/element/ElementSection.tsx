'use client'
import { lazy, Suspense } from 'react'
import { theDesk } from '../../desk'
import { useReading } from '../session/useReading'
import type { Picked } from '../store'
import { ELEMENT } from '../tune/properties'
import { useSession } from '../ui/SessionContext'

const UsageSection = lazy(() => import('./UsageSection').then((m) => ({ default: m.UsageSection })))
const ElementFields = lazy(() => import('./ElementFields').then((m) => ({ default: m.ElementFields })))

/** What the source says of the selected element, to be changed there: its tag name, its attributes and its own texts, and what the component that it is of was given. */
export function ElementSection({ picked, open }: { picked: Picked; open: boolean }) {
  const { session } = useSession()
  const { source, tag } = picked.report.info
  const element = useReading(open && source ? source : '', () => (open && source ? theDesk().places.elementOf(source) : null))
  const isUsed = picked.usage?.place.ok === true
  if (source === null && !isUsed) return null
  return (
    <section aria-label="Element">
      <h2>
        <button
          type="button"
          aria-expanded={open}
          data-testid="section-Element"
          onClick={() => void session.selection.unfold(ELEMENT, !open)}
        >
          <i aria-hidden="true">{open ? '▾' : '▸'}</i>Element
        </button>
        <span>
          {tag}
          {picked.place && `, ${picked.place.path}:${picked.place.line}`}
        </span>
      </h2>
      {open && element && (
        <Suspense>
          <ElementFields key={source} source={source!} element={element} />
        </Suspense>
      )}
      {open && isUsed && (
        <Suspense>
          <UsageSection picked={picked} />
        </Suspense>
      )}
    </section>
  )
}
