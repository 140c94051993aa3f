'use client'
import { Button } from '@mui/material'
import { useEffect, useState } from 'react'
import { REGION_TAGS, whyNotDrawn, type Region, type RegionTag } from '../../core/edit'
import { widthRange } from '../../core/css'
import { NARROW, widthCondition } from '../../core/project'
import { nameOf } from '../aim/names'
import { theDesk, type WouldWrite } from '../../desk'
import { PatchView } from '../keeping/PatchView'
import { setStudio, useStudio, type Drawing } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './BlockOut.module.css'
import { freeCell, guessRegion, sizesIn } from './drawing'

/** What is being drawn over the selected container: its lines, its regions, and where it will be written. */
export function BlockOutPanel({ drawing }: { drawing: Drawing }) {
  const { session } = useSession()
  const picked = useStudio((s) => s.picked)
  const scale = useStudio((s) => s.scale)
  const [writes, setWrites] = useState<WouldWrite | null>(null)
  const [sizes, setSizes] = useState(drawing.columns.join(' '))
  const set = (change: Partial<Drawing>) => setStudio({ drawing: { ...drawing, ...change } })
  const setRegion = (i: number, change: Partial<Region>) =>
    set({ regions: drawing.regions.map((r, k) => (k === i ? { ...r, ...change } : r)), current: i })
  const why = whyNotDrawn(drawing)
  const own = scale.conditions.filter((c) => (widthRange(c)?.min ?? 1) === 0)
  const narrow = [...new Set([...own, widthCondition(scale, 'up to', NARROW)])]

  useEffect(() => {
    let current = true
    const timer = setTimeout(
      () =>
        void (why ? Promise.resolve({ ok: false as const, why }) : theDesk().reading.blockOutWrites(drawing)).then(
          (told) => current && setWrites(told),
        ),
      120,
    )
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [drawing, why])

  const setColumns = (text: string) => {
    setSizes(text)
    const next = sizesIn(text)
    if (next.length > 0 && next.length <= 24) set({ columns: next })
  }
  const addColumn = (by: 1 | -1) =>
    setColumns((by > 0 ? [...drawing.columns, drawing.columns.at(-1) ?? '1fr'] : drawing.columns.slice(0, -1)).join(' '))
  const free = freeCell(drawing)
  const add = () => free && set({ regions: [...drawing.regions, guessRegion(free, drawing)], current: drawing.regions.length })
  const write = async () => {
    if (await session.making.blockOut(drawing)) setStudio({ drawing: null })
  }
  return (
    <section className={styles.panel} aria-label="Block-out">
      <header>
        <h2>
          Block-out over <code>{picked && nameOf(picked.report.info)}</code>
        </h2>
        <button type="button" aria-label="Leave the drawing" onClick={() => setStudio({ drawing: null })}>
          ✕
        </button>
      </header>
      <p className={styles.hint}>Draw regions on the lines over the page; drag one to move it, its corner to size it.</p>
      <div className={styles.fields}>
        <label>
          <span>columns</span>
          <input type="text" value={sizes} spellCheck={false} onChange={(e) => setColumns(e.target.value)} />
          <Less onLess={() => addColumn(-1)} onMore={() => addColumn(1)} what="column" least={drawing.columns.length < 2} />
        </label>
        <label>
          <span>rows</span>
          <output>{drawing.rows}</output>
          <Less
            onLess={() => set({ rows: drawing.rows - 1 })}
            onMore={() => set({ rows: drawing.rows + 1 })}
            what="row"
            least={drawing.rows < 2}
          />
        </label>
        <div className={styles.two}>
          <label>
            <span>gap</span>
            <input type="text" value={drawing.gap} spellCheck={false} onChange={(e) => set({ gap: e.target.value })} />
          </label>
          <label>
            <span>least row height</span>
            <input
              type="text"
              value={drawing.leastRow}
              placeholder="none"
              spellCheck={false}
              onChange={(e) => set({ leastRow: e.target.value })}
            />
          </label>
        </div>
      </div>
      <ol className={styles.regions} aria-label="Regions">
        {drawing.regions.map((region, i) => (
          <li key={i} data-current={i === drawing.current || undefined} onFocus={() => i !== drawing.current && set({ current: i })}>
            <div className={styles.line}>
              <input
                type="text"
                aria-label={`Name of region ${i + 1}`}
                value={region.name}
                onChange={(e) => setRegion(i, { name: e.target.value })}
              />
              <select
                aria-label={`Element of ${region.name}`}
                value={region.source ?? region.tag}
                onChange={(e) =>
                  setRegion(
                    i,
                    REGION_TAGS.includes(e.target.value as RegionTag)
                      ? { tag: e.target.value as RegionTag, source: null }
                      : { source: e.target.value },
                  )
                }
              >
                <optgroup label="New">
                  {REGION_TAGS.filter((t) => t !== 'main' || !drawing.hasMain).map((t) => (
                    <option key={t} value={t}>{`<${t}>`}</option>
                  ))}
                </optgroup>
                {drawing.children.length > 0 && (
                  <optgroup label="It holds">
                    {drawing.children.map((c) => (
                      <option key={c.source} value={c.source}>
                        {c.name}
                      </option>
                    ))}
                  </optgroup>
                )}
              </select>
              <button
                type="button"
                aria-label={`Remove ${region.name}`}
                onClick={() => set({ regions: drawing.regions.filter((_, k) => k !== i), current: -1 })}
              >
                ✕
              </button>
            </div>
            {i === drawing.current && (
              <Lines region={region} columns={drawing.columns.length} rows={drawing.rows} onChange={(change) => setRegion(i, change)} />
            )}
          </li>
        ))}
      </ol>
      <button type="button" className={styles.add} disabled={!free} onClick={add}>
        Add a region
      </button>
      <div className={styles.fields}>
        <label>
          <span>class</span>
          <input type="text" value={drawing.className} spellCheck={false} onChange={(e) => set({ className: e.target.value.trim() })} />
        </label>
        <label>
          <span>sheet</span>
          <select value={drawing.sheet} onChange={(e) => set({ sheet: e.target.value })}>
            {drawing.sheets.map((s) => (
              <option key={s.key} value={s.key}>
                {s.path}
              </option>
            ))}
          </select>
        </label>
        <label>
          <span>in one column</span>
          <select value={drawing.narrow} onChange={(e) => set({ narrow: e.target.value })}>
            <option value="">never</option>
            {narrow.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
        </label>
      </div>
      <div className={styles.text} data-testid="block-out-text">
        {writes?.ok === false && <p className={styles.refused}>{writes.why}</p>}
        {writes?.ok &&
          writes.files.map((f) => (
            <section key={f.path} aria-label={f.path}>
              <h3>{f.path}</h3>
              <PatchView patch={f.patch} />
            </section>
          ))}
      </div>
      <footer>
        <Button color="inherit" onClick={() => setStudio({ drawing: null })}>
          Cancel
        </Button>
        <Button variant="contained" disabled={writes?.ok !== true || why !== null} onClick={() => void write()}>
          Write the layout
        </Button>
      </footer>
    </section>
  )
}

function Less({ onLess, onMore, what, least }: { onLess: () => void; onMore: () => void; what: string; least: boolean }) {
  return (
    <span className={styles.steps}>
      <button type="button" aria-label={`One ${what} less`} disabled={least} onClick={onLess}>
        −
      </button>
      <button type="button" aria-label={`One ${what} more`} onClick={onMore}>
        +
      </button>
    </span>
  )
}

/** The lines that a region stands between, for hands without a pointer. */
function Lines({
  region,
  columns,
  rows,
  onChange,
}: {
  region: Region
  columns: number
  rows: number
  onChange: (change: Partial<Region>) => void
}) {
  const field = (label: string, key: 'column' | 'columnEnd' | 'row' | 'rowEnd', most: number) => (
    <input
      type="number"
      aria-label={`${label} of ${region.name}`}
      min={1}
      max={most}
      value={region[key]}
      onChange={(e) => onChange({ [key]: Number(e.target.value) })}
    />
  )
  return (
    <div className={styles.cells}>
      columns {field('First column line', 'column', columns)} to {field('Last column line', 'columnEnd', columns + 1)}
      rows {field('First row line', 'row', rows)} to {field('Last row line', 'rowEnd', rows + 1)}
    </div>
  )
}
