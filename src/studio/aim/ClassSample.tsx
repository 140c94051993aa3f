import type { ClassTold } from '../../core/utility'
import styles from './ClassList.module.css'

const WIDEST = 36

/** What a class gives, as a colour or as a length drawn at its size. */
export function ClassSample({ told }: { told: ClassTold }) {
  if (told.color) return <span className={styles.swatch} style={{ background: told.color }} aria-hidden="true" />
  if (told.px === null || told.px <= 0) return <span />
  return <span className={styles.length} style={{ width: Math.min(WIDEST, told.px) }} aria-hidden="true" />
}
