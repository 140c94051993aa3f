'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import type { NodeHandle } from '../../agent/protocol'
import { setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import { SidePanel } from '../ui/SidePanel'
import styles from './OutlinePanel.module.css'
import { useDrag } from '../structure/useDrag'
import { OutlineSearch } from './OutlineSearch'
import { around, foldedAtFirst, outlineOf, unfolded, type OutlineRow } from './rows'

/** As the style sheet has it; px. */
const ROW = 22
/** The share of a row, at its top and bottom, that means beside it and not in it. */
const BESIDE = 0.3
/** Rows drawn beyond what is seen. */
const SPARE = 12

/** The element tree of the page, over its left edge: chosen here is chosen there. Drawn are only the rows that can be seen. */
export function OutlinePanel() {
  const { session } = useSession()
  const tree = useStudio((s) => s.tree)
  const picked = useStudio((s) => s.picked?.report.info.node ?? null)
  const address = useStudio((s) => s.address)
  const rows = useMemo(() => outlineOf(tree ?? []), [tree])
  const [folds, setFolds] = useState<{ of: string; nodes: ReadonlySet<number> } | null>(null)
  const folded = useMemo(() => (folds?.of === address ? folds.nodes : foldedAtFirst(rows)), [folds, address, rows])
  const shown = useMemo(() => unfolded(rows, folded), [rows, folded])
  const [active, setActive] = useState<NodeHandle | null>(null)
  /** The element chosen that was followed last. */
  const [followed, setFollowed] = useState<NodeHandle | null>(null)
  const list = useRef<HTMLDivElement>(null)
  // Its functions change under the compiler, which leaves this component as it is.
  // oxlint-disable-next-line react/incompatible-library
  const drawn = useVirtualizer({
    count: shown.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: SPARE,
  })
  const at = Math.max(
    0,
    shown.findIndex((r) => r.info.node === (active ?? picked)),
  )

  useEffect(() => {
    void session.openOutline(true)
    return () => void session.openOutline(false)
  }, [session])

  const fold = (nodes: readonly NodeHandle[], on: boolean) => {
    const next = new Set(folded)
    for (const n of nodes)
      if (on) next.add(n)
      else next.delete(n)
    setFolds({ of: address, nodes: next })
  }

  // What is chosen on the page is unfolded here, and stands at the keys' place.
  if (picked !== null && picked !== followed && rows.length > 0) {
    setFollowed(picked)
    setActive(picked)
    const row = rows.find((r) => r.info.node === picked)
    const hiding = row
      ? around(rows, row.index)
          .map((r) => r.info.node)
          .filter((n) => folded.has(n))
      : []
    if (hiding.length) fold(hiding, false)
  }

  useEffect(() => {
    const index = shown.findIndex((r) => r.info.node === active)
    // What comes into sight has rows on both sides; what is in sight stays where it is.
    const isSeen = drawn.range !== null && index > drawn.range.startIndex && index < drawn.range.endIndex
    if (index >= 0 && !isSeen) drawn.scrollToIndex(index, { align: 'center' })
  }, [active, shown, drawn])

  const choose = (row: OutlineRow, add = false) => {
    setActive(row.info.node)
    void (add ? session.selection.toggle(row.info.node) : session.selection.pick(row.info.node)).then(() =>
      session.selection.bringIntoView(row.info.node),
    )
  }

  const onKeyDown = (e: KeyboardEvent) => {
    const row = shown[at]
    const go = (index: number) => setActive(shown[Math.max(0, Math.min(shown.length - 1, index))]?.info.node ?? null)
    const isFolded = row && folded.has(row.info.node)
    const actions: Readonly<Record<string, () => void>> = {
      ArrowDown: () => go(at + 1),
      ArrowUp: () => go(at - 1),
      Home: () => go(0),
      End: () => go(shown.length - 1),
      PageDown: () => go(at + 15),
      PageUp: () => go(at - 15),
      ArrowRight: () => row?.hasChildren && (isFolded ? fold([row.info.node], false) : go(at + 1)),
      ArrowLeft: () =>
        row && (row.hasChildren && !isFolded ? fold([row.info.node], true) : row.parent >= 0 && setActive(rows[row.parent].info.node)),
      Enter: () => row && choose(row),
      ' ': () => row && choose(row),
      o: () => setStudio({ outline: false }),
      '*': () =>
        row &&
        fold(
          rows.filter((r) => r.parent === row.parent && r.hasChildren).map((r) => r.info.node),
          false,
        ),
    }
    const steps: Readonly<Record<string, 'back' | 'on' | 'out' | 'in'>> = {
      ArrowUp: 'back',
      ArrowDown: 'on',
      ArrowLeft: 'out',
      ArrowRight: 'in',
    }
    if (row && e.altKey && steps[e.key]) {
      e.preventDefault()
      e.stopPropagation()
      void session.selection.pick(row.info.node).then(() => session.structure.step(steps[e.key]))
      return
    }
    if (row && e.key === 'Delete') {
      e.stopPropagation()
      void session.selection.pick(row.info.node).then(() => session.structure.remove())
      return
    }
    if (!actions[e.key] || e.ctrlKey || e.metaKey || e.altKey) return
    e.preventDefault()
    e.stopPropagation()
    actions[e.key]()
  }

  const drop = useStudio((s) => s.drop)
  const [over, setOver] = useState<{ index: number; where: 'before' | 'after' | 'last' } | null>(null)
  const drag = useDrag(async (_, y) => {
    const element = list.current!
    const { top, bottom } = element.getBoundingClientRect()
    // Held near an end, what is beyond it comes into sight.
    if (y < top + ROW) element.scrollTop -= ROW
    else if (y > bottom - ROW) element.scrollTop += ROW
    const line = (y - top + element.scrollTop) / ROW
    const index = Math.max(0, Math.min(shown.length - 1, Math.floor(line)))
    const where = line - index < BESIDE ? 'before' : line - index > 1 - BESIDE ? 'after' : 'last'
    setOver({ index, where })
    const source = shown[index]?.info.source ?? null
    return source === null
      ? { place: null, words: 'no file has a tag for it', mark: null, within: false }
      : session.structure.dropOn({ source, where })
  })

  return (
    <SidePanel title="Outline" said={`${rows.length} elements`} testId="outline" onClose={() => setStudio({ outline: false })}>
      <OutlineSearch onFound={setActive} onDown={() => list.current?.focus()} />
      <div
        ref={list}
        className={styles.list}
        role="tree"
        tabIndex={0}
        aria-label="Elements of the page"
        aria-activedescendant={shown[at] ? `outline-${shown[at].info.node}` : undefined}
        onPointerDown={(e) => {
          const row = shown[Math.floor((e.clientY - e.currentTarget.getBoundingClientRect().top + e.currentTarget.scrollTop) / ROW)]
          if (e.button !== 0 || e.shiftKey || !row?.info.source || (e.target instanceof HTMLElement && e.target.tagName === 'I')) return
          drag(e)
          if (row.info.node !== picked) void session.selection.pick(row.info.node)
        }}
        onKeyDown={onKeyDown}
        onMouseLeave={() => session.selection.pointing.nothing()}
      >
        <div style={{ height: drawn.getTotalSize(), position: 'relative' }} role="presentation">
          {drawn.getVirtualItems().map(({ index, start }) => {
            const row = shown[index]
            return (
              <div
                key={row.info.node}
                id={`outline-${row.info.node}`}
                role="treeitem"
                aria-level={row.depth + 1}
                aria-posinset={row.place}
                aria-setsize={row.of}
                aria-selected={row.info.node === picked}
                aria-expanded={row.hasChildren ? !folded.has(row.info.node) : undefined}
                className={styles.row}
                data-active={index === at || undefined}
                data-drop={drop && over?.index === index ? (drop.place ? over.where : 'refused') : undefined}
                data-hidden={row.hidden || undefined}
                style={{ top: start, paddingLeft: 6 + row.depth * 12 }}
                onClick={(e) => choose(row, e.shiftKey)}
                onMouseEnter={() => session.selection.pointing.node(row.info)}
              >
                <i
                  aria-hidden="true"
                  onClick={(e) => {
                    e.stopPropagation()
                    if (row.hasChildren) fold([row.info.node], !folded.has(row.info.node))
                  }}
                >
                  {row.hasChildren ? (folded.has(row.info.node) ? '▸' : '▾') : ''}
                </i>
                {row.component && <small data-kind="component">{row.component}</small>}
                <b>{row.info.tag}</b>
                {row.info.id && <span>#{row.info.id}</span>}
                {row.info.classes.map((c) => (
                  <span key={c}>.{c}</span>
                ))}
                {row.info.twin !== null && <small>{row.info.twin}</small>}
                {row.layout && <small>{row.layout}</small>}
                {row.info.origin === 'script' && <small data-kind="script">by a script</small>}
                {row.info.origin === 'parser' && <small>no tag</small>}
                {row.text && <em>{row.text}</em>}
              </div>
            )
          })}
        </div>
      </div>
      {drop && (
        <p className={styles.drop} data-refused={!drop.place || undefined} role="status">
          {drop.place ? drop.words : `Not here: ${drop.words}`}
        </p>
      )}
    </SidePanel>
  )
}
