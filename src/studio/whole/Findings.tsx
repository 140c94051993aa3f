'use client'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { MOST_OF_A_RULE, type Finding, type NodeInfo } from '../../agent/protocol'
import { nameOf } from '../aim/names'
import type { Overflowing } from './whole-page'
import { setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { FewOf } from './FewOf'
import { mendFor } from './mends'
import { useLook } from './useLook'
import { wholePage } from './whole-page'
import styles from './WholePanel.module.css'

/** The gravest first. */
const IMPACTS: readonly Finding['impact'][] = ['critical', 'serious', 'moderate', 'minor']

/** Elements of one kind that are listed before all are asked for. */
const FEW = 6

interface Group {
  readonly rule: string
  readonly help: string
  readonly impact: Finding['impact']
  readonly findings: readonly Finding[]
}

function grouped(findings: readonly Finding[]): Group[] {
  const byRule = new Map<string, Finding[]>()
  for (const f of findings) byRule.set(f.rule, [...(byRule.get(f.rule) ?? []), f])
  return [...byRule]
    .map(([rule, list]) => ({ rule, help: list[0].help, impact: list[0].impact, findings: list }))
    .sort((a, b) => IMPACTS.indexOf(a.impact) - IMPACTS.indexOf(b.impact) || b.findings.length - a.findings.length)
}

/** What the page lacks by WCAG 2.2, by kind, each with its element and, where there is one, the edit that mends it; and where it is too wide. */
export function Findings() {
  const { session } = useSession()
  const look = useCallback(() => wholePage(session).findings(), [session])
  const { found, isLooking } = useLook(look, 'page')
  const groups = useMemo(() => grouped(found ?? []), [found])
  return (
    <>
      <p className={styles.said} role="status">
        {isLooking
          ? 'Looking through the page…'
          : found === null
            ? 'The page did not answer.'
            : found.length === 0
              ? 'Nothing found.'
              : `${groups.some((g) => g.findings.length === MOST_OF_A_RULE) ? 'At least ' : ''}${plural(found.length, 'finding')} of ${plural(groups.length, 'kind')}.`}{' '}
        What a program can tell of WCAG 2.2, levels A and AA; frames are not looked into.
      </p>
      {groups.map((g) => (
        <FindingGroup key={g.rule} group={g} />
      ))}
      <Widths />
      <DeadLinks />
    </>
  )
}

function FindingGroup({ group: { help, impact, findings } }: { readonly group: Group }) {
  return (
    <section className={styles.group}>
      <h3>
        {help} <small data-impact={impact}>{impact}</small>
      </h3>
      <FewOf items={findings} few={FEW}>
        {(f) => <FindingRow key={f.info.node} finding={f} />}
      </FewOf>
    </section>
  )
}

function FindingRow({ finding }: { readonly finding: Finding }) {
  const { session } = useSession()
  const chosen = useStudio((s) => s.picked?.report.info.node === finding.info.node)
  const readOnly = useStudio((s) => s.ledger.readOnly !== null)
  const mend = chosen ? mendFor(session, finding) : null
  return (
    <li data-chosen={chosen || undefined}>
      <ElementButton info={finding.info} />
      <span title={finding.why}>{finding.why}</span>
      {mend && (
        <button type="button" className={styles.mend} disabled={readOnly} onClick={() => void mend.make()} data-testid="mend">
          Mend: <code>{mend.words}</code>
        </button>
      )}
    </li>
  )
}

function ElementButton({ info, width }: { readonly info: NodeInfo; readonly width?: number }) {
  const { session } = useSession()
  const choose = () => {
    if (width !== undefined) session.setWidth(width)
    void wholePage(session).choose(info.node)
  }
  return (
    <button type="button" className={styles.element} onClick={choose} onMouseEnter={() => session.selection.pointing.node(info)}>
      {nameOf(info)}
      {info.origin === 'script' && <small>by a script</small>}
    </button>
  )
}

/** Addresses of all pages and sheets that lead to nothing in the project. */
function DeadLinks() {
  const { session } = useSession()
  const look = useCallback(() => wholePage(session).deadLinks(), [session])
  useEffect(() => () => wholePage(session).stopLooking(), [session])
  const { found } = useLook(look, 'project')
  if (!found) return null
  return (
    <section className={styles.group} data-testid="dead-links">
      <h3>Leads nowhere</h3>
      <p className={styles.said}>
        {found.length === 0
          ? 'Every address in pages and sheets leads to something in the project, or elsewhere.'
          : `${plural(found.length, 'link')} of all pages and sheets.`}
      </p>
      <FewOf items={found} few={FEW}>
        {(d, i) => (
          <li key={`${d.path} ${d.line} ${d.url} ${i}`}>
            <button type="button" className={styles.element} onClick={() => setStudio({ source: { path: d.path, line: d.line } })}>
              {d.path}:{d.line}
            </button>
            <span title={d.url}>
              <code>{d.url}</code> {d.of === 'id' ? 'is the id of no element of the page' : 'is no file of the project'}
            </span>
          </li>
        )}
      </FewOf>
    </section>
  )
}

/** At which of the project's widths the page is wider than its window, and what makes it so. */
function Widths() {
  const { session } = useSession()
  const revision = useStudio((s) => s.revision)
  const [found, setFound] = useState<{ readonly of: number; readonly list: readonly Overflowing[] } | null>(null)
  const [progress, setProgress] = useState<string | null>(null)
  const isWanted = useRef(false)
  const widths = wholePage(session).widths()
  const look = async () => {
    isWanted.current = true
    const list = await wholePage(session).overflow(
      (done, of) => setProgress(`At ${widths[done]} px, ${done + 1} of ${of}`),
      () => isWanted.current,
    )
    setProgress(null)
    if (isWanted.current) setFound({ of: revision, list })
  }
  return (
    <section className={styles.group} data-testid="widths">
      <h3>Wider than its window</h3>
      {found && (
        <p className={styles.said}>
          {found.list.length === 0 ? `At none of ${widths.join(', ')} px.` : `At ${found.list.map((o) => o.width).join(', ')} px.`}
          {found.of !== revision && ' It was edited since.'}
        </p>
      )}
      {found?.list.map((o) => (
        <div key={o.width}>
          <h4>At {o.width} px</h4>
          <ul>
            {o.elements.slice(0, FEW).map((info) => (
              <li key={info.node}>
                <ElementButton info={info} width={o.width} />
              </li>
            ))}
          </ul>
        </div>
      ))}
      {progress ? (
        <button type="button" className={styles.more} onClick={() => (isWanted.current = false)}>
          {progress}. Stop
        </button>
      ) : (
        <button type="button" className={styles.more} onClick={() => void look()}>
          {found ? 'Look again' : `Look at ${plural(widths.length, 'width')}: ${widths.join(', ')} px`}
        </button>
      )}
    </section>
  )
}
