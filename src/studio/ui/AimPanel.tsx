'use client'
import { useState } from 'react'
import type { Candidate } from '../../core/aim'
import type { NodeInfo } from '../../agent/protocol'
import { setStudio, useStudio, type Picked } from '../store'
import styles from './AimPanel.module.css'
import { useSession } from './SessionContext'

const nameOf = (n: NodeInfo): string => n.tag + (n.id ? `#${n.id}` : n.classes[0] ? `.${n.classes[0]}` : '')

/** Who is chosen and where the next edit lands; always in sight above Tune. */
export function AimPanel() {
  const picked = useStudio((s) => s.picked)
  const mode = useStudio((s) => s.mode)
  return (
    <section className={styles.panel} aria-label="Aim" data-testid="aim" data-node={picked?.report.info.node}>
      {picked ? <Chosen picked={picked} /> : (
        <p className={styles.hint}>
          {mode === 'pick' ? 'Point at the page and click an element to adjust it.' : 'The page is yours to use. Switch to Pick to choose an element.'}
        </p>
      )}
    </section>
  )
}

function Chosen({ picked }: { picked: Picked }) {
  const { info, nearestSource } = picked.report
  return (
    <>
      <Path picked={picked} />
      {info.source === null ? <NotInSource info={info} nearest={nearestSource} place={picked.place} /> : <Landing picked={picked} />}
    </>
  )
}

/** What fits on the line of the ancestor path, in letters of the code face. */
const PATH_LETTERS = 42

function Path({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const path = [...picked.report.ancestors].reverse().filter((n) => n.tag !== 'html')
  // The nearest ancestors tell most; the rest fold into the first.
  const shown = path.filter((_, i) => path.slice(i).reduce((n, p) => n + nameOf(p).length + 3, 0) <= PATH_LETTERS || i === path.length - 1)
  return (
    <nav className={styles.path} aria-label="Ancestors">
      {shown.length < path.length && <span aria-hidden="true">… › </span>}
      {shown.map((n, i) => (
        <span key={n.node}>
          {i > 0 && <i aria-hidden="true"> › </i>}
          <button type="button" aria-current={i === shown.length - 1 ? 'true' : undefined} onClick={() => void session.selection.pick(n.node)}>{nameOf(n)}</button>
        </span>
      ))}
    </nav>
  )
}

function NotInSource({ info, nearest, place }: { info: NodeInfo; nearest: NodeInfo | null; place: Picked['place'] }) {
  const { session } = useSession()
  return (
    <div className={styles.warning} data-testid="not-in-source">
      {info.origin === 'script'
        ? <>A script made this <code>{info.tag}</code> while the page ran, so no file has it.</>
        : <>The HTML parser adds this <code>{info.tag}</code>; the file has no tag for it.</>}
      {nearest && (
        <button type="button" onClick={() => void session.selection.pick(nearest.node)}>
          Choose <code>{nameOf(nearest)}</code>, its nearest element in the source{place && ` (${place.path}:${place.line})`}
        </button>
      )}
    </div>
  )
}

function Landing({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const property = useStudio((s) => s.property)
  const chosen = useStudio((s) => s.chosen)
  const [open, setOpen] = useState(false)
  const aim = picked.aims.get(property)
  const index = chosen[property] ?? aim?.chosen ?? -1
  const candidate = aim?.candidates[index]
  if (!aim || !candidate) {
    return <div className={styles.warning}>There is no place in the source where <code>{property}</code> of this element could be written.</div>
  }
  return (
    <div className={styles.landing}>
      <div className={styles.rule}>
        <strong className={styles.selector} title={candidate.label} data-testid="aim-label">{candidate.label}</strong>
        {candidate.specificity && <span className={styles.specificity} title="Specificity: ids, classes, types">{candidate.specificity.join(',')}</span>}
        <button type="button" className={styles.file} data-testid="aim-place" title={`${candidate.path}:${candidate.line}`} onClick={() => setStudio({ source: { path: candidate.path, line: candidate.line } })}>
          {candidate.path.split('/').at(-1)} : {candidate.line}
        </button>
      </div>
      <ReachLine candidate={candidate} />
      {candidate.conditions.length > 0 && <div className={styles.condition}>only {candidate.conditions.join(' ')}</div>}
      {!candidate.wins && <div className={styles.warning}>An edit here would lose to {candidate.losesTo}</div>}
      {aim.candidates.length === 1 ? <span className={styles.more}>the one place for {property}</span> : (
        <button type="button" className={styles.more} aria-expanded={open} onClick={() => setOpen(!open)}>
          {aim.candidates.length - 1} other {aim.candidates.length === 2 ? 'place' : 'places'} for {property}
        </button>
      )}
      {open && (
        <div role="radiogroup" aria-label={`Where ${property} can be written`} className={styles.list}>
          {aim.candidates.map((c, i) => (
            <button key={i} type="button" role="radio" aria-checked={i === index} onClick={() => session.selection.chooseAim(property, i)} data-testid="candidate">
              <span className={styles.selector}>{c.label}</span>
              <span className={styles.where}>{c.path.split('/').at(-1)}:{c.line}</span>
              <span className={styles.why}>
                {c.reason}; reach {c.reach ?? 'all that use it'}{c.conditions.length ? `; ${c.conditions.join(' ')}` : ''}{c.wins ? '' : `; would lose to ${c.losesTo}`}
              </span>
            </button>
          ))}
        </div>
      )}
    </div>
  )
}

function ReachLine({ candidate }: { candidate: Candidate }) {
  const whole = useStudio((s) => s.projectReach)
  const n = candidate.reach ?? 0
  return (
    <div className={styles.reach} data-testid="reach">
      <svg width={34} height={10} aria-hidden="true">
        <rect x={0.5} y={0.5} width={9} height={9} className={styles.solid} />
        {n > 1 && <rect x={12.5} y={0.5} width={8} height={8} className={styles.dashed} />}
        {n > 2 && <rect x={23.5} y={0.5} width={8} height={8} className={styles.dashed} />}
      </svg>
      <span>{candidate.reach === null ? 'all that use it' : <><b>{n}</b> on this page</>}{whole && <>, <b>{whole.elements}</b> in {whole.pages} {whole.pages === 1 ? 'page' : 'pages'}</>}</span>
    </div>
  )
}
