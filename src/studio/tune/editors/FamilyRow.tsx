'use client'
import { useEffect, useState } from 'react'
import type { PropertyAim } from '../../../core/aim'
import { family } from '../../../core/value'
import { BUNDLED } from '../../../live/faces'
import type { Answer } from '../../../agent/protocol'
import { useStudio, type Picked } from '../../store'
import { useSession } from '../../ui/SessionContext'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import { RowPopover } from '../RowPopover'
import { ValueField } from '../ValueField'
import styles from './Editors.module.css'
import { showBundledFaces, showProjectFaces } from './project-faces'

/** Stacks that need no file: what each system has (CSS Fonts 4 §2.1). */
const SYSTEM = [
  'system-ui, sans-serif',
  'ui-serif, Georgia, serif',
  'ui-monospace, Menlo, Consolas, monospace',
  'Georgia, serif',
  'Verdana, sans-serif',
  '"Courier New", monospace',
  'cursive',
]

interface Face {
  readonly value: string
  readonly name: string
  readonly note: string
  /** One of ours, brought into the project when it is chosen. */
  readonly bundled?: string
}

/** The face text is set in: the project's own first, each name in its own face; the arrow keys show each on the page. */
export function FamilyRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const tokens = useStudio((s) => s.scale.tokens)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [palette, setPalette] = useState<Answer<'palette'> | null>(null)
  useEffect(() => {
    if (!anchor) return
    void showProjectFaces()
    void showBundledFaces()
    void session.selection.palette().then(setPalette)
  }, [anchor, session])
  const rendered = picked.report.facts.renderedFamily
  const asked = family.parse(aim.computed)[0]?.name ?? ''
  const faces = (): Face[] => [
    ...tokens
      .filter((t) => t.kind === 'other' && /font|family|face|type/i.test(t.name) && CSS.supports('font-family', t.text))
      .map((t) => ({ value: `var(${t.name})`, name: t.text, note: t.name })),
    ...(palette?.faces ?? []).map((f) => ({
      value: family.format([
        { name: f.family, generic: false, quote: null },
        { name: 'sans-serif', generic: true, quote: null },
      ]),
      name: f.family,
      note: `the project’s, ${f.weights.join(' ')}`,
    })),
    ...BUNDLED.filter((b) => !palette?.faces.some((f) => f.family === b.family)).map((b) => ({
      value: family.format([
        { name: b.family, generic: false, quote: null },
        { name: b.generic, generic: true, quote: null },
      ]),
      name: b.family,
      note: 'bundled: its files come along',
      bundled: b.family,
    })),
    ...SYSTEM.map((s) => ({ value: s, name: s, note: 'system' })),
  ]
  const close = () => {
    setAnchor(null)
    void session.edits.cancelPreview()
  }
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.stack}>
        <div className={styles.face}>
          <ValueField row={row} text={aim.written ?? aim.computed} pulling={false} />
          <button
            type="button"
            className={styles.add}
            aria-haspopup="dialog"
            onClick={(e) => {
              session.selection.touch(row.property)
              setAnchor(e.currentTarget)
            }}
          >
            Faces…
          </button>
        </div>
        {rendered !== asked && <span className={styles.note}>drawn in {rendered}</span>}
      </div>
      <RowPopover label="Faces" anchor={anchor} onClose={close} side="right">
        {() => (
          <div
            className={styles.faces}
            role="listbox"
            aria-label="Faces"
            tabIndex={-1}
            onKeyDown={(e) => {
              const by = { ArrowDown: 1, ArrowUp: -1 }[e.key]
              if (!by) return
              e.preventDefault()
              const all = [...e.currentTarget.querySelectorAll<HTMLElement>('[role=option]')]
              all[(all.indexOf(document.activeElement as HTMLElement) + by + all.length) % all.length]?.focus()
            }}
          >
            {faces().map((f) => (
              <button
                key={f.value}
                type="button"
                role="option"
                aria-selected={aim.written === f.value}
                onFocus={() =>
                  void (f.bundled
                    ? session.edits.previewFace(row.property, f.value, f.bundled)
                    : session.edits.preview(row.property, f.value))
                }
                onClick={() => {
                  setAnchor(null)
                  void (f.bundled ? session.edits.bringFace(row.property, f.value, f.bundled) : session.edits.commit(row.property, f.value))
                }}
              >
                <span
                  style={{
                    fontFamily: f.bundled || f.note.startsWith('the project') ? `"steady ${f.name}", sans-serif` : f.name,
                  }}
                >
                  {f.name}
                </span>{' '}
                <small>{f.note}</small>
              </button>
            ))}
          </div>
        )}
      </RowPopover>
    </RowFrame>
  )
}
