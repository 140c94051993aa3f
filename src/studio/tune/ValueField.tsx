'use client'
import { useRef, useState } from 'react'
import type { Candidate } from '../../core/aim'
import { parseLength, readTyped, toPx, type Length, type Typed, type UnitContext } from '../../core/value'
import { reachOf, uncountedWords } from '../session/chosen-aim'
import { useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import type { Row } from './properties'
import { nearestNotch, type Notch } from './row-value'
import styles from './Rows.module.css'

const read = (row: Row, typed: string, current: Length | null): Typed =>
  readTyped(typed, {
    property: row.property,
    lengths: row.kind === 'length',
    current,
    supports: (value) => CSS.supports(row.property, value),
  })

interface Props {
  readonly row: Row
  readonly text: string
  /** The length that arithmetic goes on from; what the text says, by default. */
  readonly length?: Length | null
  readonly pulling: boolean
  /** The steps of a vocabulary that the value lands in, and what its units refer to. */
  readonly steps?: readonly Notch[]
  readonly context?: UnitContext
  /** Where a value goes that no class of a closed vocabulary gives. */
  readonly otherwise?: Candidate['otherwise']
}

/** The step nearest to what is typed, where that is none itself. */
function offScale(
  row: Row,
  typed: string | null,
  text: Length | null,
  steps: readonly Notch[] | undefined,
  context: UnitContext | undefined,
): Notch | null {
  if (typed === null || !steps?.length || !context) return null
  const value = read(row, typed, text)
  const length = value.ok ? parseLength(value.value) : null
  const px = length && toPx(length, context)
  if (px === null || steps.some((s) => Math.abs(s.px - px) < 0.01)) return null
  return nearestNotch(steps, px)
}

/** What is typed, over the value that stood there: once that is another, it is over. */
interface Typing {
  readonly over: string
  readonly text: string
  readonly why: string | null
}

/** The value as it is written, to be typed over. */
export function ValueField({ row, text, length = parseLength(text), pulling, steps, context, otherwise }: Props) {
  const { session } = useSession()
  const [typing, setTyping] = useState<Typing | null>(null)
  const field = useRef<HTMLInputElement>(null)
  // Left by Enter or Escape, which have said what becomes of what was typed.
  const isDone = useRef(false)

  const { text: typed, why } = typing?.over === text ? typing : { text: null, why: null }
  const nearest = offScale(row, typed, length, steps, context)
  const leave = () => {
    isDone.current = true
    field.current?.blur()
    isDone.current = false
  }
  /** Whether it is a value. */
  const enter = (to: string | null): boolean => {
    if (to === null || to === text) return true
    const value = read(row, to, length)
    if (!value.ok) {
      setTyping({ over: text, text: to, why: value.why })
      return false
    }
    setTyping({ over: text, text: to, why: null })
    void session.edits.commit(row.property, value.value).then(() => setTyping((now) => (now?.text === to ? null : now)))
    return true
  }

  return (
    <>
      <input
        ref={field}
        type="text"
        className={styles.value}
        data-pulling={pulling || undefined}
        aria-label={`${row.property} value`}
        aria-invalid={why !== null}
        spellCheck={false}
        value={typed ?? text}
        title={text}
        onFocus={(e) => {
          session.selection.touch(row.property)
          e.target.select()
        }}
        onChange={(e) => setTyping({ over: text, text: e.target.value, why: null })}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && enter(e.shiftKey && nearest ? nearest.text : typed)) leave()
          else if (e.key === 'Escape') {
            setTyping(null)
            leave()
          }
        }}
        onBlur={() => isDone.current || enter(typed)}
      />
      {nearest && !why && (
        <span className={styles.nearest} data-testid="nearest-step">
          <kbd>Enter</kbd> {otherwise ? <Otherwise place={otherwise} /> : 'just that'}, <kbd>Shift Enter</kbd> the step{' '}
          <b>{nearest.label}</b> ({nearest.text})
        </span>
      )}
      {why && (
        <span className={styles.why} role="alert">
          {why}
        </span>
      )}
    </>
  )
}

function Otherwise({ place }: { place: NonNullable<Props['otherwise']> }) {
  const reach = reachOf(
    place,
    useStudio((s) => s.fresh),
  )
  return (
    <>
      no class in this sheet gives that, so to <b>{place.label}</b>, {reach === null ? uncountedWords(place.ref) : `${reach} on this page`}
    </>
  )
}
