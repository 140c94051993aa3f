import {
  boxesHtml,
  boxesRule,
  buttonHtml,
  dialogHtml,
  elementHtml,
  embedHtml,
  fieldHtml,
  FIELD_TYPES,
  headingHtml,
  imageHtml,
  linkHtml,
  listHtml,
  sectionHtml,
  tableHtml,
  videoHtml,
} from '../../core/html'

/** What is filled in before something is inserted. */
export interface InsertValues {
  readonly text: string
  readonly address: string
  readonly alt: string
  readonly caption: string
  readonly choice: string
  readonly count: number
  readonly rows: number
  readonly size: { readonly width: number; readonly height: number } | null
}

type Asked = 'text' | 'lines' | 'address' | 'picture' | 'alt' | 'caption' | 'choice' | 'count' | 'rows' | 'html' | 'title'

export interface InsertKind {
  readonly name: string
  readonly asks: readonly Asked[]
  readonly choices?: readonly string[]
  readonly start: Partial<InsertValues>
  /** `own` is the class that the rule beside it is for, where there is one. */
  readonly html: (v: InsertValues, utility: boolean, own: string | null) => string
  /** The rule that goes with it where the project is not styled with utility classes. */
  readonly rule?: {
    readonly stem: string
    readonly declarations: (v: InsertValues) => readonly { readonly name: string; readonly value: string }[]
  }
}

const LANDMARKS = ['section', 'article', 'header', 'nav', 'main', 'aside', 'footer', 'div'] as const

export const INSERT_KINDS: readonly InsertKind[] = [
  {
    name: 'Heading',
    asks: ['choice', 'text'],
    choices: ['2', '1', '3', '4', '5', '6'],
    start: { text: 'Heading', choice: '2' },
    html: (v) => headingHtml(Number(v.choice), v.text),
  },
  { name: 'Paragraph', asks: ['lines'], start: { text: 'Text' }, html: (v) => elementHtml('p', v.text) },
  {
    name: 'List',
    asks: ['choice', 'lines'],
    choices: ['ul', 'ol'],
    start: { choice: 'ul', text: 'First\nSecond\nThird' },
    html: (v) => listHtml(v.choice as 'ul' | 'ol', v.text),
  },
  { name: 'Link', asks: ['text', 'address'], start: { text: 'Link' }, html: (v) => linkHtml(v.address, v.text) },
  { name: 'Button', asks: ['text'], start: { text: 'Button' }, html: (v) => buttonHtml(v.text) },
  {
    name: 'Image or figure',
    asks: ['picture', 'alt', 'caption'],
    start: {},
    html: (v) => imageHtml({ src: v.address, alt: v.alt, size: v.size, caption: v.caption }),
  },
  { name: 'Video', asks: ['address'], start: {}, html: (v) => videoHtml(v.address) },
  {
    name: 'Table',
    asks: ['count', 'rows', 'caption'],
    start: { count: 3, rows: 3 },
    html: (v) => tableHtml(v.count, v.rows, v.caption),
  },
  {
    name: 'Form field',
    asks: ['choice', 'text'],
    choices: FIELD_TYPES,
    start: { choice: 'text', text: 'Your name' },
    html: (v) => fieldHtml(v.choice as (typeof FIELD_TYPES)[number], v.text),
  },
  {
    name: 'Section or landmark',
    asks: ['choice', 'text'],
    choices: LANDMARKS,
    start: { choice: 'section', text: 'Heading' },
    html: (v) => sectionHtml(v.choice, v.text),
  },
  {
    name: 'Row of boxes',
    asks: ['count'],
    start: { count: 3 },
    html: (v, utility, own) => boxesHtml('flex', v.count, utility, own),
    rule: { stem: 'row', declarations: () => boxesRule('flex', 0) },
  },
  {
    name: 'Grid of boxes',
    asks: ['count'],
    start: { count: 3 },
    html: (v, utility, own) => boxesHtml('grid', v.count, utility, own),
    rule: { stem: 'grid', declarations: (v) => boxesRule('grid', v.count) },
  },
  { name: 'Dialog', asks: ['text'], start: { text: 'Are you sure?' }, html: (v) => dialogHtml(v.text, v.text) },
  { name: 'Embedded page', asks: ['address', 'title'], start: {}, html: (v) => embedHtml(v.address, v.text) },
  { name: 'HTML as it is', asks: ['html'], start: {}, html: (v) => v.text },
]

export const NO_VALUES: InsertValues = {
  text: '',
  address: '',
  alt: '',
  caption: '',
  choice: '',
  count: 3,
  rows: 3,
  size: null,
}
