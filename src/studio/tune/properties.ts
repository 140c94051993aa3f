/** A row of Tune. */
export interface Row {
  readonly property: string
  readonly label: string
  readonly kind: 'length' | 'color'
  /** The tape's range in px, and whether values below zero exist. */
  readonly negative?: boolean
}

export interface Section {
  readonly title: string
  readonly rows: readonly Row[]
}

const box = (name: string, negative = false): Row[] =>
  ['top', 'right', 'bottom', 'left'].map((side) => ({ property: `${name}-${side}`, label: side, kind: 'length', negative }))

export const SECTIONS: readonly Section[] = [
  {
    title: 'Space',
    rows: [
      { property: 'padding', label: 'Padding', kind: 'length' }, ...box('padding'),
      { property: 'margin', label: 'Margin', kind: 'length', negative: true }, ...box('margin', true),
      { property: 'gap', label: 'Gap', kind: 'length' },
    ],
  },
  { title: 'Type', rows: [{ property: 'font-size', label: 'Size', kind: 'length' }] },
  { title: 'Colour', rows: [{ property: 'color', label: 'Text', kind: 'color' }, { property: 'background-color', label: 'Background', kind: 'color' }] },
]

/** Properties an aim is worked out for; `display` has no row yet but can be set to give another its effect. */
export const TUNE_PROPERTIES: readonly string[] = [...SECTIONS.flatMap((s) => s.rows.map((r) => r.property)), 'display']

/** What decides whether a property has an effect. */
const FACTS = ['position', 'float', 'flex-direction', 'flex-wrap', 'flex-basis', 'column-count', 'column-width', 'overflow-x', 'white-space', 'background-image', 'outline-style', 'direction', 'border-collapse']

/** What the page is asked for with each pick. */
export const READ_PROPERTIES: readonly string[] = [...TUNE_PROPERTIES, ...FACTS, 'font-family', 'line-height', 'width', 'height', 'column-gap', 'row-gap']
