'use client'
import { memo, useEffect, useState } from 'react'
import { widthRange } from '../../core/css'
import { widthCondition } from '../../core/project'
import { type NamedState, theDesk } from '../../desk'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './AimPanel.module.css'
import { statesAround } from './states-around'

const SCHEMES = ['(prefers-color-scheme: dark)', '(prefers-color-scheme: light)']

/** In which state, for which pseudo-element and at which widths the next edit is to hold. */
export function ConditionLine({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const condition = useStudio((s) => s.condition)
  const { facts, parts } = picked.report
  const holding = facts.states.filter((s) => s.startsWith(':has'))
  const byList = [...picked.aims.values()].some((a) => a.candidates[a.chosen]?.ref.kind === 'class-list')
  const around = statesAround(picked.report.ancestors.slice(1), byList)
  const named = useNamedStates(picked).filter((n) => !facts.states.includes(n.state))
  const isNamed = (state: string) => named.some((n) => n.state === state)
  const possible = [...new Set([...parts, ...facts.partsPossible])]
  return (
    <div className={styles.when} role="group" aria-label="When the edit holds">
      <label>
        <span>state</span>
        <select
          aria-label="State"
          data-set={condition.state !== '' || undefined}
          value={condition.state}
          onChange={(e) => void session.selection.setCondition({ state: e.target.value })}
        >
          <option value="">as it is</option>
          {condition.state !== '' &&
            !facts.states.includes(condition.state) &&
            !around.includes(condition.state) &&
            !isNamed(condition.state) && <option value={condition.state}>{condition.state}</option>}
          {facts.states
            .filter((s) => !s.startsWith(':has'))
            .map((s) => (
              <option key={s} value={s}>
                {s}
              </option>
            ))}
          {named.length > 0 && (
            <optgroup label="Of its classes">
              {named.map((n) => (
                <option key={n.state} value={n.state}>
                  {n.name}
                </option>
              ))}
            </optgroup>
          )}
          {holding.length > 0 && (
            <optgroup label="Of what it holds">
              {holding.map((s) => (
                <option key={s} value={s}>
                  {s}
                </option>
              ))}
            </optgroup>
          )}
          {around.some((s) => !isNamed(s)) && (
            <optgroup label="Of what it stands in">
              {around
                .filter((s) => !isNamed(s))
                .map((s) => (
                  <option key={s} value={s}>
                    {s}
                  </option>
                ))}
            </optgroup>
          )}
        </select>
      </label>
      <label>
        <span>part</span>
        <select
          aria-label="Part"
          data-set={condition.part !== '' || undefined}
          value={condition.part}
          onChange={(e) => void session.selection.setCondition({ part: e.target.value })}
        >
          <option value="">element</option>
          {possible.map((p) => (
            <option key={p} value={p}>
              {p}
              {parts.includes(p) ? '' : ' (new)'}
            </option>
          ))}
        </select>
      </label>
      <Widths media={condition.media} atFirst={facts.viewport.width} />
    </div>
  )
}

function useNamedStates(picked: Picked): readonly NamedState[] {
  const [named, setNamed] = useState<readonly NamedState[]>([])
  useEffect(() => {
    let current = true
    const { source } = picked.report.info
    void (source === null ? Promise.resolve([]) : theDesk().reading.statesOfClasses(source)).then((found) => {
      if (current) setNamed(found)
    })
    return () => {
      current = false
    }
  }, [picked])
  return named
}

// The same for each element that is picked, so it is not drawn again with each.
const Widths = memo(function Widths({ media, atFirst }: { media: string; atFirst: number }) {
  const { session } = useSession()
  const scale = useStudio((s) => s.scale)
  const width = useStudio((s) => Math.round(s.frames.page?.width ?? atFirst))
  const own = scale.conditions
    .flatMap((text) => {
      const range = widthRange(text)
      return range ? [{ text, range }] : []
    })
    .sort((a, b) => a.range.min - b.range.min || a.range.max - b.range.max)
    .map(({ text }) => text)
  const made = [widthCondition(scale, 'up to', width), widthCondition(scale, 'from', width)].filter((c) => !own.includes(c))
  return (
    <label>
      <span>widths, scheme</span>
      <select
        aria-label="Widths"
        data-set={media !== '' || undefined}
        value={media}
        onChange={(e) => void session.setMedia(e.target.value)}
      >
        <option value="">every width</option>
        {own.length > 0 && (
          <optgroup label="The project’s own">
            {own.map((c) => (
              <option key={c} value={c}>
                {c}
              </option>
            ))}
          </optgroup>
        )}
        <optgroup label="Colour scheme">
          {SCHEMES.map((c) => (
            <option key={c} value={c}>
              {c}
            </option>
          ))}
        </optgroup>
        <optgroup label="The width shown">
          {made.map((c) => (
            <option key={c} value={c}>
              {c}
            </option>
          ))}
          {media !== '' && !own.includes(media) && !SCHEMES.includes(media) && !made.includes(media) && (
            <option value={media}>{media}</option>
          )}
        </optgroup>
      </select>
    </label>
  )
})
