'use client'
import { useEffect, useState } from 'react'
import { mainPlace, resolved, type Theme, type ThemeToken, type TokenPlace } from '../../core/theme'
import { isLengthText, parseColor } from '../../core/value'
import { LiteralPicker } from '../source/LiteralPicker'
import { say, setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { wholePage } from './whole-page'
import styles from './Theme.module.css'
import whole from './WholePanel.module.css'

/** A token's values, each edited where it stands; the elements that show it; another name; and another token in its place. */
export function TokenDetail({ token, theme, onGone }: { readonly token: ThemeToken; readonly theme: Theme; readonly onGone: () => void }) {
  const { session } = useSession()
  const readOnly = useStudio((s) => s.ledger.readOnly !== null)
  const [reach, setReach] = useState<number | null>(null)
  const [to, setTo] = useState(token.name)
  const [into, setInto] = useState('')
  useEffect(() => {
    let isWanted = true
    void wholePage(session)
      .reachOfToken(token.name, mainPlace(token.places)!)
      .then((count) => isWanted && setReach(count))
    return () => {
      isWanted = false
    }
  }, [session, token])
  // One that leads back to this token, by whatever way, would have no value without it.
  const valueOf = (name: string) => (name === token.name ? null : (theme.tokens.find((t) => t.name === name)?.value ?? null))
  const others = theme.tokens.filter((t) => t.name !== token.name && t.kind === token.kind && resolved(t.value, valueOf) !== null)
  return (
    <div className={whole.detail}>
      {deciding(token.places).map((place) => (
        <PlaceField key={`${place.sheet} ${place.rule}`} token={token} theme={theme} place={place} disabled={readOnly} />
      ))}
      <p>
        {reach === null ? 'Looking for what shows it…' : `${plural(reach, 'element')} of this page ${reach === 1 ? 'shows' : 'show'} it. `}
        {reach !== null && reach > 0 && (
          <button type="button" onClick={() => void wholePage(session).chooseUsers(token.name, mainPlace(token.places)!)}>
            Choose {reach === 1 ? 'it' : 'them'}
          </button>
        )}
      </p>
      {token.namesClasses ? (
        <p>Utility classes are named by it, so it keeps its name.</p>
      ) : (
        <>
          <form
            className={styles.line}
            onSubmit={(e) => {
              e.preventDefault()
              void wholePage(session)
                .renameToken(token.name, to.trim())
                .then((done) => done && onGone())
            }}
          >
            <label>
              Name
              <input value={to} spellCheck={false} aria-label="Name of the token" onChange={(e) => setTo(e.target.value)} />
            </label>
            <button type="submit" disabled={readOnly || to.trim() === token.name || to.trim() === ''}>
              Rename everywhere
            </button>
          </form>
          {others.length > 0 && (
            <form
              className={styles.line}
              onSubmit={(e) => {
                e.preventDefault()
                void wholePage(session)
                  .mergeToken(token, into)
                  .then((done) => done && onGone())
              }}
            >
              <label>
                Use instead
                <select value={into} aria-label="Token to use instead" onChange={(e) => setInto(e.target.value)}>
                  <option value="">choose…</option>
                  {others.map((t) => (
                    <option key={t.name} value={t.name}>
                      {t.name}: {t.value}
                    </option>
                  ))}
                </select>
              </label>
              <button type="submit" disabled={readOnly || into === ''}>
                Merge
              </button>
            </form>
          )}
        </>
      )}
    </div>
  )
}

// Of several values in one rule, the last is the one that counts.
const deciding = (places: readonly TokenPlace[]): readonly TokenPlace[] => [
  ...new Map(places.map((p) => [`${p.sheet} ${p.rule}`, p])).values(),
]

/** One value of a token: typed, or chosen while all that uses it follows on the page. */
function PlaceField({
  token,
  theme,
  place,
  disabled,
}: {
  readonly token: ThemeToken
  readonly theme: Theme
  readonly place: TokenPlace
  readonly disabled: boolean
}) {
  const { session } = useSession()
  const [text, setText] = useState(place.value)
  const [at, setAt] = useState<{ readonly left: number; readonly top: number } | null>(null)
  const kind = parseColor(place.value) ? 'color' : isLengthText(place.value) ? 'length' : null
  const write = (value: string) => {
    // A custom property that names itself, by whatever way, has no value (CSS Variables 1 §2.3).
    const valueOf = (name: string) => (name === token.name ? value : (theme.tokens.find((t) => t.name === name)?.value ?? null))
    if (resolved(value, valueOf) === null)
      return say('error', `${token.name} would have no value: ${value} leads to nothing, or back to it.`)
    setText(value)
    if (value !== place.value)
      void wholePage(session)
        .setToken(token.name, place, value)
        .then((done) => done || setText(place.value))
  }
  return (
    <div className={styles.place}>
      <button
        type="button"
        title={`${place.path}:${place.line}`}
        onClick={() => setStudio({ source: { path: place.path, line: place.line } })}
      >
        {place.path.split('/').at(-1)}:{place.line}
      </button>
      {place.under && <span>{place.under}</span>}
      <form
        onSubmit={(e) => {
          e.preventDefault()
          if (text.trim() !== '') write(text.trim())
        }}
      >
        {kind && (
          <button
            type="button"
            className={styles.choose}
            disabled={disabled}
            aria-label={`Choose ${token.name}${place.under ? ` under ${place.under}` : ''}`}
            style={kind === 'color' ? { background: place.value } : undefined}
            onClick={(e) => {
              const box = e.currentTarget.getBoundingClientRect()
              setAt({ left: box.left, top: box.bottom })
            }}
          >
            {kind === 'length' ? '↔' : ''}
          </button>
        )}
        <input
          value={text}
          spellCheck={false}
          disabled={disabled}
          aria-label={`${token.name}${place.under ? ` under ${place.under}` : ''}`}
          onChange={(e) => setText(e.target.value)}
        />
      </form>
      {at && kind && (
        <LiteralPicker
          literal={{ kind, from: 0, to: 0, text: place.value, property: token.name, value: place.value, valueFrom: 0 }}
          at={at}
          onShow={(value) => void wholePage(session).showToken(token.name, place, value)}
          onKeep={(value) => {
            setAt(null)
            write(value)
          }}
          onCancel={() => {
            setAt(null)
            void wholePage(session).hideToken()
          }}
        />
      )}
    </div>
  )
}
