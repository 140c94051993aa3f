'use client'
import { useCallback, useState } from 'react'
import type { ColorPair, Ramp, Theme, ThemeToken, TokenKind } from '../../core/theme'
import { setStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { RampPuller } from './RampPuller'
import { TokenDetail } from './TokenDetail'
import { TokenFiles } from './TokenFiles'
import { useLook } from './useLook'
import { wholePage } from './whole-page'
import styles from './Theme.module.css'
import whole from './WholePanel.module.css'

const GROUPS: readonly (readonly [kind: TokenKind, words: string])[] = [
  ['color', 'Colours'],
  ['length', 'Lengths'],
  ['face', 'Faces'],
  ['shadow', 'Shadows'],
  ['other', 'Others'],
]

/** The least contrast of text of ordinary size (WCAG 2.2 §1.4.3). */
const LEAST = 4.5

/** px a length is drawn as at most. */
const MOST_DRAWN = 90

/** The project's tokens on one board: colours in ramps, lengths as long as they are, and what uses each; each is edited here. */
export function ThemeBoard() {
  const { session } = useSession()
  const look = useCallback(() => wholePage(session).theme(), [session])
  const { found, isLooking } = useLook(look, 'project')
  const [open, setOpen] = useState<string | null>(null)
  if (!found)
    return (
      <p className={whole.said} role="status">
        {isLooking ? 'Reading the project’s tokens…' : 'They were not read to the end.'}
      </p>
    )
  const { tokens, ramps, pairs } = found
  const inRamps = new Set(ramps.flatMap((r) => r.tokens))
  const shown = tokens.find((t) => t.name === open) ?? null
  const press = (name: string) => setOpen(open === name ? null : name)
  const detail = (names: readonly string[]) =>
    shown && names.includes(shown.name) ? <TokenDetail key={shown.name} token={shown} theme={found} onGone={() => setOpen(null)} /> : null
  return (
    <>
      <p className={whole.said} role="status">
        {saidOf(found)}
      </p>
      {ramps.map((ramp) => (
        <RampRow key={ramp.name} ramp={ramp} tokens={tokens} open={open} onPress={press}>
          {detail(ramp.tokens)}
        </RampRow>
      ))}
      {GROUPS.map(([kind, words]) => {
        const own = tokens.filter((t) => t.kind === kind && !inRamps.has(t.name))
        return own.length === 0 ? null : (
          <section key={kind} className={whole.group}>
            <h3>{words}</h3>
            <ul>
              {own.map((t) => (
                <li key={t.name} data-chosen={open === t.name || undefined}>
                  <TokenRow token={t} isOpen={open === t.name} onPress={() => press(t.name)} />
                  {detail([t.name])}
                </li>
              ))}
            </ul>
          </section>
        )
      })}
      {pairs.length > 0 && <Pairs pairs={pairs} tokens={tokens} />}
      <TokenFiles hasTokens={tokens.length > 0} />
    </>
  )
}

function saidOf({ tokens }: Theme): string {
  if (tokens.length === 0) return 'The project’s own sheets define no custom property at their root.'
  const unused = tokens.filter((t) => t.isUnused).length
  const files = new Set(tokens.flatMap((t) => t.places.map((p) => p.path))).size
  return `${plural(tokens.length, 'token')} in ${plural(files, 'file')}${unused ? `; ${unused} that nothing names` : ''}. An edit of one reaches all pages that use it.`
}

function RampRow({
  ramp,
  tokens,
  open,
  onPress,
  children,
}: {
  readonly ramp: Ramp
  readonly tokens: readonly ThemeToken[]
  readonly open: string | null
  readonly onPress: (name: string) => void
  readonly children: React.ReactNode
}) {
  const steps = ramp.tokens.map((name) => tokens.find((t) => t.name === name)!)
  return (
    <section className={whole.group}>
      <h3>{ramp.name.replace(/-$/, '')}</h3>
      <div className={styles.ramp} role="group" aria-label={`Steps of ${ramp.name}`}>
        {steps.map((t) => (
          <button
            key={t.name}
            type="button"
            aria-expanded={open === t.name}
            aria-label={`${t.name}, ${t.value}`}
            title={`${t.name}: ${t.value}, used ${t.uses} times`}
            onClick={() => onPress(t.name)}
          >
            <i style={{ background: t.resolved ?? undefined }} />
            <span>{t.name.slice(ramp.name.length).replace(/^-/, '')}</span>
          </button>
        ))}
      </div>
      <RampPuller steps={steps} />
      {children}
    </section>
  )
}

function TokenRow({ token, isOpen, onPress }: { readonly token: ThemeToken; readonly isOpen: boolean; readonly onPress: () => void }) {
  const { name, kind, value, resolved, isUnused, like, uses } = token
  const width = kind === 'length' && /^-?[\d.]+(px|rem)$/.test(resolved ?? '') ? lengthOf(resolved!) : null
  return (
    <button type="button" className={styles.token} aria-expanded={isOpen} onClick={onPress} title={`${name}: ${value}`}>
      {kind === 'color' && <i style={{ background: resolved ?? undefined }} aria-hidden="true" />}
      <code>{name}</code>
      <span>{value}</span>
      {width !== null && <b style={{ width }} aria-hidden="true" />}
      {isUnused && <small data-impact="moderate">nothing names it</small>}
      {!isUnused && <small>{uses === 0 ? 'named by scripts or classes' : `used ${uses}×`}</small>}
      {like && <small data-impact="moderate">{`${like.isSame ? 'the same as' : 'nearly'} ${like.name}`}</small>}
    </button>
  )
}

const lengthOf = (text: string): number => Math.min(MOST_DRAWN, Math.abs(Number.parseFloat(text)) * (text.endsWith('rem') ? 16 : 1))

/** Tokens that rules use on each other, the one with the least contrast first. */
function Pairs({ pairs, tokens }: { readonly pairs: readonly ColorPair[]; readonly tokens: readonly ThemeToken[] }) {
  const colorOf = (name: string) => tokens.find((t) => t.name === name)?.resolved ?? undefined
  return (
    <section className={whole.group}>
      <h3>On each other</h3>
      <ul>
        {pairs.map((p) => (
          <li key={`${p.text} ${p.ground}`} className={styles.pair}>
            <i style={{ color: colorOf(p.text), background: colorOf(p.ground) }} aria-hidden="true">
              Aa
            </i>
            <button
              type="button"
              className={whole.element}
              title={`${p.selector} (${p.path}:${p.line})`}
              onClick={() => setStudio({ source: { path: p.path, line: p.line } })}
            >
              {p.text} on {p.ground}
            </button>
            <small data-impact={p.contrast < LEAST ? 'moderate' : undefined}>{p.contrast.toFixed(1)} : 1</small>
          </li>
        ))}
      </ul>
    </section>
  )
}
