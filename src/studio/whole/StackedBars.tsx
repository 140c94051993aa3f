'use client'
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { kilobytes } from './kilobytes'
import { lastName, shortened } from './short-names'

/** The height of a bar with the room around it; px. */
const ROW = 26
const AXIS = 24

/** Letters of a name that there is room for. */
const ROOM = 17

/** What floats over a chart. */
export const TOOLTIP = { background: 'var(--panel)', border: '1px solid var(--hairline)', fontSize: 12 }

/** One row for each file, by its `path`, with what it is made of beside one another: bytes under the names of `parts`. */
export function StackedBars({
  rows,
  parts,
}: {
  readonly rows: readonly { readonly path: string }[]
  readonly parts: readonly { readonly of: string; readonly words: string; readonly fill: string }[]
}) {
  return (
    <ResponsiveContainer width="100%" height={rows.length * ROW + AXIS}>
      <BarChart
        data={[...rows]}
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
          tickFormatter={(path: string) => shortened(lastName(path), ROOM)}
          width={112}
          tick={{ fontSize: 11, fill: 'var(--ink)' }}
          stroke="var(--hairline)"
        />
        <Tooltip formatter={(value) => kilobytes(Number(value))} contentStyle={TOOLTIP} cursor={false} />
        {parts.map(({ of, words, fill }) => (
          <Bar key={of} dataKey={of} name={words} stackId="size" fill={fill} isAnimationActive={false} />
        ))}
      </BarChart>
    </ResponsiveContainer>
  )
}
