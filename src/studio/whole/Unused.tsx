'use client'
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from 'react'
import type { UnusedRule } from '../../core/project'
import { setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { FewOf } from './FewOf'
import { kilobytes } from './kilobytes'
import { useLook } from './useLook'
import { wholePage } from './whole-page'
import styles from './WholePanel.module.css'

const SheetChart = lazy(() => import('./SheetChart').then((m) => ({ default: m.SheetChart })))

/** Rules that are listed of one sheet before all are asked for. */
const FEW = 12

const keyOf = (r: UnusedRule): string => `${r.sheet} ${r.rule}`

/** The rules of the project's own sheets that nothing in its sources matches: how much they are, and which are taken out. */
export function Unused() {
  const { session } = useSession()
  const look = useCallback(() => wholePage(session).unused(), [session])
  useEffect(() => () => wholePage(session).stopLooking(), [session])
  const { found, isLooking } = useLook(look, 'project')
  const readOnly = useStudio((s) => s.ledger.readOnly !== null)
  // What a script may make is not chosen unless a person does.
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set())
  const isChosen = (r: UnusedRule) => (r.named === null) !== turned.has(keyOf(r))
  const bySheet = useMemo(() => {
    const out = new Map<string, UnusedRule[]>()
    for (const r of found?.rules ?? []) out.set(r.path, [...(out.get(r.path) ?? []), r])
    return [...out]
  }, [found])
  if (!found)
    return (
      <p className={styles.said} role="status">
        {isLooking ? 'Reading all pages and sheets…' : 'It was not looked for to the end.'}
      </p>
    )
  const chosen = found.rules.filter(isChosen)
  const size = (rules: readonly UnusedRule[]) => kilobytes(rules.reduce((n, r) => n + r.size, 0))
  const turn = (r: UnusedRule) => {
    const next = new Set(turned)
    if (!next.delete(keyOf(r))) next.add(keyOf(r))
    setTurned(next)
  }
  return (
    <>
      <p className={styles.said} role="status">
        {found.rules.length === 0
          ? 'Every rule of the project’s own sheets matches something.'
          : `${plural(found.rules.length, 'rule')} (${size(found.rules)}) match no element of any page, whatever its state and at any width.`}{' '}
        {found.hasScripts && 'Scripts can make what no source says: those whose names a script says are not chosen.'}
      </p>
      <Suspense>
        <SheetChart sheets={found.sheets} />
      </Suspense>
      {bySheet.map(([path, rules]) => (
        <SheetRules key={path} path={path} rules={rules} isChosen={isChosen} onTurn={turn} />
      ))}
      {found.rules.length > 0 && (
        <p className={styles.take}>
          <button
            type="button"
            disabled={chosen.length === 0 || readOnly}
            onClick={() => void wholePage(session).removeRules(chosen)}
            data-testid="remove-unused"
          >
            Take {plural(chosen.length, 'rule')} out ({size(chosen)})
          </button>
        </p>
      )}
    </>
  )
}

function SheetRules({
  path,
  rules,
  isChosen,
  onTurn,
}: {
  readonly path: string
  readonly rules: readonly UnusedRule[]
  readonly isChosen: (r: UnusedRule) => boolean
  readonly onTurn: (r: UnusedRule) => void
}) {
  return (
    <section className={styles.group}>
      <h3>{path}</h3>
      <FewOf items={rules} few={FEW}>
        {(r) => (
          <li key={keyOf(r)} className={styles.rule}>
            <input type="checkbox" checked={isChosen(r)} onChange={() => onTurn(r)} aria-label={`Take ${r.selector} out`} />
            <button
              type="button"
              className={styles.element}
              title={r.selector}
              onClick={() => setStudio({ source: { path: r.path, line: r.line } })}
            >
              {r.line} {r.selector}
            </button>
            {r.named !== null && <small data-impact="moderate">a script says {r.named}</small>}
          </li>
        )}
      </FewOf>
    </section>
  )
}
