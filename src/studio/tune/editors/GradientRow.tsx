'use client'
import type { PropertyAim } from '../../../core/aim'
import { gradient, relativeUrl } from '../../../core/value'
import { setStudio, useStudio } from '../../store'
import { useSession } from '../../ui/SessionContext'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import { ValueField } from '../ValueField'
import styles from './Editors.module.css'
import { PartField } from './PartField'
import { currentAim } from '../../session/landings'

const isColor = (text: string) => CSS.supports('color', text)
const isPosition = (text: string) => CSS.supports('background-position-x', text) || /^-?[\d.]+(deg|turn|rad|grad)$/.test(text)
const FIRST: Readonly<Record<gradient.Gradient['kind'], string>> = {
  linear: 'to bottom',
  radial: 'circle',
  conic: 'from 0deg',
}
const FRESH = 'linear-gradient(to bottom, rgb(0 0 0 / 0%), rgb(0 0 0 / 20%))'

/** The pictures behind the element in their layers: gradients with their stops, and images of the project. */
export function GradientRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  const { session } = useSession()
  const images = useStudio((s) => s.project?.images) ?? []
  const address = useStudio((s) => s.address)
  const inHand = useStudio((s) => s.layer)
  // What classes make up together in variables is shown as what comes of it.
  const text = aim.written === null || aim.written.includes('var(--tw-') ? aim.computed : aim.written
  const layers = gradient.layers(text)
  const at = Math.min(inHand, Math.max(0, layers.length - 1))
  const found = layers[at] === undefined ? null : gradient.parse(layers[at])
  const keepAll = (list: readonly string[], hand = at) => {
    setStudio({ layer: hand })
    session.selection.touch(row.property)
    void session.edits.commit(row.property, gradient.formatLayers(list))
  }
  const keep = (layer: string) => keepAll(layers.length ? layers.map((l, i) => (i === at ? layer : l)) : [layer])
  const landing = currentAim(row.property)
  const without = layers.filter((_, i) => i !== at)
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.stack}>
        {layers.length > 0 && (
          <div className={styles.parts} role="radiogroup" aria-label="Layers, the topmost first">
            {layers.map((l, i) => (
              <button
                key={i}
                type="button"
                role="radio"
                aria-checked={i === at}
                aria-label={`Layer ${i + 1}: ${l}`}
                className={styles.layer}
                style={gradient.parse(l) ? { background: l } : undefined}
                onClick={() => {
                  setStudio({ layer: i })
                  session.selection.touch(row.property)
                }}
              >
                {gradient.parse(l) ? '' : 'url'}
              </button>
            ))}
            {at > 0 && (
              <button
                type="button"
                aria-label="Move this layer up"
                onClick={() => keepAll([...layers.slice(0, at - 1), layers[at], layers[at - 1], ...layers.slice(at + 1)], at - 1)}
              >
                ↑
              </button>
            )}
            <button type="button" aria-label="Remove this layer" onClick={() => keepAll(without, Math.max(0, at - 1))}>
              ×
            </button>
          </div>
        )}
        {found ? (
          <GradientParts row={row} found={found} change={(next) => keep(gradient.format({ ...found, ...next }))} />
        ) : layers.length > 0 ? (
          <PartField label="Layer" value={layers[at]} width={250} allows={(l) => CSS.supports(row.property, l)} onKeep={keep} />
        ) : (
          <ValueField row={row} text={text} pulling={false} />
        )}
        <div className={styles.parts}>
          <button type="button" className={styles.add} onClick={() => keepAll([FRESH, ...layers], 0)}>
            {layers.length ? '+ gradient' : 'A gradient'}
          </button>
          {images.length > 0 && (
            <select
              className={styles.choose}
              aria-label="An image of the project"
              value=""
              onChange={(e) => keepAll([`url("${relativeUrl(landing?.path ?? address.slice(1), e.target.value)}")`, ...layers], 0)}
            >
              <option value="" disabled>
                {layers.length ? '+ image' : 'An image…'}
              </option>
              {images.map((path) => (
                <option key={path} value={path}>
                  {path}
                </option>
              ))}
            </select>
          )}
        </div>
      </div>
    </RowFrame>
  )
}

function GradientParts({ row, found, change }: { row: Row; found: gradient.Gradient; change: (next: Partial<gradient.Gradient>) => void }) {
  return (
    <>
      <div
        className={styles.bar}
        style={{ background: gradient.format({ ...found, kind: 'linear', line: 'to right', repeating: false }) }}
        aria-hidden="true"
      />
      <div className={styles.parts}>
        <select
          className={styles.choose}
          aria-label="Kind of gradient"
          value={found.kind}
          onChange={(e) =>
            change({
              kind: e.target.value as gradient.Gradient['kind'],
              line: FIRST[e.target.value as gradient.Gradient['kind']],
            })
          }
        >
          {(['linear', 'radial', 'conic'] as const).map((k) => (
            <option key={k}>{k}</option>
          ))}
        </select>
        <PartField
          label="Direction"
          value={found.line || FIRST[found.kind]}
          width={92}
          allows={(line) => CSS.supports(row.property, gradient.format({ ...found, line }))}
          onKeep={(line) => change({ line })}
        />
      </div>
      {found.stops.map((s, i) => (
        <div key={i} className={styles.parts} role="group" aria-label={`Stop ${i + 1}`}>
          <i className={styles.swatch} style={{ background: s.color }} />
          <PartField
            label={`Colour of stop ${i + 1}`}
            value={s.color || 'hint'}
            width={120}
            allows={isColor}
            onKeep={(color) => change({ stops: found.stops.map((x, k) => (k === i ? { ...x, color } : x)) })}
          />
          <PartField
            label={`Position of stop ${i + 1}`}
            value={s.positions[0] ?? ''}
            width={46}
            allows={isPosition}
            onKeep={(p) =>
              change({
                stops: found.stops.map((x, k) => (k === i ? { ...x, positions: [p, ...x.positions.slice(1)] } : x)),
              })
            }
          />
          {found.stops.length > 2 && (
            <button
              type="button"
              aria-label={`Remove stop ${i + 1}`}
              onClick={() => change({ stops: found.stops.filter((_, k) => k !== i) })}
            >
              ×
            </button>
          )}
        </div>
      ))}
      <button type="button" className={styles.add} onClick={() => change({ stops: [...found.stops, found.stops.at(-1)!] })}>
        Add a stop
      </button>
    </>
  )
}
