'use client'
import { placeText } from '../../core/text'
import { lazy, Suspense, useState } from 'react'
import type { AimRef, Candidate, PropertyAim } from '../../core/aim'
import type { NodeInfo } from '../../agent/protocol'
import { setStudio, useStudio, type Picked } from '../store'
import { plural } from '../ui/plural'
import { useSession } from '../ui/SessionContext'
import { landingOf, reachOf, uncountedWords } from '../session/chosen-aim'
import styles from './AimPanel.module.css'
import { Made } from './Made'
import { CandidateList } from './CandidateList'
import { ConditionLine } from './ConditionLine'
import { HeldThings, ShownAtTimes } from './HeldThings'
import { nameOf } from './names'
import { landings } from '../session/landings'

const ClassList = lazy(() => import('./ClassList').then((m) => ({ default: m.ClassList })))

/** Who is chosen and where the next edit lands; always in sight above Tune. */
export function AimPanel() {
  const picked = useStudio((s) => s.picked)
  const mode = useStudio((s) => s.mode)
  const address = useStudio((s) => s.address)
  const held = useStudio((s) => s.held)
  return (
    <section className={styles.panel} aria-label="Aim" data-testid="aim" data-node={picked?.report.info.node}>
      {picked ? (
        <Chosen picked={picked} />
      ) : (
        <>
          <p className={styles.hint}>
            {mode === 'pick'
              ? 'Point at the page and click an element to adjust it. Shift adds more, and a drag with Shift takes in all that stand in a box.'
              : 'The page is yours to use. Switch to Pick to choose an element.'}
          </p>
          {mode === 'pick' && <ShownAtTimes key={`${address} ${held.length}`} />}
        </>
      )}
      <HeldThings />
    </section>
  )
}

function Chosen({ picked }: { picked: Picked }) {
  const others = useStudio((s) => s.others)
  const { info, nearestSource } = picked.report
  const listed = useStudio((s) => s.vocabulary !== null)
  return (
    <>
      <Path picked={picked} />
      {others.length > 0 && <Many count={others.length + 1} />}
      {picked.report.made && picked.tag ? (
        <Made made={picked.report.made} tag={picked.tag} usage={picked.usage} />
      ) : (
        info.source === null && <NotInSource info={info} nearest={nearestSource} place={picked.place} />
      )}
      {picked.report.shadow > 0 && (
        <p className={styles.hint} data-testid="shadow-tree">
          What it shows is its shadow tree, of {plural(picked.report.shadow, 'element')}. These have no place in your files and cannot be
          edited here; what they inherit from it, and custom properties, can.
        </p>
      )}
      <Landing picked={picked} />
      <ConditionLine picked={picked} />
      {listed && info.source !== null && (
        <Suspense>
          <ClassList key={info.source} picked={picked} />
        </Suspense>
      )}
    </>
  )
}

/** What fits on the line of the ancestor path, in letters of the code face, and what stands before the first that is shown. */
const PATH_LETTERS = 42
const FOLDED = '… › '
const BETWEEN = ' › '

function Path({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const path = [...picked.report.ancestors].reverse().filter((n) => n.tag !== 'html')
  // The nearest ancestors tell most; the rest fold into the first.
  const shown = path.filter((_, i) => {
    const letters = path.slice(i).map(nameOf).join(BETWEEN).length + (i > 0 ? FOLDED.length : 0)
    return letters <= PATH_LETTERS || i === path.length - 1
  })
  return (
    <nav className={styles.path} aria-label="Ancestors">
      {shown.length < path.length && <span aria-hidden="true">{FOLDED}</span>}
      {shown.map((n, i) => (
        <span key={n.node}>
          {i > 0 && <i aria-hidden="true">{BETWEEN}</i>}
          <button
            type="button"
            aria-current={i === shown.length - 1 ? 'true' : undefined}
            onClick={() => void session.selection.pick(n.node)}
          >
            {nameOf(n)}
          </button>
        </span>
      ))}
    </nav>
  )
}

function Many({ count }: { count: number }) {
  const property = useStudio((s) => s.property)
  const places = landings(property)
  return (
    <div className={styles.many} data-testid="many">
      <b>{count} chosen.</b>{' '}
      {places.length === 0
        ? `Not each of them has a place for ${property}.`
        : places.length === 1
          ? 'They share the place below.'
          : `${property} goes to ${places.length} places, one edit.`}
    </div>
  )
}

function NotInSource({ info, nearest, place }: { info: NodeInfo; nearest: NodeInfo | null; place: Picked['place'] }) {
  const { session } = useSession()
  return (
    <div className={styles.warning} data-testid="not-in-source">
      {info.origin === 'script' ? (
        <>
          A script made this <code>{info.tag}</code>: no file has its tag. Rules and tokens can be edited for it.
        </>
      ) : (
        <>
          The HTML parser adds this <code>{info.tag}</code>: the file has no tag for it. Rules and tokens can be edited for it.
        </>
      )}
      {nearest && (
        <button type="button" onClick={() => void session.selection.pick(nearest.node)}>
          Choose <code>{nameOf(nearest)}</code>, its nearest element in the source
          {place && ` (${placeText(place)})`}
        </button>
      )}
    </div>
  )
}

/** What a file that is compiled to CSS is written in. */
const languageOf = (path: string): string => (/\.s[ac]ss$/i.test(path) ? 'Sass' : /\.less$/i.test(path) ? 'Less' : 'Stylus')

const isNew = ({ kind }: AimRef): boolean => kind === 'new-rule' || kind === 'new-class' || kind === 'new-sheet'

function Landing({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const property = useStudio((s) => s.property)
  const chosen = useStudio((s) => s.chosen)
  const heldAim = useStudio((s) => s.heldAim)
  const [open, setOpen] = useState(false)
  const aim = picked.aims.get(property)
  const preferences = useStudio((s) => s.preferences)
  const media = useStudio((s) => s.condition.media)
  const { candidate: own = null, index = -1, cannot = null } = aim ? landingOf(aim, chosen, preferences) : {}
  const candidate = heldAim ?? own
  if (aim && !candidate && aim.candidates.length > 0) {
    return (
      <div className={styles.landing}>
        {aim.preprocessed ? (
          <>
            <div className={styles.rule}>
              <strong className={styles.selector} title={aim.preprocessed.label}>
                {aim.preprocessed.label}
              </strong>
              <FileLine of={aim.preprocessed} testId="aim-preprocessed" />
            </div>
            <div className={styles.warning} data-testid="aim-none">
              This rule is compiled from {languageOf(aim.preprocessed.path)} and cannot be edited here yet. Change it there, or choose a
              place:
            </div>
          </>
        ) : (
          <div className={styles.warning} data-testid="aim-none">
            No rule for <code>{property}</code> wins here without affecting unrelated elements. Choose a place:
          </div>
        )}
        <CandidateList aim={aim} index={-1} because="" />
      </div>
    )
  }
  // It is on its way from the worker.
  if (!aim && !heldAim) return <div className={styles.warning} aria-busy="true" />
  if (!aim || !candidate) {
    return (
      <div className={styles.warning}>
        There is no place in the source where <code>{property}</code> of this element could be written.
      </div>
    )
  }
  const others = aim.candidates.length - 1
  return (
    <div className={styles.landing}>
      <div className={styles.rule}>
        <strong className={styles.selector} title={candidate.label} data-testid="aim-label">
          {candidate.label}
        </strong>
        {candidate.of && (
          <span className={styles.specificity} data-testid="aim-of">
            in {candidate.of}
          </span>
        )}
        {candidate.specificity && (
          <span className={styles.specificity} title="Specificity: ids, classes, types">
            {candidate.specificity.join(',')}
          </span>
        )}
        {isNew(candidate.ref) && (
          <span className={styles.fresh} title="It is not there yet: the edit writes it" data-testid="aim-new">
            {candidate.ref.kind.replace('-', ' ')}
          </span>
        )}
        {(candidate.ref.kind === 'rule' || picked.report.info.classes.length > 0) && (
          <button
            type="button"
            className={styles.rename}
            aria-label="Change the selector, or rename a class"
            title="Change the selector, or rename a class (N)"
            onClick={() => setStudio({ naming: true })}
          >
            <svg width={12} height={12} viewBox="0 0 12 12" aria-hidden="true">
              <path d="M1.5 10.5h3M3 10.5V1.5M1.5 1.5h3M6 4h4.5v4H6" />
            </svg>
          </button>
        )}
        <FileLine of={candidate} testId="aim-place" />
      </div>
      {candidate.ref.kind === 'class-list' && <ListLine current={candidate.current} />}
      {'taking' in candidate.ref && candidate.ref.taking && (
        <div className={styles.condition} data-testid="aim-taking">
          {candidate.ref.taking.component} takes no className yet: the edit has it take one and pass it on
          {picked.place && ` (${placeText({ path: picked.place.path.split('/').at(-1)!, line: picked.place.line })})`}
        </div>
      )}
      {candidate.isImported && (
        <div className={styles.condition} data-testid="aim-imported">
          imported from {candidate.path.split('/').at(-1)}: whatever else takes it from there changes too
        </div>
      )}
      <ReachLine candidate={candidate} />
      <Besides property={property} />
      {candidate.conditions.length > 0 && (
        <div className={styles.condition}>
          only {candidate.conditions.join(' ')}
          {candidate.current !== null && index === aim.chosen && media === '' ? ', which alone sets it' : ''}
        </div>
      )}
      {cannot && !heldAim && (
        <div className={styles.warning} data-testid="aim-cannot">
          {cannot.label}, chosen before, cannot take {property}: this goes elsewhere
        </div>
      )}
      {!candidate.wins && !candidate.elsewhere && <div className={styles.warning}>An edit here would lose to {candidate.losesTo}</div>}
      <AtSizes candidate={candidate} aim={aim} />
      <div className={styles.choices}>
        <button type="button" className={styles.more} aria-expanded={open} title={aim.because} onClick={() => setOpen(!open)}>
          {others === 0 ? `The one place for ${property}` : `${others} other ${others === 1 ? 'place' : 'places'} for ${property}`}
        </button>
        {candidate.ref.kind !== 'token' && (
          <button
            type="button"
            className={styles.hold}
            aria-pressed={heldAim !== null}
            title="Keep this place while other elements are chosen (A)"
            onClick={() => session.selection.holdAim(heldAim === null)}
          >
            {heldAim ? 'Aim held' : 'Hold aim'}
          </button>
        )}
      </div>
      {open && <CandidateList aim={aim} index={index} because={aim.because} />}
    </div>
  )
}

/** At which of the project's own sizes something else decides, which can be edited there. */
function AtSizes({ candidate, aim }: { candidate: Candidate; aim: PropertyAim }) {
  const { session } = useSession()
  const { overridden } = candidate
  if (overridden.length === 0) return null
  const here = overridden.find((o) => o.holds)
  const first = here ?? overridden[0]
  const at = here
    ? aim.candidates.findIndex((c) => c.ref.kind === 'rule' && c.path === here.path && c.line === here.line && c.conditions.length > 0)
    : -1
  const media = /^@media (.+)$/.exec(first.condition)?.[1]
  return (
    <div className={candidate.elsewhere ? styles.warning : styles.sizes} data-testid="aim-sizes">
      {candidate.elsewhere ? 'Not at this size: ' : 'But '}
      <code>{first.condition.replace(/^@(media|container) /, '')}</code> sets <code>{first.value}</code>{' '}
      <small title={`${first.label}, ${placeText(first)}`}>{placeText({ path: first.path.split('/').at(-1)!, line: first.line })}</small>
      {overridden.length > 1 && ` and ${overridden.length - 1} more`}
      {at >= 0 ? (
        <button type="button" className={styles.see} onClick={() => session.selection.chooseAim(aim.property, at)}>
          edit that
        </button>
      ) : (
        media && (
          <button type="button" className={styles.see} onClick={() => void session.setMedia(media)}>
            edit that
          </button>
        )
      )}
    </div>
  )
}

/** Where a place stands; a press shows it in Source. */
function FileLine({ of: { path, line, near }, testId }: { of: Pick<Candidate, 'path' | 'line' | 'near'>; testId?: string }) {
  const name = path.split('/').at(-1)
  return (
    <button
      type="button"
      className={styles.file}
      data-testid={testId}
      title={near ? `${path}, behind ${near}` : `${path}:${line}`}
      onClick={() => setStudio({ source: { path, line } })}
    >
      {near ? `${name}, behind ${near}` : `${name}:${line}`}
    </button>
  )
}

/** How many of the further places that one edit goes to are named. */
const NAMED_PLACES = 3

/** The places besides the current one that an edit of many elements goes to. */
function Besides({ property }: { property: string }) {
  const others = useStudio((s) => s.others)
  const fresh = useStudio((s) => s.fresh)
  if (others.length === 0) return null
  const besides = landings(property).slice(1)
  return (
    besides.length > 0 && (
      <ul className={styles.besides} data-testid="besides">
        {besides.slice(0, NAMED_PLACES).map((c) => (
          <li key={`${c.path}:${c.line} ${c.label}`}>
            <span title={c.label}>
              and <code>{c.label}</code>
            </span>
            {reachOf(c, fresh) !== null && <small>{reachOf(c, fresh)} on this page</small>}
            <FileLine of={c} />
          </li>
        ))}
        {besides.length > NAMED_PLACES && <li>and {besides.length - NAMED_PLACES} more</li>}
      </ul>
    )
  )
}

/** The classes that say the value now, and while it is being changed those that will. */
function ListLine({ current }: { current: string | null }) {
  const writes = useStudio((s) => s.writes)
  return (
    <div className={styles.listLine} data-testid="class-writes">
      {writes?.otherwise ? (
        <>
          no class in this sheet gives <b>{writes.after}</b>: it goes to <b>{writes.otherwise}</b>
        </>
      ) : writes ? (
        <>
          {writes.before && <s>{writes.before}</s>} <b>{writes.after}</b>
          {writes.moves.length > 0 && (
            <small>
              {' '}
              {writes.moves.join(', ')} {writes.moves.length === 1 ? 'moves' : 'move'} too
            </small>
          )}
        </>
      ) : (
        (current ?? <i>no class sets it yet</i>)
      )}
    </div>
  )
}

function ReachLine({ candidate }: { candidate: Candidate }) {
  const { session } = useSession()
  const whole = useStudio((s) => s.projectReach)
  const reach = reachOf(
    candidate,
    useStudio((s) => s.fresh),
  )
  // Data decides how many there are on a page of components.
  const isMade = useStudio((s) => s.picked?.report.made != null)
  const n = reach ?? 0
  return (
    <div className={styles.reach} data-testid="reach">
      <svg width={n > 2 ? 33 : n > 1 ? 22 : 11} height={10} aria-hidden="true">
        <rect x={0.5} y={0.5} width={9} height={9} className={styles.solid} />
        {n > 1 && <rect x={12.5} y={0.5} width={8} height={8} className={styles.dashed} />}
        {n > 2 && <rect x={23.5} y={0.5} width={8} height={8} className={styles.dashed} />}
      </svg>
      <span>
        {reach === null ? (
          uncountedWords(candidate.ref)
        ) : (
          <>
            {isMade && 'at least '}
            <b>{n}</b>
            {isMade ? ', counted on this page' : ' on this page'}
          </>
        )}
        {whole && !isMade && (
          <>
            , <b>{whole.elements}</b> in {whole.pages} {whole.pages === 1 ? 'page' : 'pages'}
          </>
        )}
      </span>
      {n > 1 && (
        <button
          type="button"
          className={styles.see}
          title="Scroll the page to the next one in reach (R)"
          onClick={() => void session.selection.reach.showNext()}
        >
          see each
        </button>
      )}
    </div>
  )
}
