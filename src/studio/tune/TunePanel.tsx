'use client'
import { memo, type ReactNode } from 'react'
import type { PropertyAim } from '../../core/aim'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import { ElementSection } from '../element/ElementSection'
import { ChoiceRow } from './ChoiceRow'
import { ColorRow } from './ColorRow'
import { ContrastLine } from './ContrastLine'
import { AreasRow } from './editors/AreasRow'
import { CornerRow } from './editors/CornerRow'
import { FamilyRow } from './editors/FamilyRow'
import { FunctionsRow } from './editors/FunctionsRow'
import { GradientRow } from './editors/GradientRow'
import { ShadowRow } from './editors/ShadowRow'
import { TracksRow } from './editors/TracksRow'
import { TransitionRow } from './editors/TransitionRow'
import { LayoutActions } from './LayoutActions'
import { LengthRow } from './LengthRow'
import { ListRow } from './ListRow'
import { NumberRow } from './NumberRow'
import { PairRow } from './PairRow'
import { PlaceExtras } from './PlaceExtras'
import { ELEMENT, moreOf, rowId, rowsFor, SECTIONS, type Row, type Section } from './properties'
import { RowFinder } from './RowFinder'
import { SaidAbove } from './RowFrame'
import { summaryOf } from './summary'
import { TextRow } from './TextRow'
import styles from './TunePanel.module.css'
import { TypeActions } from './TypeActions'
import { WeightRow } from './WeightRow'

/** The controls that change values, in the order of DESIGN section 3. */
export function TunePanel() {
  const picked = useStudio((s) => s.picked)
  const open = useStudio((s) => s.open)
  if (!picked || picked.aims.size === 0) return null
  return (
    <div className={styles.tune} data-testid="tune" data-node={picked.report.info.node}>
      <RowFinder picked={picked} />
      {SECTIONS.map((section) => (
        <Fold key={section.title} section={section} picked={picked} open={open.has(section.title)} more={open.has(moreOf(section.title))} />
      ))}
      <ElementSection picked={picked} open={open.has(ELEMENT)} />
    </div>
  )
}

function Fold({ section, picked, open, more }: { section: Section; picked: Picked; open: boolean; more: boolean }) {
  const { session } = useSession()
  const rows = open ? rowsFor(section, picked.report) : []
  const shown = rows.filter((r) => more || !r.more)
  const rarer = rows.filter((r) => r.more).length
  return (
    <section aria-label={section.title}>
      <h2>
        <button
          type="button"
          aria-expanded={open}
          data-testid={`section-${section.title}`}
          onClick={() => void session.selection.unfold(section.title, !open)}
        >
          <i aria-hidden="true">{open ? '▾' : '▸'}</i>
          {section.title}
        </button>
        <span>{summaryOf(section.title, picked.report)}</span>
      </h2>
      {open && (
        <>
          {shown.map((row, i) => {
            const aim = picked.aims.get(row.property)
            const said =
              row.part === true &&
              i > 0 &&
              aim?.noEffect?.why !== undefined &&
              shown.slice(0, i).some((above) => picked.aims.get(above.property)?.noEffect?.why === aim.noEffect!.why)
            return (
              aim && (
                <SaidAbove key={rowId(row)} value={said}>
                  <OneRow row={row} aim={aim} picked={picked} />
                </SaidAbove>
              )
            )
          })}
          {rarer > 0 && (
            <button
              type="button"
              className={styles.more}
              aria-expanded={more}
              onClick={() => void session.selection.unfold(moreOf(section.title), !more)}
            >
              {more ? 'fewer' : `${rarer} more`}
            </button>
          )}
          {EXTRAS[section.title]?.(picked)}
        </>
      )}
    </section>
  )
}

const EXTRAS: Readonly<Record<string, (picked: Picked) => ReactNode>> = {
  Layout: (picked) => <LayoutActions picked={picked} />,
  Place: (picked) => <PlaceExtras key={picked.report.info.node} picked={picked} />,
  Type: (picked) => <TypeActions picked={picked} />,
  Colour: (picked) => <ContrastLine picked={picked} />,
}

const OneRow = memo(function OneRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  switch (row.kind) {
    case 'length':
      return <LengthRow row={row} aim={aim} picked={picked} />
    case 'number':
      return <NumberRow row={row} aim={aim} picked={picked} />
    case 'color':
      return <ColorRow row={row} aim={aim} picked={picked} />
    case 'choice':
      return <ChoiceRow row={row} aim={aim} picked={picked} />
    case 'pair':
      return <PairRow row={row} aim={aim} picked={picked} />
    case 'weight':
      return <WeightRow row={row} aim={aim} picked={picked} />
    case 'corner':
      return <CornerRow row={row} aim={aim} />
    case 'list':
      return <ListRow row={row} aim={aim} options={row.options ?? []} />
    case 'text':
      return <TextRow row={row} aim={aim} />
    case 'family':
      return <FamilyRow row={row} aim={aim} picked={picked} />
    case 'shadow':
      return <ShadowRow row={row} aim={aim} />
    case 'tracks':
      return <TracksRow row={row} aim={aim} />
    case 'areas':
      return <AreasRow row={row} aim={aim} />
    case 'gradient':
      return <GradientRow row={row} aim={aim} />
    case 'functions':
      return <FunctionsRow row={row} aim={aim} />
    case 'transition':
      return <TransitionRow row={row} aim={aim} />
  }
})
