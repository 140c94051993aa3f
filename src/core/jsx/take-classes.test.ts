import { parse } from '@babel/parser'
import { expect, test } from 'vitest'
import { applySplices, normalizeSplices } from '../text'
import { JsxDocument } from './document'
import { takeClasses } from './take-classes'

/** A file with the component of that name taking classes; why not, where it cannot. */
function taking(text: string, component = 'Card', path = 'a.tsx'): string {
  const doc = new JsxDocument(text, path)
  const root = doc.elements.find((e) => e.attribute('data-root') !== null) ?? doc.elements[0]
  const plan = takeClasses(doc, root, component)
  if (!plan.ok) return plan.why
  const after = applySplices(text, normalizeSplices([...plan.splices]))
  parse(after, { sourceType: 'module', plugins: ['jsx', ...(path.endsWith('.tsx') ? (['typescript'] as const) : [])] })
  return `${plan.how}: ${after}`
}

test('a component takes a class list as its file is written: its properties, their type, and the list of its root', () => {
  expect(
    taking(
      'interface Props {\n  title: string\n  note?: string\n}\n\nexport function Card({ title, note }: Props) {\n  return <h2 className="p-4">{title}</h2>\n}\n',
    ),
  ).toBe(
    "joined: interface Props {\n  title: string\n  note?: string\n  className?: string\n}\n\nexport function Card({ title, note, className }: Props) {\n  return <h2 className={`p-4 ${className ?? ''}`}>{title}</h2>\n}\n",
  )
  // Semicolons, `readonly`, a rest, lists that are broken, and the file's own joining function.
  expect(
    taking(
      "import { cn } from './cn'\ntype Props = {\n  readonly title: string;\n  readonly tone: Tone;\n};\nconst Card = ({\n  title,\n  ...rest\n}: Props) => (\n  <p className={cn('p-4', tones[rest.tone])}>{title}</p>\n);\n",
    ),
  ).toBe(
    "merged: import { cn } from './cn'\ntype Props = {\n  readonly title: string;\n  readonly tone: Tone;\n  readonly className?: string;\n};\nconst Card = ({\n  title,\n  className,\n  ...rest\n}: Props) => (\n  <p className={cn('p-4', tones[rest.tone], className)}>{title}</p>\n);\n",
  )
  expect(taking('const Card = ({ title }: { title: string }) => <p>{title}</p>\n')).toBe(
    'joined: const Card = ({ title, className }: { title: string; className?: string }) => <p className={className}>{title}</p>\n',
  )
  expect(taking('export default function Card() {\n  return <hr className="my-2" />\n}\n')).toBe(
    "joined: export default function Card({ className }: { className?: string }) {\n  return <hr className={`my-2 ${className ?? ''}`} />\n}\n",
  )
  expect(taking('const Card: FC<Props> = (props) => <p className={`p-2 ${props.x}`} />\ntype Props = { x: string }\n')).toBe(
    "joined: const Card: FC<Props> = (props) => <p className={`p-2 ${props.x} ${props.className ?? ''}`} />\ntype Props = { x: string; className?: string }\n",
  )
  // What the type has by itself, and a module's class.
  expect(
    taking(
      "import styles from './c.module.css'\nfunction Card({ id }: Props & ComponentProps<'p'>) {\n  return <p className={styles.card} />\n}\n",
    ),
  ).toBe(
    "joined: import styles from './c.module.css'\nfunction Card({ id, className }: Props & ComponentProps<'p'>) {\n  return <p className={`${styles.card} ${className ?? ''}`} />\n}\n",
  )
  expect(taking('const Card = memo(function Card({}) {\n  return <p />\n})\n', 'Card', 'a.jsx')).toBe(
    'joined: const Card = memo(function Card({ className }) {\n  return <p className={className} />\n})\n',
  )
})

test('a component that takes one by now is left as it is', () => {
  const text = 'const Card = ({ className }: { className?: string }) => <p className={`p-4 ${className}`} />\n'
  expect(taking(text)).toBe(`joined: ${text}`)
})

test('a component that cannot be made to take one is left as it is', () => {
  const of = (text: string, component?: string) => taking(text, component)
  expect(of("import type { Props } from './props'\nconst Card = ({ a }: Props) => <p />\n")).toMatch(/not written where it can be added/)
  expect(of('const Card = ({ className: own }: { className: string }) => <p title={own} />\n')).toMatch(/not written where/)
  expect(of('const Card = ({ a }) => <p />\n')).toMatch(/not written where/)
  expect(of('const Card = () => <><p data-root /><p /></>\n')).toMatch(/not all that/)
  expect(of('const Card = () => <b><p data-root /></b>\n')).toMatch(/not all that/)
  expect(of('const Card = ({ a }: { a: string }) => (a ? <p /> : <b />)\n')).toMatch(/not all that/)
  expect(of('const List = ({ all }: { all: string[] }) => all.map((a) => <p key={a} />)\n', 'List')).toMatch(/no part of|not all that/)
  expect(of('function Card({ a }: { a: string }) {\n  if (a) return <b />\n  return <p data-root />\n}\n')).toMatch(/not all that/)
  expect(of('function Card({ a }: { a: string }) {\n  if (a) return null\n  return <p data-root />\n}\n')).toMatch(/^joined: /)
  // A name that is taken, in the component or around it, and what is spread, which may have a class list of another use.
  expect(of("const Card = ({ a }: { a: string }) => {\n  const className = 'p-4'\n  return <p className={className}>{a}</p>\n}\n")).toMatch(
    /not written where/,
  )
  expect(of("const className = 'p-4'\nconst Card = ({ a }: { a: string }) => <p className={className}>{a}</p>\n")).toMatch(
    /not written where/,
  )
  expect(of('const Card = ({ a, ...rest }: { a: string }) => <p className="p-4"><b {...rest} /></p>\n')).toMatch(/not written where/)
  expect(of('const Card = (props: { a: string }) => <p className="p-4" {...props} />\n')).toMatch(/not written where/)
  expect(of('const Other = () => <p />\n')).toMatch(/no part of Card/)
  expect(of('const root = <p />\n')).toMatch(/no part of Card/)
})
