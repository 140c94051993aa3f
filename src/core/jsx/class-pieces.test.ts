import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { planIntent } from '../edit'
import { Project } from '../project'
import { JsxDocument } from './document'

const PATH = 'tests/fixtures/components/Notice.tsx'
const TEXT = readFileSync(PATH, 'utf8')

/** The pieces of a tag's class list, each as `when: names`. */
const piecesOf = (tag: string, text = TEXT): string[] =>
  new JsxDocument(text, PATH).elements
    .find((e) => e.tag === tag)!
    .classValue.pieces.map((p) => `${p.when.join(' and ') || 'always'}: ${p.value}${p.isShared ? ' (shared)' : ''}`)

test('a class list is read in its pieces, each with what it waits for', () => {
  expect(piecesOf('section')).toEqual(['always: notice flex gap-2'])
  expect(piecesOf('span')).toEqual([
    'always: badge rounded px-2 (shared)',
    'tone is calm: bg-tide text-white (shared)',
    'tone is late: bg-rust text-white (shared)',
    'size is small: text-sm (shared)',
    'size is large: text-lg (shared)',
    'size is large: py-1 (shared)',
    'no className is given: m-2 (shared)',
  ])
  expect(piecesOf('p')).toEqual(['always: mt-2', 'open: font-bold', '!open: quiet', 'open: text-lg', 'no className is given: m-2 (shared)'])
  // What touches a value that is worked out is only a part of a name.
  expect(piecesOf('div')).toEqual([
    'side is left: ml-0 mr-auto (shared)',
    "side is right: ml-auto mr-0 before:content-['›'] (shared)",
    'always: grid',
  ])
  expect(piecesOf('b')).toEqual(['always: at', 'open: at--open', 'not open: at--shut'])
  expect(piecesOf('i')).toEqual(['always: icon', 'open: icon-open', 'always: ml-0 mr-auto (shared)'])
  expect(piecesOf('a')).toEqual(['always: link', 'open: link-on', 'not open: link-off'])
  expect(piecesOf('h2')).toEqual([])
})

/** The lines that a change of classes takes out and puts in. */
function changed(tag: string, shown: readonly string[], remove: readonly string[], add: readonly { name: string; instead?: string }[]) {
  const project = new Project([{ key: 1, path: PATH, bytes: new TextEncoder().encode(TEXT) }])
  const tree = project.tree(PATH)
  const element = tree.elements.find((e) => e.tag === tag)!
  tree.noteShown!(element, shown)
  const plan = planIntent(project, { kind: 'change-classes', sources: [project.sourceOf(PATH, element.id)], remove, add })
  if (!plan.ok) return plan.why
  for (const c of plan.changes) project.apply(c.path, c.splices)
  const [before, after] = [TEXT.split('\n'), project.text(PATH).split('\n')]
  return after.filter((l, i) => l !== before[i]).map((l) => l.trim())
}

test('an edit changes the piece that decides, and what only comes stands where it always counts', () => {
  expect(changed('p', ['mt-2', 'font-bold', 'text-lg'], ['text-lg'], [{ name: 'text-xl', instead: 'text-lg' }])).toEqual([
    "<p className={clsx(styles.text, 'mt-2', { 'font-bold': open, quiet: !open }, open && 'text-xl', className)}>",
  ])
  expect(changed('p', ['mt-2', 'font-bold', 'text-lg'], [], [{ name: 'p-4' }])).toEqual([
    "<p className={clsx(styles.text, 'mt-2 p-4', { 'font-bold': open, quiet: !open }, open && 'text-lg', className)}>",
  ])
  expect(changed('p', ['mt-2', 'quiet'], ['quiet'], [{ name: 'text-sm', instead: 'quiet' }])).toEqual([
    "<p className={clsx(styles.text, 'mt-2', { 'font-bold': open, 'text-sm': !open }, open && 'text-lg', className)}>",
  ])
  // What is left empty goes, with what separated it.
  expect(changed('p', ['mt-2', 'font-bold', 'text-lg'], ['font-bold'], [])).toEqual([
    "<p className={clsx(styles.text, 'mt-2', { quiet: !open }, open && 'text-lg', className)}>",
  ])
  expect(changed('p', ['mt-2', 'text-lg'], ['text-lg'], [])).toEqual([
    "<p className={clsx(styles.text, 'mt-2', { 'font-bold': open, quiet: !open }, className)}>",
  ])
  expect(changed('i', ['icon', 'ml-0', 'mr-auto'], ['mr-auto'], [])).toEqual([
    `const SIDES = { left: 'ml-0', right: "ml-auto mr-0 before:content-['›']" } as const`,
  ])
  expect(changed('section', ['notice', 'flex', 'gap-2'], ['gap-2'], [{ name: 'gap-4', instead: 'gap-2' }])).toEqual([
    "const BASE = 'notice flex gap-4'",
  ])
  // A class beside one of a module is joined as the file joins.
  expect(changed('h2', ['head'], [], [{ name: "content-['x']" }])).toEqual([
    String.raw`<h2 className={clsx(styles.head, 'content-[\'x\']')}>Fog over the sound &amp; the north quay</h2>`,
  ])
  // Before what is spread, which may give another.
  expect(changed('input', ['field'], ['field'], [])).toEqual(['<input {...{ name }} />'])
})

test('a new class of a module is its rule and its member, as the file joins its lists', () => {
  const SHEET = '.card {\n  margin: 4px;\n}\n'
  /** The class list that a tag has after an edit at a new class of `styles`, and the sheet. */
  const made = (tag: string, name: string, imports = '') => {
    const text = `import styles from './card.module.css'\n${imports}export const A = ({ className, open }) => (\n  ${tag}\n)\n`
    const project = new Project([
      { key: 1, path: 'src/a.tsx', bytes: new TextEncoder().encode(text) },
      { key: 2, path: 'src/card.module.css', bytes: new TextEncoder().encode(SHEET) },
    ])
    const element = project.tree('src/a.tsx').elements[0]
    const plan = planIntent(project, {
      kind: 'set',
      aim: {
        kind: 'new-class',
        source: project.sourceOf('src/a.tsx', element.id),
        name,
        sheet: 'src/card.module.css',
        after: null,
        styles: 'styles',
      },
      name: 'padding-top',
      value: '8px',
    })
    if (!plan.ok) throw new Error(plan.why)
    for (const c of plan.changes) project.apply(c.path, c.splices)
    expect(project.text('src/card.module.css')).toBe(`${SHEET}\n.${name} {\n  padding-top: 8px;\n}\n`)
    expect(plan.selectors).toEqual([])
    return project.text('src/a.tsx').split('\n').at(-3)!.trim()
  }
  const CLSX = "import clsx from 'clsx'\n"
  expect(made('<p>a</p>', 'text')).toBe('<p className={styles.text}>a</p>')
  expect(made('<p id="x" {...{ open }}>a</p>', 'text')).toBe('<p id="x" className={styles.text} {...{ open }}>a</p>')
  expect(made('<p className={styles.card}>a</p>', 'cardAlt')).toBe('<p className={`${styles.card} ${styles.cardAlt}`}>a</p>')
  expect(made('<p className={styles.card}>a</p>', 'card-alt')).toBe("<p className={`${styles.card} ${styles['card-alt']}`}>a</p>")
  expect(made('<p className={styles.card}>a</p>', 'cardAlt', CLSX)).toBe('<p className={clsx(styles.card, styles.cardAlt)}>a</p>')
  expect(made('<p className="mt-2">a</p>', 'text')).toBe('<p className={`${styles.text} mt-2`}>a</p>')
  expect(made('<p className="mt-2">a</p>', 'text', CLSX)).toBe("<p className={clsx(styles.text, 'mt-2')}>a</p>")
  expect(made("<p className={clsx(styles.card, open && 'open')}>a</p>", 'text', CLSX)).toBe(
    "<p className={clsx(styles.card, styles.text, open && 'open')}>a</p>",
  )
  expect(made("<p className={clsx('mt-2', className)}>a</p>", 'text', CLSX)).toBe(
    "<p className={clsx(styles.text, 'mt-2', className)}>a</p>",
  )
  expect(made('<p className={`${styles.card} mt-2`}>a</p>', 'text')).toBe('<p className={`${styles.card} mt-2 ${styles.text}`}>a</p>')
  expect(made('<p className={className}>a</p>', 'text')).toBe("<p className={`${styles.text} ${className ?? ''}`}>a</p>")
  expect(made('<p className={open ? styles.card : styles.shut}>a</p>', 'text')).toBe(
    '<p className={`${styles.text} ${open ? styles.card : styles.shut}`}>a</p>',
  )
})

test('a class is renamed in each piece that says it, and nowhere else', () => {
  const project = new Project([
    { key: 1, path: PATH, bytes: new TextEncoder().encode(TEXT) },
    { key: 2, path: 'src/app.css', bytes: new TextEncoder().encode('.call { gap: 4px }\n.call--open { gap: 8px }\n') },
  ])
  const plan = planIntent(project, { kind: 'rename-class', from: 'call', to: 'ring' })
  if (!plan.ok) throw new Error(plan.why)
  for (const c of plan.changes) project.apply(c.path, c.splices)
  expect(project.text('src/app.css')).toBe('.ring { gap: 4px }\n.call--open { gap: 8px }\n')
  expect(project.text(PATH)).toBe(TEXT.replace("open ? 'call call--open' : 'call'", "open ? 'ring call--open' : 'ring'"))
})

test('a class of a module is renamed in it, in what composes it, and where scripts take it; one of plain sheets is another', () => {
  const files = {
    'src/card.module.css':
      '.card {\n  margin: 4px;\n}\n.card:hover .title {\n  composes: card big from "./big.module.css";\n}\n.wide {\n  composes: card;\n}\n',
    'src/big.module.css': '.big .card {\n  composes: card from "./card.module.css";\n}\n',
    'src/site.css': '.card {\n  margin: 8px;\n}\n',
    'src/a.tsx':
      "import styles from './card.module.css'\nconst first = styles['card']\nexport const A = ({ tone }) => <p className={`${styles.card} card ${styles[tone]} ${other.card}`}>card {styles?.card}</p>\n",
    'src/b.tsx': "import s from '@/card.module.css'\nexport const B = () => <b className={s.card} />\n",
    'src/c.tsx': "import styles from './big.module.css'\nexport const C = () => <b className={styles.card} />\n",
  }
  const after = (to: string, module?: string) => {
    const project = new Project(
      Object.entries(files).map(([path, text], key) => ({ key: key + 1, path, bytes: new TextEncoder().encode(text) })),
    )
    const plan = planIntent(project, { kind: 'rename-class', from: 'card', to, ...(module !== undefined && { module }) })
    if (!plan.ok) throw new Error(plan.why)
    for (const c of plan.changes) project.apply(c.path, c.splices)
    return Object.fromEntries(
      Object.keys(files).flatMap((path) => (project.text(path) === files[path as keyof typeof files] ? [] : [[path, project.text(path)]])),
    )
  }
  expect(after('tile', 'src/card.module.css')).toEqual({
    'src/card.module.css':
      '.tile {\n  margin: 4px;\n}\n.tile:hover .title {\n  composes: card big from "./big.module.css";\n}\n.wide {\n  composes: tile;\n}\n',
    'src/big.module.css': '.big .card {\n  composes: tile from "./card.module.css";\n}\n',
    'src/a.tsx': files['src/a.tsx']
      .replace("styles['card']", 'styles.tile')
      .replace('${styles.card}', '${styles.tile}')
      .replace('styles?.card', 'styles?.tile'),
    'src/b.tsx': files['src/b.tsx'].replace('s.card}', 's.tile}'),
  })
  expect(after('card-tile', 'src/card.module.css')['src/b.tsx']).toBe(files['src/b.tsx'].replace('s.card}', "s['card-tile']}"))
  // The class list's own name is one of plain sheets.
  expect(after('tile')).toEqual({
    'src/site.css': '.tile {\n  margin: 8px;\n}\n',
    'src/a.tsx': files['src/a.tsx'].replace('} card $', '} tile $'),
  })
})

test('while a file cannot be read none of its tags is edited, and afterwards each is the one it was', () => {
  const doc = new JsxDocument('const A = () => <b title="x">one</b>\n', 'a.tsx')
  const [{ id }] = doc.elements
  doc.apply([{ from: 0, to: 0, insert: 'const = ; ' }])
  expect([doc.has(id), doc.elements]).toEqual([false, []])
  expect(() => doc.element(id)).toThrow(RangeError)
  doc.apply([{ from: 0, to: 10, insert: 'let n; ' }])
  expect([doc.has(id), doc.text.slice(doc.element(id).startTag.from)]).toEqual([true, '<b title="x">one</b>\n'])
})
