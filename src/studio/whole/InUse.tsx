'use client'
import { useCallback, useEffect, useMemo, useState } from 'react'
import type { UsedFace } from '../../agent/protocol'
import { recolorable, type ColorPlace } from '../../core/project'
import { parseColor } from '../../core/value'
import { say, setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { inNotations, listColors, themeColors, type ListedColor } from './colors'
import { FewOf } from './FewOf'
import { useLook } from './useLook'
import { wholePage } from './whole-page'
import styles from './WholePanel.module.css'

/** Declarations that are listed before all are asked for. */
const FEW = 8

/** Every face and colour that the page shows, the most used first; one chosen is chosen on the page, and a colour is replaced in the sheets. */
export function InUse() {
  const { session } = useSession()
  const look = useCallback(() => wholePage(session).inUse(), [session])
  const { found, isLooking } = useLook(look, 'page')
  const tokens = useStudio((s) => s.scale.tokens)
  const colors = useMemo(() => listColors(found?.colors ?? [], tokens), [found, tokens])
  const [open, setOpen] = useState<string | null>(null)
  const hasTheme = themeColors(tokens).length > 0
  if (!found)
    return (
      <p className={styles.said} role="status">
        {isLooking ? 'Looking through the page…' : 'The page did not answer.'}
      </p>
    )
  return (
    <>
      <p className={styles.said} role="status">
        {plural(colors.length, 'colour')} and {plural(found.faces.length, 'face')} as the page shows them now, frames of the same site
        included, pictures not.
      </p>
      <section className={styles.group}>
        <h3>Colours</h3>
        <ul>
          {colors.map((c) => (
            <li key={c.color} data-chosen={open === c.color || undefined}>
              <button
                type="button"
                className={styles.color}
                aria-expanded={open === c.color}
                onClick={() => {
                  setOpen(open === c.color ? null : c.color)
                  if (open !== c.color) void wholePage(session).chooseAll(c.nodes)
                }}
              >
                <i style={{ background: c.color }} aria-hidden="true" />
                <code>{c.short}</code>
                <span>{c.roles}</span>
                {c.token && <small>{c.token}</small>}
                {!c.token && hasTheme && <small data-impact="moderate">not of the theme</small>}
                {c.near && <small data-impact="moderate">nearly {c.near}</small>}
              </button>
              {open === c.color && <ColorDetail color={c} />}
            </li>
          ))}
        </ul>
      </section>
      <section className={styles.group}>
        <h3>Faces</h3>
        <ul>
          {found.faces.map((f) => (
            <li key={`${f.family} ${f.weight} ${f.style} ${f.size}`}>
              <button type="button" className={styles.element} onClick={() => void wholePage(session).chooseAll(f.nodes)}>
                {f.family} {f.weight}
                {f.style === 'normal' ? '' : ` ${f.style}`} {sizeOf(f)}
              </button>
              <span>
                {plural(f.characters, 'character')} in {plural(f.count, 'element')}
              </span>
            </li>
          ))}
        </ul>
      </section>
    </>
  )
}

const sizeOf = ({ size }: UsedFace): string => `${Math.round(parseFloat(size) * 100) / 100}px`

/** A field and what is done with what is typed in it, wherever the sheets say a colour. */
function ColorForm({
  says,
  value,
  placeholder,
  testId,
  action,
  isAllowed,
  swatch = null,
  onType,
  onWrite,
}: {
  readonly says: string
  readonly value: string
  readonly placeholder: string
  readonly testId: string
  readonly action: string
  readonly isAllowed: boolean
  readonly swatch?: string | null
  readonly onType: (text: string) => void
  readonly onWrite: () => void
}) {
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        if (isAllowed) onWrite()
      }}
    >
      <label>
        {says}
        <input value={value} spellCheck={false} placeholder={placeholder} onChange={(e) => onType(e.target.value)} data-testid={testId} />
      </label>
      {swatch !== null && <i style={{ background: swatch }} aria-hidden="true" />}
      <button type="submit" disabled={!isAllowed}>
        {action}
      </button>
    </form>
  )
}

function ColorDetail({ color: { color, count, nodes, token: known } }: { readonly color: ListedColor }) {
  const { session } = useSession()
  const revision = useStudio((s) => s.revision)
  const readOnly = useStudio((s) => s.ledger.readOnly !== null)
  const [read, setRead] = useState<{ readonly of: number; readonly places: readonly ColorPlace[] } | null>(null)
  const places = read?.places ?? null
  const [to, setTo] = useState('')
  const [token, setToken] = useState('')
  const isColor = parseColor(to) !== null || /^var\(\s*--[^\s,)]+\s*\)$/.test(to.trim())
  useEffect(() => {
    let isWanted = true
    void wholePage(session)
      .placesOf(color)
      .then((found) => isWanted && setRead({ of: revision, places: found }))
    return () => {
      isWanted = false
    }
  }, [session, color, revision])
  const copy = (text: string) =>
    void navigator.clipboard.writeText(text).then(
      () => say('info', `${text} is copied.`),
      () => say('error', 'The browser does not let it be copied.'),
    )
  return (
    <div className={styles.detail}>
      <p>
        {plural(count, 'element')} of this page{nodes.length < count ? `, the first ${nodes.length} of them chosen` : ', chosen'}. Copy it
        as{' '}
        {inNotations(color).map(({ name, text }) => (
          <button key={name} type="button" title={text} onClick={() => copy(text)}>
            {name}
          </button>
        ))}
      </p>
      {places && places.length === 0 && (
        <p>No style sheet of the project says it: it comes from classes, attributes, a library or a mix.</p>
      )}
      {places && places.length > 0 && (
        <>
          <FewOf items={places} few={FEW}>
            {(p) => (
              <li key={`${p.sheet} ${p.rule} ${p.name}`}>
                <button type="button" onClick={() => setStudio({ source: { path: p.path, line: p.line } })}>
                  {p.path}:{p.line}
                </button>{' '}
                <code title={p.selector}>
                  {p.name}: {p.value}
                </code>
              </li>
            )}
          </FewOf>
          <ColorForm
            says={`Replace in ${plural(recolorable(places, to).length, 'declaration')} with`}
            value={to}
            placeholder="#0f5b66"
            testId="replace-color"
            action="Write"
            isAllowed={isColor && !readOnly}
            swatch={isColor ? to : null}
            onType={setTo}
            onWrite={() =>
              void wholePage(session)
                .replaceColor(color, to.trim(), count)
                .then((done) => done && setTo(''))
            }
          />
          {known === null && (
            <ColorForm
              says={`Give it a name in ${plural(places.length, 'declaration')}`}
              value={token}
              placeholder="--tide"
              testId="name-color"
              action="Make a token"
              isAllowed={/^(--)?[\w-]+$/.test(token.trim()) && !readOnly}
              onType={setToken}
              onWrite={() =>
                void wholePage(session)
                  .nameColor(color, token.trim(), count)
                  .then((done) => done && setToken(''))
              }
            />
          )}
        </>
      )}
    </div>
  )
}
