'use client'
import { ResponsiveContainer, Tooltip, Treemap, type TreemapNode } from 'recharts'
import type { FileKind } from '../../core/project'
import type { PageWeight } from '../../desk'
import { FILE_KINDS, kindColor } from './file-kinds'
import { kilobytes } from './kilobytes'
import type { LoadedWeight } from './weight-of-page'
import { lastName, shortened } from './short-names'
import { StackedBars, TOOLTIP } from './StackedBars'
import styles from './Weight.module.css'
import panel from './WholePanel.module.css'

const MAP_HEIGHT = 190

/** Pages that are drawn at most, the heaviest. */
const MOST = 8

/** Room that a letter of a tile's name takes, and a tile's name at all; px. */
const LETTER = 6.2
const LINE = 14

function Kinds({ kinds }: { readonly kinds: readonly FileKind[] }) {
  return (
    <figcaption>
      {kinds.map((kind) => (
        <span key={kind} className={styles.kind}>
          <i style={{ background: kindColor(kind) }} />
          {kind}{' '}
        </span>
      ))}
    </figcaption>
  )
}

/** What the page loads: a tile for each file, as large as what is sent of it. */
export function FileMap({ files }: { readonly files: readonly LoadedWeight[] }) {
  const kinds = FILE_KINDS.filter((kind) => files.some((f) => f.kind === kind && f.packed > 0))
  if (kinds.length === 0) return null
  const data = kinds.map((kind) => ({
    name: kind,
    children: files.filter((f) => f.kind === kind && f.packed > 0).map((f) => ({ name: f.name, kind, packed: f.packed })),
  }))
  return (
    <figure className={panel.chart} aria-label="What the page loads, by what is sent of each file" data-testid="weight-map">
      <ResponsiveContainer width="100%" height={MAP_HEIGHT}>
        <Treemap data={data} dataKey="packed" nameKey="name" isAnimationActive={false} content={Tile}>
          <Tooltip formatter={(value) => kilobytes(Number(value))} contentStyle={TOOLTIP} />
        </Treemap>
      </ResponsiveContainer>
      <Kinds kinds={kinds} />
    </figure>
  )
}

function Tile({ x, y, width, height, name, kind }: TreemapNode) {
  // The whole, and each kind, are drawn as what is in them.
  if (!kind) return <g />
  const letters = Math.floor((width - 8) / LETTER)
  return (
    <g className={styles.tile}>
      <rect x={x} y={y} width={width} height={height} fill={kindColor(kind as FileKind)} stroke="var(--panel)" strokeWidth={1.5} />
      {height > LINE + 4 && letters > 3 && (
        <text x={x + 4} y={y + LINE}>
          {shortened(lastName(name), letters)}
        </text>
      )}
    </g>
  )
}

/** The heaviest pages: bars of what their sources have a browser load, by kind, as it is sent. */
export function PageBars({ pages }: { readonly pages: readonly PageWeight[] }) {
  const rows = pages
    .map(({ page, files }) => {
      const of = (kind: FileKind) => files.reduce((n, f) => (f.kind === kind ? n + f.packed : n), 0)
      const kinds = Object.fromEntries(FILE_KINDS.map((kind) => [kind, of(kind)])) as Record<FileKind, number>
      return { path: page, all: files.reduce((n, f) => n + f.packed, 0), ...kinds }
    })
    .sort((a, b) => b.all - a.all)
    .slice(0, MOST)
  const kinds = FILE_KINDS.filter((kind) => rows.some((r) => r[kind] > 0))
  return (
    <figure className={panel.chart} aria-label="What the pages load, by kind" data-testid="weight-pages">
      <StackedBars rows={rows} parts={kinds.map((kind) => ({ of: kind, words: kind, fill: kindColor(kind) }))} />
      <Kinds kinds={kinds} />
    </figure>
  )
}
