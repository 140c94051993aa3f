'use client'
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import type { SheetUse } from '../../core/project'
import { kilobytes } from './kilobytes'
import styles from './WholePanel.module.css'

/** Sheets that are drawn at most, the largest. */
const MOST = 8

/** The height of a sheet's bar with the room around it; px. */
const ROW = 26
const AXIS = 24

/** Letters of a name that there is room for. */
const ROOM = 17

function nameOf(path: string): string {
  const name = path.split('/').at(-1)!
  return name.length > ROOM ? `${name.slice(0, ROOM - 1)}…` : name
}

/** How much of each sheet is used: bars of their rules, those that match something and those that do not. */
export function SheetChart({ sheets }: { readonly sheets: readonly SheetUse[] }) {
  const rows = [...sheets]
    .sort((a, b) => b.size - a.size)
    .slice(0, MOST)
    .map((s) => ({ path: s.path, used: s.size - s.unused, unused: s.unused }))
  if (rows.length === 0) return null
  return (
    <figure className={styles.chart} aria-label="How much of each sheet is used" data-testid="sheet-chart">
      <ResponsiveContainer width="100%" height={rows.length * ROW + AXIS}>
        <BarChart
          data={rows}
          layout="vertical"
          margin={{ top: 0, right: 8, bottom: 0, left: 0 }}
          barCategoryGap={5}
          accessibilityLayer={false}
        >
          <XAxis
            type="number"
            tickFormatter={kilobytes}
            tickCount={3}
            tick={{ fontSize: 11, fill: 'var(--quiet)' }}
            stroke="var(--hairline)"
          />
          <YAxis
            type="category"
            dataKey="path"
            tickFormatter={nameOf}
            width={112}
            tick={{ fontSize: 11, fill: 'var(--ink)' }}
            stroke="var(--hairline)"
          />
          <Tooltip
            formatter={(value, of) => [kilobytes(Number(value)), of === 'used' ? 'matches something' : 'matches nothing']}
            contentStyle={{ background: 'var(--panel)', border: '1px solid var(--hairline)', fontSize: 12 }}
            cursor={false}
          />
          <Bar dataKey="used" stackId="size" fill="var(--primary)" isAnimationActive={false} />
          <Bar dataKey="unused" stackId="size" fill="var(--warning)" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
      <table className={styles.hidden}>
        <caption>How much of each sheet is used</caption>
        <thead>
          <tr>
            <th>Sheet</th>
            <th>Matches something</th>
            <th>Matches nothing</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.path}>
              <th>{r.path}</th>
              <td>{kilobytes(r.used)}</td>
              <td>{kilobytes(r.unused)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <figcaption>
        <i data-of="used" /> matches something <i data-of="unused" /> matches nothing
      </figcaption>
    </figure>
  )
}
