import type { PropertyAim } from '../../core/aim'
import styles from './Rows.module.css'

/** Where a row's value comes from, told in words on demand: full when the element's own rules set it, hollow when not. */
export function OriginDot({ aim }: { aim: PropertyAim }) {
  const { origin } = aim
  const place = origin.path ? ` (${origin.path}:${origin.line})` : ''
  const text =
    origin.kind === 'initial' ? 'Nothing sets it: this is the initial value, or the browser’s own style'
    : origin.kind === 'inherited' ? `Inherited from ${origin.label}${place}`
    : `Set by ${origin.label}${place}: ${origin.text}`
  const lost = aim.without.map((l) => `\nWithout effect: ${l.label} ${l.text} (${l.path}:${l.line}): ${l.reason.why}`).join('')
  return <span className={styles.dot} data-kind={origin.kind} role="img" aria-label={text} title={text + lost} />
}
