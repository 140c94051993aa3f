'use client'
import { widthRange } from '../../core/css/media'
import { widthCondition } from '../../core/project/width-condition'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './AimPanel.module.css'
import { statesAround } from './states-around'

const SCHEMES = ['(prefers-color-scheme: dark)', '(prefers-color-scheme: light)']

/** In which state, for which pseudo-element and at which widths the next edit is to hold. */
export function ConditionLine({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const condition = useStudio((s) => s.condition)
  const scale = useStudio((s) => s.scale)
  const page = useStudio((s) => s.frames.page)
  const { facts, parts } = picked.report
  const width = Math.round(page?.width ?? facts.viewport.width)
  const own = scale.conditions.flatMap((text) => {
    const range = widthRange(text)
    return range ? [{ text, range }] : []
  }).sort((a, b) => a.range.min - b.range.min || a.range.max - b.range.max).map(({ text }) => text)
  const made = [widthCondition(scale, 'up to', width), widthCondition(scale, 'from', width)].filter((c) => !own.includes(c))
  const holding = facts.states.filter((s) => s.startsWith(':has'))
  const byList = [...picked.aims.values()].some((a) => a.candidates[a.chosen]?.ref.kind === 'class-list')
  const around = statesAround(picked.report.ancestors.slice(1), byList)
  const possible = [...new Set([...parts, ...facts.partsPossible])]
  return (
    <div className={styles.when} role="group" aria-label="When the edit holds">
      <label>
        <span>state</span>
        <select aria-label="State" data-set={condition.state !== '' || undefined} value={condition.state} onChange={(e) => void session.selection.setCondition({ state: e.target.value })}>
          <option value="">as it is</option>
          {facts.states.filter((s) => !s.startsWith(':has')).map((s) => <option key={s} value={s}>{s}</option>)}
          {holding.length > 0 && <optgroup label="Of what it holds">{holding.map((s) => <option key={s} value={s}>{s}</option>)}</optgroup>}
          {around.length > 0 && <optgroup label="Of what it stands in">{around.map((s) => <option key={s} value={s}>{s}</option>)}</optgroup>}
        </select>
      </label>
      <label>
        <span>part</span>
        <select aria-label="Part" data-set={condition.part !== '' || undefined} value={condition.part} onChange={(e) => void session.selection.setCondition({ part: e.target.value })}>
          <option value="">element</option>
          {possible.map((p) => <option key={p} value={p}>{p}{parts.includes(p) ? '' : ' (new)'}</option>)}
        </select>
      </label>
      <label>
        <span>widths, scheme</span>
        <select aria-label="Widths" data-set={condition.media !== '' || undefined} value={condition.media} onChange={(e) => void session.setMedia(e.target.value)}>
          <option value="">every width</option>
          {own.length > 0 && <optgroup label="The project’s own">{own.map((c) => <option key={c} value={c}>{c}</option>)}</optgroup>}
          <optgroup label="Colour scheme">
            {SCHEMES.map((c) => <option key={c} value={c}>{c}</option>)}
          </optgroup>
          <optgroup label="The width shown">
            {made.map((c) => <option key={c} value={c}>{c}</option>)}
            {condition.media !== '' && !own.includes(condition.media) && !SCHEMES.includes(condition.media) && !made.includes(condition.media) && <option value={condition.media}>{condition.media}</option>}
          </optgroup>
        </select>
      </label>
    </div>
  )
}
