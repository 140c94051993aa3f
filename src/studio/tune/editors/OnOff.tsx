import styles from './Editors.module.css'

/** Switches one item of a list off without losing it, and on again. */
export function OnOff({ what, off, onToggle }: { what: string; off: boolean; onToggle: (() => void) | null }) {
  if (!onToggle) return null
  return (
    <button
      type="button"
      role="switch"
      className={styles.onOff}
      aria-checked={!off}
      aria-label={`${what} is on`}
      title={off ? 'Off: a comment in the source' : 'Switch it off'}
      onClick={onToggle}
    />
  )
}
