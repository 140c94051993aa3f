'use client'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { type ClassRow, theDesk } from '../../desk'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import { AddClasses } from './AddClasses'
import styles from './ClassList.module.css'
import { ClassSample } from './ClassSample'
import { MakeClass } from './MakeClass'
import { nameOf } from './names'

const STATES: Readonly<Record<ClassRow['state'], string>> = {
  wins: 'counts now',
  loses: 'dead: stronger classes or rules set all that it sets',
  waits: 'waits for its variant',
  rule: 'an ordinary class, with rules of its own',
  unknown: 'nothing in the project knows this class',
}

const OPEN = 'steady-classes-open'
const readOpen = (): boolean => localStorage.getItem(OPEN) !== 'no'
const storeOpen = (open: boolean): void => localStorage.setItem(OPEN, open ? 'yes' : 'no')

/** The classes of the selected element, or of one around it: switched, walked through their families, added. */
export function ClassList({ picked }: { picked: Picked }) {
  const { report } = picked
  const around = report.ancestors.slice(1).filter((a) => a.source !== null && a.classes.length)
  const [of, setOf] = useState(report.info.source!)
  const source = [report.info, ...around].some((a) => a.source === of) ? of : report.info.source!
  const [grouped, setGrouped] = useState(false)
  const [open, setOpen] = useState(readOpen)
  const rows = useClassRows(picked, source)
  const [off, setOff] = useState<readonly Off[]>([])
  const struck = useReplaced(rows, off)
  const all = [
    ...off
      .filter(({ row }) => !rows.some((r) => r.name === row.name))
      .map((o): Shown => ({ ...o.row, sets: 'switched off', off: o.before })),
    ...struck.map((o): Shown => ({ ...o.row, struck: true, off: o.before })),
  ].reduce<readonly Shown[]>((list, row) => {
    const at = list.findLastIndex((r) => row.off!.includes(r.name)) + 1
    return [...list.slice(0, at), row, ...list.slice(at)]
  }, rows)
  const variants = [...new Set(all.map((r) => r.variant))]
  const list = grouped ? variants.flatMap((v) => all.filter((r) => r.variant === v)) : all
  return (
    <section className={styles.panel} aria-label="Classes" data-testid="class-list">
      <div className={styles.head}>
        <button
          type="button"
          className={styles.fold}
          aria-expanded={open}
          onClick={() => {
            setOpen(!open)
            storeOpen(!open)
          }}
        >
          Classes <span>{rows.length}</span>
        </button>
        {open && around.length > 0 && (
          <select aria-label="Whose classes" value={source} onChange={(e) => setOf(e.target.value)}>
            {[report.info, ...around].map((a) => (
              <option key={a.node} value={a.source!}>
                {a === report.info ? 'this element' : nameOf(a)}
              </option>
            ))}
          </select>
        )}
        <span className={styles.room} />
        {open && variants.length > 1 && (
          <button type="button" className={styles.quiet} aria-pressed={grouped} onClick={() => setGrouped(!grouped)}>
            By variant
          </button>
        )}
        {open && <MakeClass source={source} count={rows.length} />}
      </div>
      {open && (
        <>
          <ul className={styles.rows} aria-label="Classes of the list">
            {list.map((row, i) => (
              <Fragmented
                key={row.name}
                head={grouped && (i === 0 || list[i - 1].variant !== row.variant) ? (row.variant ? `${row.variant}:` : 'always') : null}
              >
                <Row
                  row={row}
                  source={source}
                  onOff={(on) =>
                    setOff([
                      ...off.filter((o) => o.row.name !== row.name),
                      ...(on ? [] : [{ row, before: rows.slice(0, rows.indexOf(row)).map((r) => r.name) }]),
                    ])
                  }
                />
              </Fragmented>
            ))}
          </ul>
          <AddClasses source={source} names={rows.map((r) => r.name)} />
        </>
      )}
    </section>
  )
}

/** A class that is not in the list now, with those that stood before it. */
interface Off {
  readonly row: ClassRow
  readonly before: readonly string[]
}

/** A class of the list, or one that was: `off` then has those that stood before it. */
interface Shown extends ClassRow {
  readonly off?: readonly string[]
  readonly struck?: boolean
}

const STRUCK_FOR = 2500

// Classes that another took the place of are shown struck for a moment.
function useReplaced(rows: readonly ClassRow[], off: readonly Off[]): readonly Off[] {
  const [gone, setGone] = useState<readonly Off[]>([])
  const last = useRef(rows)
  const switched = useRef(off)
  useEffect(() => {
    switched.current = off
  })
  useEffect(() => {
    const before = last.current
    last.current = rows
    const names = new Set(rows.map((r) => r.name))
    const isSame = before.filter((r) => names.has(r.name)).length * 2 >= Math.max(1, before.length - 1)
    const left = before.filter((r) => !names.has(r.name) && !switched.current.some((o) => o.row.name === r.name))
    setGone(
      isSame && rows.length >= before.length
        ? left.map((row) => ({ row, before: before.slice(0, before.indexOf(row)).map((r) => r.name) }))
        : [],
    )
    const timer = setTimeout(() => setGone([]), STRUCK_FOR)
    return () => clearTimeout(timer)
  }, [rows])
  return gone
}

function Fragmented({ head, children }: { head: string | null; children: React.ReactNode }) {
  return (
    <>
      {head !== null && <li className={styles.group}>{head}</li>}
      {children}
    </>
  )
}

function useClassRows(picked: Picked, source: string): readonly ClassRow[] {
  const [rows, setRows] = useState<readonly ClassRow[]>([])
  const condition = useStudio((s) => s.condition)
  useEffect(() => {
    let current = true
    const own = picked.report.info.source === source
    void theDesk()
      .reading.classList(source, own ? { ...picked.report, condition } : null)
      .then((found) => {
        if (current) setRows(found)
      })
    return () => {
      current = false
    }
  }, [picked, source, condition])
  return rows
}

/** One class: Space switches it off, left and right walk its family on the page, Enter keeps what is shown. */
function Row({ row, source, onOff }: { row: Shown; source: string; onOff: (on: boolean) => void }) {
  const { session } = useSession()
  const [walk, setWalk] = useState<string | null>(null)
  const family = useRef<readonly string[] | null>(null)
  const intent = (to: string) => ({
    kind: 'change-classes' as const,
    sources: [source],
    remove: [row.name],
    add: [{ name: to, instead: row.name }],
  })
  const keep = () => {
    if (walk === null) return
    setWalk(null)
    if (walk === row.name) void session.edits.cancelPreview()
    else void session.edits.changeClasses(intent(walk))
  }
  const leave = () => {
    setWalk(null)
    void session.edits.cancelPreview()
  }
  const toggle = () => {
    onOff(row.off !== undefined)
    void session.edits.changeClasses({
      kind: 'change-classes',
      sources: [source],
      remove: row.off ? [] : [row.name],
      add: row.off ? [{ name: row.name, after: row.off }] : [],
    })
  }
  const step = async (by: number) => {
    family.current ??= await theDesk().reading.familyOf(row.name)
    const list = family.current
    const at = list.indexOf(walk ?? row.name)
    const next = list[at < 0 ? (by > 0 ? 0 : list.length - 1) : Math.min(list.length - 1, Math.max(0, at + by))]
    if (next === undefined) return
    setWalk(next)
    await session.edits.previewClasses(intent(next))
  }
  const onKeyDown = (e: KeyboardEvent<HTMLLIElement>) => {
    const { key, currentTarget } = e
    if (key === 'ArrowRight' || key === 'ArrowLeft') void step(key === 'ArrowRight' ? 1 : -1)
    else if (key === 'ArrowDown' || key === 'ArrowUp') sibling(currentTarget, key === 'ArrowDown')?.focus()
    else if (key === ' ' || key === 'Delete') toggle()
    else if (key === 'Enter') keep()
    else if (key === 'Escape' && walk !== null) leave()
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  return (
    <li
      className={styles.row}
      tabIndex={0}
      data-state={row.state}
      data-off={row.off !== undefined || undefined}
      data-struck={row.struck || undefined}
      data-walking={walk !== null || undefined}
      data-testid="class-row"
      data-name={row.name}
      title={`${STATES[row.state]}${row.sets ? `: ${row.sets}` : ''}${row.family > 1 ? `. ← → walk its ${row.family} steps, Enter keeps one` : ''}`}
      onKeyDown={onKeyDown}
      onBlur={(e) => e.currentTarget.contains(e.relatedTarget) || keep()}
    >
      <input type="checkbox" tabIndex={-1} checked={!row.off} onChange={toggle} aria-label={`${row.name} is in the list`} />
      <span className={styles.name}>{walk ?? row.name}</span>
      <span className={styles.sets}>
        {row.struck ? (
          'replaced'
        ) : (
          <>
            {row.state === 'loses' && !row.off && <i className={styles.dead}>dead </i>}
            {row.isShared && (
              <i title="Other elements may take it from the same place of the source; an edit there reaches them too">shared </i>
            )}
            {row.when && <i title={`Only where ${row.when}`}>where {row.when} </i>}
            {row.state === 'unknown' ? 'not known here' : row.sets}
          </>
        )}
      </span>
      <ClassSample told={row} />
    </li>
  )
}

const sibling = (e: HTMLElement, next: boolean): HTMLElement | null => {
  const all = [...(e.parentElement?.querySelectorAll<HTMLElement>('[tabindex="0"]') ?? [])]
  return all[all.indexOf(e) + (next ? 1 : -1)] ?? null
}
