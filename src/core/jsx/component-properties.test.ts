import { expect, test } from 'vitest'
import { applySplices } from '../text'
import { componentProperties, givenBy, setProperty, type ComponentProperty } from './component-properties'
import { JsxDocument } from './document'

/** What a component is said to take: `name: kind`, its words, and what counts without it. */
function taken(text: string, component = 'Card', path = 'src/Card.tsx'): string[] | null {
  const found = componentProperties(new JsxDocument(text, path), component)
  return (
    found &&
    found.map(({ name, kind, choices, initial }) => `${name}: ${choices.join('|') || kind}${initial === null ? '' : ` = ${initial}`}`)
  )
}

const BODY = 'return <p />'

test.each<[what: string, text: string, taken: string[] | null]>([
  [
    'an interface, with what it extends, and a destructured parameter',
    `interface Base { size: 1 | 2 }\ninterface CardProps extends Base { readonly title: string; tone?: 'plain' | 'strong'; open?: boolean; note?: React.ReactNode; onClose(): void; onPick?: () => void; items: string[] }\nexport function Card({ title, tone = 'plain', open, size = 2 }: CardProps) { ${BODY} }`,
    ['size: number = 2', 'title: text', 'tone: plain|strong = plain', 'open: boolean', 'note: text', 'items: other'],
  ],
  [
    'an alias of an intersection, around `memo`',
    `type Tone = 'plain' | Loud\ntype Loud = 'strong'\ntype Props = Readonly<{ tone: Tone | undefined }> & { n: number }\nexport const Card = memo(function Card(props: Props) { ${BODY} })`,
    ['tone: plain|strong', 'n: number'],
  ],
  [
    'a type of the constant',
    `const Card: React.FC<{ title?: string | null }> = ({ title = 'Pier' }) => <p>{title}</p>`,
    ['title: text = Pier'],
  ],
  [
    'one given to `forwardRef`',
    `const Card = React.forwardRef<HTMLElement, { wide?: boolean }>(({ wide, className, ...rest }, ref) => <p />)`,
    ['wide: boolean'],
  ],
  [
    'the keys of a record',
    `const sizes = { small: 'p-2', 'x-large': 'p-8' }\nfunction Card({ size }: { size: keyof typeof sizes }) { ${BODY} }`,
    ['size: small|x-large'],
  ],
  [
    'variants of `cva`, which other elements take too',
    `const card = cva('p-2', { variants: { tone: { plain: '', strong: 'font-bold' }, wide: { true: 'w-full', false: '' } }, defaultVariants: { tone: 'plain' } })\ninterface Props extends React.HTMLAttributes<HTMLElement>, VariantProps<typeof card> { asChild?: boolean }\nfunction Card({ tone, wide, ...rest }: Props) { ${BODY} }`,
    ['tone: plain|strong = plain', 'wide: boolean', 'asChild: boolean'],
  ],
  [
    'no type at all',
    `const SIZES = { small: 'p-2', large: 'p-8' }\nexport default function Card({ title, size = 'small', of = 3, open: isOpen = false, children }) { return <p className={SIZES[size]} /> }`,
    ['title: other', 'size: small|large = small', 'of: number = 3', 'open: boolean = false'],
  ],
  ['another component', `function Other({ a }) { ${BODY} }`, null],
  ['a file at fault', `function Card({`, null],
])('what a component takes is read from %s', (_, text, expected) => {
  expect(taken(text, 'Card', expected && text.includes('export default') ? 'src/Card.jsx' : undefined)).toEqual(expected)
})

function edited(tag: string, name: string, value: string | null, kind: ComponentProperty['kind']): string {
  const doc = new JsxDocument(`const a = <p title="x">${tag}</p>`, 'a.tsx')
  const plan = setProperty(doc, doc.elements[1], name, value, kind)
  return plan.ok ? applySplices(doc.text, plan.splices).slice('const a = <p title="x">'.length, -'</p>'.length) : plan.why
}

test.each<[tag: string, name: string, value: string | null, kind: ComponentProperty['kind'], after: string]>([
  ['<Card />', 'tone', 'strong', 'choice', '<Card tone="strong" />'],
  ['<Card tone="plain" {...rest} />', 'tone', 'strong', 'choice', '<Card tone="strong" {...rest} />'],
  [`<Card tone={'plain'} />`, 'tone', 'strong', 'choice', `<Card tone={'strong'} />`],
  ['<Card tone="plain" a />', 'tone', null, 'choice', '<Card a />'],
  ['<Card />', 'tone', null, 'choice', '<Card />'],
  ['<Card />', 'open', 'true', 'boolean', '<Card open />'],
  ['<Card open={false} a />', 'open', 'true', 'boolean', '<Card open a />'],
  ['<Card open a />', 'open', 'false', 'boolean', '<Card open={false} a />'],
  ['<Card open={true} />', 'open', 'false', 'boolean', '<Card open={false} />'],
  ['<Card of={3} />', 'of', '4.5', 'number', '<Card of={4.5} />'],
  ['<Card of="3" />', 'of', '4', 'number', '<Card of="4" />'],
  ['<Card />', 'of', '4', 'number', '<Card of={4} />'],
  ['<Card title={`Pier`} />', 'title', 'A "b"', 'text', '<Card title={`A "b"`} />'],
  ['<Card readonly="x" />', 'readonly', 'y', 'text', '<Card readonly="y" />'],
  ['<Card title={name} />', 'title', 'x', 'text', 'title is worked out while the page runs.'],
  ['<Card />', 'of', 'four', 'number', 'of takes a number.'],
  ['<Card />', 'a b', 'x', 'text', '“a b” cannot be the name of a property.'],
])('%s with %s %s', (tag, name, value, kind, after) => {
  expect(edited(tag, name, value, kind)).toBe(after)
})

test('what a tag gives is as its file says it, without handlers, classes and styles', () => {
  const doc = new JsxDocument(
    `const a = <Card open wide={false} n={3} title={name} tone='strong' key={1} className="x" onClick={go} {...rest} />`,
    'a.tsx',
  )
  expect(givenBy(doc, doc.elements[0])).toEqual([
    { name: 'open', value: 'true', kind: 'boolean', said: '' },
    { name: 'wide', value: 'false', kind: 'boolean', said: '{false}' },
    { name: 'n', value: '3', kind: 'number', said: '{3}' },
    { name: 'title', value: null, kind: 'text', said: '{name}' },
    { name: 'tone', value: 'strong', kind: 'text', said: "'strong'" },
  ])
})
