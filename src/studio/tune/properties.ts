import type { PickReport } from '../../agent/protocol'

/** What a row's control is. */
export type RowKind =
  /** Pulled on a tape in px. */
  | 'length'
  /** Pulled on a tape without a unit. */
  | 'number'
  | 'color'
  /** One of a few words, as a row of buttons. */
  | 'choice'
  /** One of the browser's keywords, from a list. */
  | 'list'
  /** Typed; the browser says whether it is a value. */
  | 'text'
  /** Two opposite sides as one length. */
  | 'pair'
  | 'weight'
  | 'corner'
  | 'family'
  | 'shadow'
  | 'tracks'
  | 'areas'
  | 'gradient'
  | 'functions'
  | 'transition'

/** A row of Tune. */
export interface Row {
  readonly property: string
  readonly label: string
  readonly kind: RowKind
  readonly negative?: boolean
  /** Of a `choice` or `list`. */
  readonly options?: readonly string[]
  /** Of a `choice`: further words, in a list after the buttons. */
  readonly rarer?: readonly string[]
  /** Of a `length`: keywords it may be besides. */
  readonly keywords?: readonly string[]
  /** Of a `number`: the step of a pull, and the most it goes to. */
  readonly step?: number
  readonly most?: number
  /** Of a `pair`: the other side. */
  readonly with?: string
  /** Drawn with the element's own children. */
  readonly picture?: boolean
  /** Shown when the rest of the section is asked for. */
  readonly more?: boolean
  /** Stands under the row before it, as a part of the same. */
  readonly part?: boolean
  /** Whether the row has anything to say for this element. */
  readonly when?: (report: PickReport) => boolean
}

export interface Section {
  readonly title: string
  readonly rows: readonly Row[]
}

const isFlex = (r: PickReport) => /flex/.test(r.computed.display ?? '')
const isGrid = (r: PickReport) => /grid/.test(r.computed.display ?? '')
const isContainer = (r: PickReport) => isFlex(r) || isGrid(r)
const flows = (r: PickReport) => !isContainer(r) && !/inline$/.test(r.computed.display ?? '')
const inFlex = (r: PickReport) => /flex/.test(r.parent.display ?? '')
const inGrid = (r: PickReport) => /grid/.test(r.parent.display ?? '')
const isReplaced = (r: PickReport) => /^(img|video|canvas|object|embed|iframe)$/.test(r.info.tag)
const isPlaced = (r: PickReport) => (r.computed.position ?? 'static') !== 'static'
const hasPicture = (r: PickReport) => (r.computed['background-image'] ?? 'none') !== 'none'
const isLined = (r: PickReport) => (r.computed['text-decoration-line'] ?? 'none') !== 'none'
const isList = (r: PickReport) => /^(ul|ol|menu|li)$/.test(r.info.tag)
const isSvg = (r: PickReport) => r.isSvg || r.info.tag === 'svg'

const SIDES = ['top', 'right', 'bottom', 'left']
const sides = (name: (side: string) => string, row: Omit<Row, 'property' | 'label' | 'part'>): Row[] =>
  SIDES.map((side) => ({ ...row, property: name(side), label: side, part: true }))
const pairs = (name: string, row: Partial<Row> = {}): Row[] =>
  [
    ['top', 'bottom'],
    ['left', 'right'],
  ].map(([a, b]) => ({
    ...row,
    property: `${name}-${a}`,
    with: `${name}-${b}`,
    label: `${a}, ${b}`,
    kind: 'pair',
    part: true,
    more: true,
  }))
const edge = (side: string): Row[] => [
  { property: `border-${side}-width`, label: side, kind: 'length', part: true, more: true },
  {
    property: `border-${side}-style`,
    label: 'style',
    kind: 'list',
    options: [...LINES, 'groove', 'ridge', 'inset', 'outset'],
    part: true,
    more: true,
  },
  { property: `border-${side}-color`, label: 'color', kind: 'color', part: true, more: true },
]
const SIZES = ['auto', 'min-content', 'max-content', 'fit-content']
const LIMITS = ['none', 'min-content', 'max-content', 'fit-content']
const LINES = ['none', 'solid', 'dashed', 'dotted', 'double']
const BLENDS = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
]

/** In the order of DESIGN section 3. */
export const SECTIONS: readonly Section[] = [
  {
    title: 'Layout',
    rows: [
      {
        property: 'display',
        label: 'Display',
        kind: 'choice',
        options: ['block', 'flex', 'grid', 'inline', 'none'],
        rarer: [
          'inline-block',
          'inline-flex',
          'inline-grid',
          'flow-root',
          'contents',
          'list-item',
          'table',
          'inline-table',
          'table-row',
          'table-cell',
        ],
      },
      {
        property: 'flex-direction',
        label: 'Flex direction',
        kind: 'choice',
        options: ['row', 'column', 'row-reverse', 'column-reverse'],
        picture: true,
        when: isFlex,
      },
      {
        property: 'flex-wrap',
        label: 'Flex wrap',
        kind: 'choice',
        options: ['nowrap', 'wrap', 'wrap-reverse'],
        picture: true,
        when: isFlex,
      },
      {
        property: 'justify-content',
        label: 'Justify content',
        kind: 'choice',
        options: ['normal', 'center', 'end', 'space-between', 'space-around', 'space-evenly'],
        picture: true,
        when: isContainer,
      },
      {
        property: 'align-items',
        label: 'Align items',
        kind: 'choice',
        options: ['normal', 'start', 'center', 'end', 'baseline'],
        picture: true,
        when: isContainer,
      },
      {
        property: 'align-content',
        label: 'Align content',
        kind: 'choice',
        options: ['normal', 'start', 'center', 'end', 'space-between'],
        picture: true,
        when: (r) => isGrid(r) || (isFlex(r) && r.computed['flex-wrap'] !== 'nowrap'),
        more: true,
      },
      { property: 'grid-template-columns', label: 'Columns', kind: 'tracks', when: isGrid },
      { property: 'grid-template-rows', label: 'Rows', kind: 'tracks', when: isGrid },
      { property: 'grid-template-areas', label: 'Areas', kind: 'areas', when: isGrid },
      {
        property: 'grid-auto-flow',
        label: 'Auto flow',
        kind: 'choice',
        options: ['row', 'column', 'row dense', 'column dense'],
        when: isGrid,
        more: true,
      },
      { property: 'grid-auto-columns', label: 'Auto columns', kind: 'text', when: isGrid, more: true },
      { property: 'grid-auto-rows', label: 'Auto rows', kind: 'text', when: isGrid, more: true },
      {
        property: 'justify-items',
        label: 'Justify items',
        kind: 'choice',
        options: ['normal', 'start', 'center', 'end'],
        when: isGrid,
      },
      { property: 'flex-grow', label: 'Flex grow', kind: 'number', step: 1, most: 20, when: inFlex },
      { property: 'flex-shrink', label: 'Flex shrink', kind: 'number', step: 1, most: 20, when: inFlex },
      {
        property: 'flex-basis',
        label: 'Flex basis',
        kind: 'length',
        keywords: ['auto', 'content', 'min-content'],
        when: inFlex,
      },
      {
        property: 'align-self',
        label: 'Align self',
        kind: 'choice',
        options: ['auto', 'start', 'center', 'end', 'stretch'],
        when: (r) => inFlex(r) || inGrid(r),
      },
      {
        property: 'justify-self',
        label: 'Justify self',
        kind: 'choice',
        options: ['auto', 'start', 'center', 'end', 'stretch'],
        when: inGrid,
        more: true,
      },
      { property: 'grid-column', label: 'Grid column', kind: 'text', when: inGrid },
      { property: 'grid-row', label: 'Grid row', kind: 'text', when: inGrid },
      {
        property: 'order',
        label: 'Order',
        kind: 'number',
        step: 1,
        most: 99,
        negative: true,
        when: (r) => inFlex(r) || inGrid(r),
        more: true,
      },
      {
        property: 'float',
        label: 'Float',
        kind: 'choice',
        options: ['none', 'left', 'right'],
        when: (r) => !inFlex(r) && !inGrid(r) && !isContainer(r),
        more: true,
      },
      { property: 'column-count', label: 'Column count', kind: 'number', step: 1, most: 12, when: flows, more: true },
      {
        property: 'column-width',
        label: 'column width',
        kind: 'length',
        keywords: ['auto'],
        part: true,
        when: flows,
        more: true,
      },
      { property: 'overflow', label: 'Overflow', kind: 'choice', options: ['visible', 'hidden', 'auto', 'clip'] },
      { property: 'visibility', label: 'Visibility', kind: 'choice', options: ['visible', 'hidden'] },
    ],
  },
  {
    title: 'Space',
    rows: [
      { property: 'padding', label: 'Padding', kind: 'length' },
      ...sides((s) => `padding-${s}`, { kind: 'length' }),
      ...pairs('padding'),
      { property: 'margin', label: 'Margin', kind: 'length', negative: true, keywords: ['auto'] },
      ...sides((s) => `margin-${s}`, { kind: 'length', negative: true, keywords: ['auto'] }),
      ...pairs('margin', { negative: true }),
      { property: 'gap', label: 'Gap', kind: 'length' },
      { property: 'row-gap', label: 'rows', kind: 'length', part: true, when: isContainer },
      { property: 'column-gap', label: 'columns', kind: 'length', part: true, when: isContainer },
    ],
  },
  {
    title: 'Size',
    rows: [
      { property: 'width', label: 'Width', kind: 'length', keywords: SIZES },
      { property: 'height', label: 'Height', kind: 'length', keywords: SIZES },
      { property: 'min-width', label: 'Min width', kind: 'length', keywords: ['auto', ...SIZES.slice(1)] },
      { property: 'max-width', label: 'Max width', kind: 'length', keywords: LIMITS },
      {
        property: 'min-height',
        label: 'Min height',
        kind: 'length',
        keywords: ['auto', ...SIZES.slice(1)],
        more: true,
      },
      { property: 'max-height', label: 'Max height', kind: 'length', keywords: LIMITS, more: true },
      { property: 'aspect-ratio', label: 'Aspect ratio', kind: 'text', more: true },
      {
        property: 'box-sizing',
        label: 'Box sizing',
        kind: 'choice',
        options: ['content-box', 'border-box'],
        more: true,
      },
      {
        property: 'object-fit',
        label: 'Object fit',
        kind: 'choice',
        options: ['fill', 'contain', 'cover', 'none', 'scale-down'],
        when: isReplaced,
      },
      { property: 'object-position', label: 'Object position', kind: 'text', when: isReplaced, more: true },
    ],
  },
  {
    title: 'Place',
    rows: [
      {
        property: 'position',
        label: 'Position',
        kind: 'choice',
        options: ['static', 'relative', 'absolute', 'fixed', 'sticky'],
      },
      ...SIDES.map((side): Row => ({
        property: side,
        label: side,
        kind: 'length',
        negative: true,
        keywords: ['auto'],
        part: true,
        when: isPlaced,
      })),
      { property: 'z-index', label: 'Z-index', kind: 'number', step: 1, most: 9999, negative: true },
    ],
  },
  {
    title: 'Type',
    rows: [
      { property: 'font-family', label: 'Font family', kind: 'family' },
      { property: 'font-size', label: 'Font size', kind: 'length' },
      {
        property: 'font-weight',
        label: 'Font weight',
        kind: 'weight',
        options: ['100', '200', '300', '400', '500', '600', '700', '800', '900'],
      },
      { property: 'font-style', label: 'Font style', kind: 'choice', options: ['normal', 'italic'], more: true },
      { property: 'line-height', label: 'Line height', kind: 'number', step: 0.05, most: 4 },
      { property: 'letter-spacing', label: 'Letter spacing', kind: 'length', negative: true, keywords: ['normal'] },
      {
        property: 'word-spacing',
        label: 'Word spacing',
        kind: 'length',
        negative: true,
        keywords: ['normal'],
        more: true,
      },
      {
        property: 'text-align',
        label: 'Text align',
        kind: 'choice',
        options: ['start', 'center', 'end', 'justify'],
        picture: true,
      },
      {
        property: 'text-transform',
        label: 'Text transform',
        kind: 'choice',
        options: ['none', 'uppercase', 'lowercase', 'capitalize'],
        more: true,
      },
      {
        property: 'text-decoration-line',
        label: 'Text decoration',
        kind: 'choice',
        options: ['none', 'underline', 'line-through'],
      },
      { property: 'text-decoration-color', label: 'color', kind: 'color', part: true, when: isLined },
      {
        property: 'text-decoration-style',
        label: 'style',
        kind: 'choice',
        options: ['solid', 'dashed', 'dotted', 'double', 'wavy'],
        part: true,
        when: isLined,
      },
      {
        property: 'text-decoration-thickness',
        label: 'thickness',
        kind: 'length',
        keywords: ['auto', 'from-font'],
        part: true,
        when: isLined,
      },
      {
        property: 'text-underline-offset',
        label: 'underline offset',
        kind: 'length',
        keywords: ['auto'],
        part: true,
        when: isLined,
      },
      {
        property: 'text-wrap',
        label: 'Text wrap',
        kind: 'choice',
        options: ['wrap', 'nowrap', 'balance', 'pretty'],
        more: true,
      },
      {
        property: 'white-space',
        label: 'White space',
        kind: 'list',
        options: ['normal', 'nowrap', 'pre', 'pre-wrap', 'pre-line', 'break-spaces'],
        more: true,
      },
      {
        property: 'overflow-wrap',
        label: 'Overflow wrap',
        kind: 'choice',
        options: ['normal', 'break-word', 'anywhere'],
        more: true,
      },
      { property: 'hyphens', label: 'Hyphens', kind: 'choice', options: ['none', 'manual', 'auto'], more: true },
      { property: 'text-indent', label: 'Text indent', kind: 'length', negative: true, more: true },
      { property: 'text-shadow', label: 'Text shadow', kind: 'shadow', more: true },
      {
        property: 'list-style-type',
        label: 'List style type',
        kind: 'list',
        options: ['none', 'disc', 'circle', 'square', 'decimal', 'lower-alpha', 'lower-roman'],
        when: isList,
        more: true,
      },
    ],
  },
  {
    title: 'Colour',
    rows: [
      { property: 'color', label: 'Color', kind: 'color' },
      { property: 'background-color', label: 'Background color', kind: 'color' },
      { property: 'background-image', label: 'Background image', kind: 'gradient' },
      { property: 'background-size', label: 'size', kind: 'text', part: true, when: hasPicture },
      { property: 'background-position', label: 'position', kind: 'text', part: true, when: hasPicture },
      {
        property: 'background-repeat',
        label: 'repeat',
        kind: 'list',
        options: ['repeat', 'no-repeat', 'repeat-x', 'repeat-y', 'round', 'space'],
        part: true,
        when: hasPicture,
        more: true,
      },
      {
        property: 'background-attachment',
        label: 'attachment',
        kind: 'list',
        options: ['scroll', 'fixed', 'local'],
        part: true,
        when: hasPicture,
        more: true,
      },
      {
        property: 'background-clip',
        label: 'clip',
        kind: 'list',
        options: ['border-box', 'padding-box', 'content-box', 'text'],
        part: true,
        when: hasPicture,
        more: true,
      },
      {
        property: 'background-blend-mode',
        label: 'blend mode',
        kind: 'list',
        options: BLENDS,
        part: true,
        when: hasPicture,
        more: true,
      },
      { property: 'fill', label: 'Fill', kind: 'color', when: isSvg },
      { property: 'stroke', label: 'Stroke', kind: 'color', when: isSvg },
      { property: 'stroke-width', label: 'width', kind: 'length', part: true, when: isSvg },
    ],
  },
  {
    title: 'Edges',
    rows: [
      { property: 'border-width', label: 'Border', kind: 'length' },
      { property: 'border-style', label: 'style', kind: 'choice', options: LINES, part: true },
      { property: 'border-color', label: 'color', kind: 'color', part: true },
      ...SIDES.flatMap(edge),
      { property: 'border-radius', label: 'Border radius', kind: 'length' },
      ...['top-left', 'top-right', 'bottom-right', 'bottom-left'].map((corner): Row => ({
        property: `border-${corner}-radius`,
        label: corner.replace('-', ' '),
        kind: 'corner',
        part: true,
        more: true,
      })),
      { property: 'outline-width', label: 'Outline', kind: 'length' },
      { property: 'outline-style', label: 'style', kind: 'choice', options: LINES, part: true },
      { property: 'outline-color', label: 'color', kind: 'color', part: true },
      { property: 'outline-offset', label: 'offset', kind: 'length', negative: true, part: true, more: true },
    ],
  },
  {
    title: 'Effects',
    rows: [
      { property: 'opacity', label: 'Opacity', kind: 'number', step: 0.01, most: 1 },
      { property: 'box-shadow', label: 'Box shadow', kind: 'shadow' },
      {
        property: 'filter',
        label: 'Filter',
        kind: 'functions',
        options: [
          'blur(4px)',
          'brightness(1.1)',
          'contrast(1.1)',
          'grayscale(1)',
          'hue-rotate(30deg)',
          'saturate(1.2)',
          'sepia(0.5)',
          'drop-shadow(0 2px 4px rgb(0 0 0 / 30%))',
        ],
      },
      {
        property: 'backdrop-filter',
        label: 'Backdrop filter',
        kind: 'functions',
        options: ['blur(8px)', 'brightness(1.1)', 'saturate(1.5)'],
        more: true,
      },
      {
        property: 'transform',
        label: 'Transform',
        kind: 'functions',
        options: ['translate(0, 8px)', 'rotate(3deg)', 'scale(1.05)', 'skewX(4deg)'],
      },
      ...['translate', 'rotate', 'scale'].map((property): Row => ({
        property,
        label: property,
        kind: 'text',
        part: true,
        when: (r) => (r.computed[property] ?? 'none') !== 'none',
      })),
      { property: 'transform-origin', label: 'origin', kind: 'text', part: true, more: true },
      { property: 'transition', label: 'Transition', kind: 'transition' },
      { property: 'mix-blend-mode', label: 'Mix blend mode', kind: 'list', options: BLENDS, more: true },
      {
        property: 'cursor',
        label: 'Cursor',
        kind: 'list',
        options: ['auto', 'default', 'pointer', 'text', 'move', 'grab', 'not-allowed', 'help', 'wait', 'crosshair'],
        more: true,
      },
    ],
  },
]

/** The section after those of properties: what the source says of the element itself. */
export const ELEMENT = 'Element'

/** What a section's rarer rows are unfolded by, beside its own title. */
export const moreOf = (title: string): string => `${title} more`

/** Tells rows apart: a pair starts with a property that has a row of its own. */
export const rowId = (row: Row): string => (row.with ? `${row.property}+${row.with}` : row.property)

/** The rows that have something to say for an element; */
export const rowsFor = (section: Section, report: PickReport): readonly Row[] => section.rows.filter((r) => !r.when || r.when(report))

/** Properties an aim is worked out for when these sections are open. */
export const propertiesOf = (open: ReadonlySet<string>): string[] =>
  SECTIONS.flatMap((s) => s.rows.filter((r) => open.has(r.more ? moreOf(s.title) : s.title)).map((r) => r.property))

/** What decides whether a property has an effect, and what summaries tell. */
const FACTS = [
  'display',
  'position',
  'float',
  'flex-direction',
  'flex-wrap',
  'flex-basis',
  'column-count',
  'column-width',
  'overflow-x',
  'white-space',
  'background-image',
  'outline-style',
  'direction',
  'border-collapse',
  'text-decoration-line',
  'transition-duration',
  'animation-name',
  'border-top-style',
  'border-right-style',
  'border-bottom-style',
  'border-left-style',
  'top',
  'right',
  'bottom',
  'left',
  'width',
  'height',
  'font-family',
  'font-size',
  'font-weight',
  'line-height',
  'column-gap',
  'row-gap',
  'z-index',
  'opacity',
  'border-top-width',
  'border-top-left-radius',
  'box-shadow',
  'color',
  'background-color',
  'letter-spacing',
]

/** What the page is asked for with each pick. */
export const READ_PROPERTIES: readonly string[] = [...new Set([...SECTIONS.flatMap((s) => s.rows.map((r) => r.property)), ...FACTS])]
