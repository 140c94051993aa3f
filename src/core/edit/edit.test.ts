import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { Project } from '../project'
import { Journal, planIntent, type FileChange, type Intent, type JournalEdit } from '.'

const site = (files: Record<string, string>) =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))

const FILES = {
  'index.html':
    '<!doctype html><style>.card{top:0}</style><div class="card  wide\n card">A</div><p class=\'card\' style="color: red">B</p><i class="&#99;ard">C</i>',
  'a.css':
    '.card { color: red; padding: 4px }\n@media (max-width: 9em) { a > .card:hover, .other { top: 0 !important } }\n.card-x { x: y }\n:root { --ink: #123 }\n',
}

/** Makes an intent's changes; what it did, or why it was refused. */
function make(project: Project, intent: Intent): FileChange[] | string {
  const plan = planIntent(project, intent)
  return plan.ok ? plan.changes.map((c) => ({ ...c, inverse: project.apply(c.path, c.splices).inverse })) : plan.reason
}

const ruleOf = (project: Project, selector: string) => {
  const ref = project.sheet('a.css')!
  return [...ref.sheet.rules()].find((s) => s.statement.text.slice(s.rule.prelude.from, s.rule.prelude.to) === selector)!.rule.id
}
const aim = (project: Project, selector: string) => ({
  kind: 'rule' as const,
  sheet: 'a.css',
  rule: ruleOf(project, selector),
})

describe('intents', () => {
  test('a class is renamed in every selector and class list, and undone in every file', () => {
    const project = site(FILES)
    const changes = make(project, { kind: 'rename-class', from: 'card', to: 'fare:1' }) as FileChange[]
    expect(changes.map((c) => c.path).sort()).toEqual(['a.css', 'index.html'])
    expect(project.text('a.css')).toBe(FILES['a.css'].replace('.card {', '.fare\\:1 {').replace('.card:hover', '.fare\\:1:hover'))
    expect(project.text('index.html')).toBe(
      '<!doctype html><style>.fare\\:1{top:0}</style><div class="fare:1  wide\n fare:1">A</div><p class=\'fare:1\' style="color: red">B</p><i class="fare:1">C</i>',
    )
    for (const c of changes.reverse()) project.apply(c.path, c.inverse)
    for (const [path, text] of Object.entries(FILES)) expect(project.text(path)).toBe(text)
    expect(make(project, { kind: 'rename-class', from: 'card', to: 'a b' })).toBe('bad-name')
    expect(make(project, { kind: 'rename-class', from: 'none', to: 'x' })).toBe('not-found')
    for (const selector of ['.a >', '.a, ', '> .a', '.a {', '.a ~ , .b'])
      expect([selector, make(project, { kind: 'set-selector', aim: aim(project, '.card'), selector })]).toEqual([selector, 'bad-value'])
  })

  test('the comments around a value are changed only where the value says them', () => {
    const project = site({ 'a.css': '.a { box-shadow: 0 0 red /* hairline */; top: 0 }' })
    const at = aim(project, '.a')
    make(project, { kind: 'set', aim: at, name: 'box-shadow', value: '0 0 blue' })
    expect(project.text('a.css')).toBe('.a { box-shadow: 0 0 blue /* hairline */; top: 0 }')
    make(project, { kind: 'set', aim: at, name: 'box-shadow', value: '0 0 blue /* , 1px 1px red */', comments: true })
    expect(project.text('a.css')).toBe('.a { box-shadow: 0 0 blue /* , 1px 1px red */; top: 0 }')
    make(project, { kind: 'set', aim: at, name: 'box-shadow', value: '0 0 blue, 1px 1px red', comments: true })
    expect(project.text('a.css')).toBe('.a { box-shadow: 0 0 blue, 1px 1px red; top: 0 }')
  })

  test('a declaration is switched off and on, made important and removed', () => {
    const project = site(FILES)
    const at = aim(project, '.card')
    make(project, { kind: 'switch-off', aim: at, name: 'color' })
    expect(project.text('a.css')).toContain('.card { /* color: red; */ padding: 4px }')
    make(project, { kind: 'switch-on', aim: at, name: 'color' })
    expect(project.text('a.css')).toBe(FILES['a.css'])
    make(project, { kind: 'make-important', aim: at, name: 'padding' })
    expect(project.text('a.css')).toContain('padding: 4px !important }')
    make(project, { kind: 'remove', aim: at, name: 'color' })
    expect(project.text('a.css')).toContain('.card { padding: 4px !important }')
    expect(make(project, { kind: 'remove', aim: at, name: 'top' })).toBe('not-found')
  })

  test('a token is changed at its definition, a new rule goes after its relative', () => {
    const project = site(FILES)
    make(project, {
      kind: 'set',
      aim: { kind: 'token', sheet: 'a.css', rule: ruleOf(project, ':root'), name: '--ink' },
      name: 'color',
      value: '#456',
    })
    expect(project.text('a.css')).toContain(':root { --ink: #456 }')
    make(project, {
      kind: 'set',
      aim: { kind: 'new-rule', sheet: 'a.css', after: ruleOf(project, '.card'), selector: '.card b', under: '' },
      name: 'top',
      value: '1px',
    })
    expect(project.text('a.css')).toContain('padding: 4px }\n.card b { top: 1px }\n@media')
  })

  test('a value is spelled as its file spells values', () => {
    const project = site({ 'a.css': '.a{margin:.5rem;color:#FFF;top:.25em}.b{left:.1px;background:#ABC}.c{x:y}' })
    const set = (name: string, value: string) =>
      make(project, {
        kind: 'set',
        aim: { kind: 'rule', sheet: 'a.css', rule: [...project.sheet('a.css')!.sheet.rules()][0].rule.id },
        name,
        value,
      })
    set('margin', '0.75rem')
    set('color', '#aabbcc')
    expect(project.text('a.css')).toBe('.a{margin:.75rem;color:#ABC;top:.25em}.b{left:.1px;background:#ABC}.c{x:y}')
    set('top', 'calc(0.5em + 10.05px)')
    expect(project.text('a.css')).toContain('top:calc(.5em + 10.05px)')
  })

  describe('a rule that is not there yet is written in the file’s own habit', () => {
    const write = (css: string, base: string, selector: string, under = '') => {
      const project = site({ 'a.css': css })
      const rule = [...project.sheet('a.css')!.sheet.rules()].find(
        (s) => s.statement.text.slice(s.rule.prelude.from, s.rule.prelude.to) === base,
      )!.rule.id
      const made = make(project, {
        kind: 'set',
        aim: { kind: 'new-rule', sheet: 'a.css', after: rule, selector, under },
        name: 'top',
        value: '0.5em',
      })
      expect(made).toBeTypeOf('object')
      return project.text('a.css')
    }
    test('a state beside its base', () => {
      expect(write('.a,\n.b {\n    color: red;\n}\n\n.c {\n    color: red;\n}\n', '.a,\n.b', '.a:hover, .b:hover')).toBe(
        '.a,\n.b {\n    color: red;\n}\n\n.a:hover, .b:hover {\n    top: 0.5em;\n}\n\n.c {\n    color: red;\n}\n',
      )
    })
    test('a state nested where states are nested', () => {
      expect(write('.a {\n  color: red;\n  &:focus { color: blue; }\n}\n.b {\n  color: red;\n}\n', '.b', '.b:hover')).toContain(
        '.b {\n  color: red;\n  &:hover {\n    top: 0.5em;\n  }\n}',
      )
    })
    test('what only begins alike is no part of it, and stands beside', () => {
      const nested = '.a {\n  color: red;\n\n  &:focus { color: blue; }\n}\n'
      expect(write(nested, '.a', '.a__b')).toBe(`${nested}\n.a__b {\n  top: 0.5em;\n}\n`)
    })
    test('in a layer, a rule and a block for a width stay in it', () => {
      const layered = (...inner: string[]) =>
        `@layer one {\n${inner.map((i) => i.replace(/^(?=.)/gm, '  ')).join('\n\n')}\n}\n\n@media print {\n  .z { color: red; }\n}\n`
      const [a, b] = ['.a { color: red; }', '.b { color: red; }']
      expect(write(layered(a, b), '.a', '.c')).toBe(layered(a, '.c { top: 0.5em; }', b))
      const block = '@media (max-width: 40em) {\n  .a { top: 0.5em; }\n}'
      expect(write(layered(a, b), '.a', '.a', '(max-width: 40em)')).toBe(layered(a, block, b))
      expect(write(layered(a, b, block), '.b', '.b', '(max-width: 40em)')).toBe(
        layered(a, b, '@media (max-width: 40em) {\n  .a { top: 0.5em; }\n\n  .b { top: 0.5em; }\n}'),
      )
    })
    test('a width into the block that is there', () => {
      expect(
        write('.a { color: red }\n.c { x: y }\n@media (max-width:40em) {\n  .z { color: red }\n}\n', '.a', '.a', '(max-width: 40em)'),
      ).toBe('.a { color: red }\n.c { x: y }\n@media (max-width:40em) {\n  .z { color: red }\n  .a { top: 0.5em }\n}\n')
    })
    test('a width into the block about the same class, of several the nearest else, and before what is narrower', () => {
      const rules = (...list: string[]) => `${list.join('\n')}\n`
      const wide = (...inner: string[]) => `@media (min-width: 60em) {\n${inner.map((i) => `  ${i}\n`).join('')}}`
      const [a, b, c] = ['.a { color: red }', '.b { color: red }', '.c { color: red }']
      const top = '.a { top: 0.5em }'
      // A file in sections, each with its own blocks.
      expect(write(rules(a, wide(a), b, wide(b), c, wide(c)), '.a', '.a', '(min-width: 60em)')).toBe(
        rules(a, wide(a, top), b, wide(b), c, wide(c)),
      )
      expect(write(rules(a, wide(b), b, wide('p > .a.x { color: red }'), c, wide(c)), '.a', '.a', '(min-width: 60em)')).toBe(
        rules(a, wide(b), b, wide('p > .a.x { color: red }', top), c, wide(c)),
      )
      expect(write(rules(wide(c), a, wide('.ab { color: red }'), b, wide(b)), '.a', '.a', '(min-width: 60em)')).toBe(
        rules(wide(c), a, wide('.ab { color: red }', top), b, wide(b)),
      )
      expect(write(rules(a, b, '@media print {\n  .b { color: red }\n}', c), '.a', '.a', '(min-width: 60em)')).toBe(
        rules(a, wide(top), b, '@media print {\n  .b { color: red }\n}', c),
      )
      // All blocks at the end, from wide to narrow.
      const upTo = (em: number, rule: string) => `@media (max-width: ${em}em) {\n  ${rule}\n}`
      expect(write(rules(a, b, upTo(60, b), upTo(30, b)), '.a', '.a', '(max-width: 45em)')).toBe(
        rules(a, b, upTo(60, b), upTo(45, top), upTo(30, b)),
      )
      expect(write(rules(a, b, upTo(60, b), upTo(30, b)), '.a', '.a', '(max-width: 20em)')).toBe(
        rules(a, b, upTo(60, b), upTo(30, b), upTo(20, top)),
      )
    })
    test('a width as a block of its own, minified', () => {
      expect(write('.a{color:red}.b{left:.5em}.c{x:y}', '.a', '.a', '(width>40em)')).toBe(
        '.a{color:red}@media (width>40em){.a{top:.5em}}.b{left:.5em}.c{x:y}',
      )
    })
    test('a width nested where conditions are nested', () => {
      expect(
        write('.z {\n  x: y;\n  @media (max-width: 9em) {\n    x: z;\n  }\n}\n\n.a {\n  color: red;\n}\n', '.a', '.a', '(max-width: 9em)'),
      ).toContain('.a {\n  color: red;\n\n  @media (max-width: 9em) {\n    top: 0.5em;\n  }\n}')
    })
  })

  test('a class of an element’s own goes into its list and gets a rule', () => {
    const project = site(FILES)
    make(project, {
      kind: 'set',
      aim: { kind: 'new-class', source: '1.6', name: 'card-alt', sheet: 'a.css', after: ruleOf(project, '.card') },
      name: 'top',
      value: '1px',
    })
    expect(project.text('a.css')).toContain('.card { color: red; padding: 4px }\n.card-alt { top: 1px }\n')
    expect(project.text('index.html')).toBe(FILES['index.html'].replace("<p class='card'", "<p class='card card-alt'"))
    const inPage = site({ 'index.html': '<style>.card{top:0}.y{top:1px}.z{top:2px}</style><p class=card>B' })
    make(inPage, {
      kind: 'set',
      aim: { kind: 'new-class', source: '1.5', name: 'b', sheet: '#1.3', after: null },
      name: 'top',
      value: '1px',
    })
    expect(inPage.text('index.html')).toBe('<style>.card{top:0}.y{top:1px}.z{top:2px}.b{top:1px}</style><p class="card b">B')
  })

  test('a value becomes a token and is used where it stood', () => {
    const project = site(FILES)
    make(project, { kind: 'make-token', aim: aim(project, '.card'), name: 'padding', token: 'space' })
    expect(project.text('a.css')).toBe(
      FILES['a.css'].replace('padding: 4px', 'padding: var(--space)').replace('--ink: #123', '--ink: #123; --space: 4px'),
    )
    expect(make(project, { kind: 'make-token', aim: aim(project, '.card'), name: 'color', token: '--ink' })).toBe('bad-name')
    const bare = site({ 'a.css': '@import "x";\n.a { color: red; }\n' })
    make(bare, { kind: 'make-token', aim: aim(bare, '.a'), name: 'color', token: '--warm' })
    expect(bare.text('a.css')).toBe('@import "x";\n:root { --warm: red; }\n.a { color: var(--warm); }\n')
  })

  test('several intents are one edit, or none of them is made', () => {
    const project = site(FILES)
    const set = (selector: string, name: string, value: string): Intent => ({
      kind: 'set',
      aim: aim(project, selector),
      name,
      value,
    })
    const changes = make(project, {
      kind: 'together',
      label: 'both',
      intents: [
        set('.card', 'color', 'navy'),
        set('.card', 'top', '2px'),
        { kind: 'set', aim: { kind: 'inline', source: '1.7' }, name: 'left', value: '0' },
      ],
    }) as FileChange[]
    expect(project.text('a.css')).toContain('.card { color: navy; padding: 4px; top: 2px }')
    expect(project.text('index.html')).toContain('<i class="&#99;ard" style="left: 0">')
    for (const c of changes.reverse()) project.apply(c.path, c.inverse)
    for (const [path, text] of Object.entries(FILES)) expect(project.text(path)).toBe(text)
    expect(
      make(project, {
        kind: 'together',
        label: '',
        intents: [set('.card', 'color', 'navy'), set('.card', 'top', '}')],
      }),
    ).toBe('bad-value')
    for (const [path, text] of Object.entries(FILES)) expect(project.text(path)).toBe(text)
  })

  test('a property goes back to what an edit found, in whichever declaration it was', () => {
    const css = '.card { padding: var(--x); background: red; margin: 1px 2px }\n'
    for (const [name, value] of [
      ['padding-left', '9px'],
      ['background-color', 'blue'],
      ['margin-left', '5px'],
      ['top', '0'],
    ]) {
      const project = site({ 'a.css': css })
      const at = aim(project, '.card')
      const plan = planIntent(project, { kind: 'set', aim: at, name, value })
      if (!plan.ok) throw new Error(plan.why)
      for (const c of plan.changes) project.apply(c.path, c.splices)
      expect(project.text('a.css')).not.toBe(css)
      make(project, { kind: 'restore', aim: at, name, before: plan.before })
      expect(project.text('a.css')).toBe(css)
    }
  })

  test('a style attribute loses its last declaration and then itself', () => {
    const project = site({ 'i.html': '<p style="color: red; top: 0">A' })
    const inline = { kind: 'inline', source: '1.4' } as const
    make(project, { kind: 'switch-off', aim: inline, name: 'color' })
    expect(project.text('i.html')).toBe('<p style="/* color: red; */ top: 0">A')
    make(project, { kind: 'switch-on', aim: inline, name: 'color' })
    make(project, { kind: 'make-important', aim: inline, name: 'top' })
    expect(project.text('i.html')).toBe('<p style="color: red; top: 0 !important">A')
    make(project, { kind: 'remove', aim: inline, name: 'color' })
    make(project, { kind: 'remove', aim: inline, name: 'top' })
    expect(project.text('i.html')).toBe('<p>A')
  })

  test('any chain of intents is undone to the identical bytes', () => {
    const intent = fc.oneof(
      fc.record({
        kind: fc.constant('set' as const),
        at: fc.nat(9),
        name: fc.constantFrom('color', 'padding-left', 'top', '--ink', 'border'),
        value: fc.constantFrom('red', '1px', '0', 'var(--x)', '1px solid', 'no;t', '}'),
      }),
      fc.record({
        kind: fc.constantFrom(
          'remove' as const,
          'switch-off' as const,
          'switch-on' as const,
          'make-important' as const,
          'make-normal' as const,
        ),
        at: fc.nat(9),
        name: fc.constantFrom('color', 'padding', 'top'),
      }),
      fc.record({
        kind: fc.constant('rename-class' as const),
        from: fc.constantFrom('card', 'other', 'wide', 'b'),
        to: fc.constantFrom('b', 'card', 'x-y'),
      }),
    )
    fc.assert(
      fc.property(fc.array(intent, { maxLength: 25 }), (list) => {
        const project = site(FILES)
        const done: FileChange[] = []
        for (const i of list) {
          const rules = [...project.sheet('a.css')!.sheet.rules()].filter((s) => s.rule.kind === 'style')
          const changes = make(
            project,
            'at' in i ? ({ ...i, aim: { kind: 'rule', sheet: 'a.css', rule: rules[i.at % rules.length].rule.id } } as Intent) : i,
          )
          if (typeof changes !== 'string') done.push(...changes)
        }
        for (const c of done.reverse()) project.apply(c.path, c.inverse)
        for (const [path, text] of Object.entries(FILES)) expect(project.text(path)).toBe(text)
      }),
      { numRuns: 150, seed: 3 },
    )
  })
})

test('the journal keeps order, drops what was undone, and follows its lines', () => {
  const journal = new Journal()
  const edit = (seq: number, splices: FileChange['splices'], at: number): JournalEdit => ({
    seq,
    changes: [{ path: 'a', splices, inverse: [] }],
    path: 'a',
    name: 'x',
    before: null,
    after: 'y',
    at,
    label: '',
    reach: 1,
    made: 0,
    verdict: { state: 'pending' },
  })
  journal.add(edit(1, [{ from: 10, to: 10, insert: 'ab' }], 10))
  journal.add(edit(2, [{ from: 0, to: 0, insert: '12345' }], 0))
  expect(journal.offsetNow(1)).toBe(15)
  journal.moved(-1)
  expect([journal.offsetNow(1), journal.redoable?.seq, journal.undoable?.seq]).toEqual([10, 2, 1])
  expect(() => journal.add(edit(3, [], 0))).toThrow(RangeError)
  journal.add(edit(2, [], 0))
  expect(journal.redoable).toBeNull()
  expect(() => journal.moved(1)).toThrow(RangeError)
})

describe('hostile and odd input', () => {
  const sheets: [string, () => string][] = [
    ['a sheet of 4 MB', () => '.a { color: red; padding: 1px 2px }\n'.repeat(116_000)],
    ['100,000 rules', () => Array.from({ length: 100_000 }, (_, i) => `.r${i}{top:${i}px}`).join('')],
    ['2,000 levels of nesting', () => `${'.a{color:red;'.repeat(2000)}${'}'.repeat(2000)}`],
    ['nothing closed', () => `.a { color: red; } ${'@media (a) { .b { c: url( '.repeat(500)}`],
    ['lone surrogates and NUL', () => '.a\ud800 { color: red\0; content: "\udfff" }\n\0{}\0'],
    ['only brackets', () => '.a{color:red}' + '([{'.repeat(30_000)],
  ]
  test.each(sheets)(
    '%s is read, edited and undone without a lost byte',
    (_, text) => {
      // Not through bytes: a lone surrogate has none, but a person can paste one.
      const source = text()
      const project = new Project([{ key: 1, path: 'a.css', bytes: new TextEncoder().encode(source) }])
      const before = project.text('a.css')
      const rule = [...project.sheet('a.css')!.sheet.rules()].find((s) => s.rule.kind === 'style')!.rule.id
      const changes = make(project, {
        kind: 'set',
        aim: { kind: 'rule', sheet: 'a.css', rule },
        name: 'padding',
        value: '3px',
      })
      if (typeof changes === 'string') expect(changes).toMatch(/unparsable|bad-value/)
      else for (const c of changes) project.apply(c.path, c.inverse)
      expect(project.text('a.css')).toBe(before)
    },
    30_000,
  )

  test('2,000 levels of elements are read and edited', () => {
    const project = site({ 'x.html': '<div class="a">'.repeat(2000) })
    const { element } = project.element('1.1000') ?? {}
    expect(element?.tag).toBe('div')
    const changes = make(project, { kind: 'set', aim: { kind: 'inline', source: '1.1000' }, name: 'top', value: '1px' })
    expect(typeof changes).toBe('object')
  })
})
