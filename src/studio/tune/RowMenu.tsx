'use client'
import { useState } from 'react'
import type { PropertyAim } from '../../core/aim'
import { setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import { originText } from './origin-text'
import type { Row } from './properties'
import { RowPopover } from './RowPopover'
import { inUnits, pxOf, tokensLike, unitContext, valueOfToken } from './row-value'
import styles from './RowMenu.module.css'
import { currentAim, declarationOf } from '../session/landings'

interface Props {
  readonly row: Row
  readonly aim: PropertyAim
  readonly anchor: HTMLElement
  readonly onClose: () => void
}

/** All that can be asked of one row: where its value comes from, what loses and why, and what can be done with the declaration. */
export function RowMenu({ row, aim, anchor, onClose }: Props) {
  const { session } = useSession()
  const picked = useStudio((s) => s.picked)
  const { property } = row
  const landing = currentAim(property)
  const first = session.edits.firstEdit(property)
  const px = row.kind === 'length' ? pxOf(aim.computed) : null
  const units = picked && px !== null ? inUnits(px, unitContext(picked.report, property)) : []
  const then = (work: () => Promise<unknown>) => () => {
    onClose()
    void work()
  }
  const scale = useStudio((s) => s.scale)
  const tokens = picked ? tokensLike(aim, scale, picked.report) : []
  // A token of the element's own is changed itself.
  const literal = landing?.ref.kind === 'token' ? null : valueOfToken(aim, scale)
  const declared = declarationOf(property)
  const here = declared !== null && declared.current !== null
  return (
    <RowPopover label={`About ${property}`} anchor={anchor} onClose={onClose} side="right">
      {() => (
        <div className={styles.menu} data-testid="row-menu">
          <p className={styles.origin}>
            <code>{property}</code> {originText(aim)}
          </p>
          {aim.without.length > 0 && (
            <ul className={styles.without} aria-label="Declarations without effect">
              {aim.without.map((w, i) => (
                <li key={i} title={w.reason.spec}>
                  <button type="button" onClick={() => setStudio({ source: { path: w.path, line: w.line } })}>
                    <s>{w.text}</s> {w.label}{' '}
                    <span>
                      {w.path.split('/').at(-1)}:{w.line}
                    </span>
                  </button>
                  {w.reason.why}
                </li>
              ))}
            </ul>
          )}
          {units.length > 0 && (
            <div className={styles.group} role="group" aria-label="The same size in another unit">
              {units.map(({ unit, text }) => (
                <button
                  key={unit}
                  type="button"
                  aria-pressed={aim.written?.endsWith(unit) || undefined}
                  title={text}
                  onClick={then(() => session.edits.commit(property, text))}
                >
                  {unit}
                </button>
              ))}
            </div>
          )}
          {row.keywords && (
            <div className={styles.group} role="group" aria-label="Keywords">
              {row.keywords.map((k) => (
                <button
                  key={k}
                  type="button"
                  aria-pressed={aim.written === k || undefined}
                  onClick={then(() => session.edits.commit(property, k))}
                >
                  {k}
                </button>
              ))}
            </div>
          )}
          <div className={styles.actions}>
            {tokens.slice(0, 3).map((text) => (
              <button key={text} type="button" onClick={then(() => session.edits.commit(property, text))}>
                Say <code>{text}</code>, which is the same
              </button>
            ))}
            {literal !== null && (
              <button type="button" onClick={then(() => session.edits.commit(property, literal))}>
                Write <code>{literal}</code> in place of the token
              </button>
            )}
            {first && (
              <button type="button" onClick={then(() => session.edits.reset(property))}>
                Back to {first.before ?? 'nothing'}
              </button>
            )}
            {here && (
              <button type="button" onClick={then(() => session.edits.change('remove', property))}>
                Remove the declaration
              </button>
            )}
            {here && (
              <button type="button" onClick={then(() => session.edits.change('switch-off', property))}>
                Switch it off
              </button>
            )}
            {declared?.off && (
              <button type="button" onClick={then(() => session.edits.change('switch-on', property))}>
                Switch it on again
              </button>
            )}
            {here && (
              <button
                type="button"
                onClick={then(() => session.edits.change(declared.important ? 'make-normal' : 'make-important', property))}
              >
                {declared.important ? 'Make it normal' : 'Make it !important'}
              </button>
            )}
          </div>
          {here && landing?.ref.kind === 'rule' && !/var\(/.test(landing.current ?? '') && (
            <TokenForm property={property} onMake={(name) => then(() => session.edits.makeToken(property, name))()} />
          )}
        </div>
      )}
    </RowPopover>
  )
}

function TokenForm({ property, onMake }: { property: string; onMake: (name: string) => void }) {
  const [name, setName] = useState('')
  return (
    <form
      className={styles.token}
      onSubmit={(e) => {
        e.preventDefault()
        if (name.trim()) onMake(name.trim().replace(/^(--)?/, '--'))
      }}
    >
      <label>
        Turn into a token{' '}
        <input
          aria-label={`Token name for ${property}`}
          placeholder="--name"
          spellCheck={false}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <button type="submit" disabled={!name.trim()}>
        Make it
      </button>
    </form>
  )
}
