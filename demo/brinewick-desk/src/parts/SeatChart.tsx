import type { Crossing } from '../data'
import styles from './SeatChart.module.css'

/** How full each boat is. */
export function SeatChart({ crossings }: { readonly crossings: readonly Crossing[] }) {
  const width = 100 / crossings.length
  return (
    <svg className={styles.chart} viewBox="0 0 100 40" preserveAspectRatio="none" role="img" aria-label="Seats taken">
      {crossings.map((c, i) => (
        <g key={c.leaves}>
          <rect className={styles.bar} x={i * width + 1} y={0} width={width - 2} height={40} />
          <rect className={styles.taken} x={i * width + 1} y={40 - (40 * c.taken) / c.seats} width={width - 2} height={(40 * c.taken) / c.seats} />
        </g>
      ))}
    </svg>
  )
}
