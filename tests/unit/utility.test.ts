import fc from 'fast-check'
import { expect, test } from 'vitest'
import { tailwindOf, unindexedTailwindOf } from '../../proof/tailwind-files'
import { Project } from '../../src/core/project'
import { applySplices } from '../../src/core/text'
import { completions } from '../../src/desk'
import {
  changeClassList,
  classTokens,
  LearnedVocabulary,
  normalValue,
  openTailwind,
  planClasses,
  readClassList,
  readConfig,
  segments,
  setVocabularies,
  tailwindInput,
  tellClass,
  type UtilityClass,
  type Vocabulary,
  isNewIn4,
} from '../../src/core/utility'
import { librarySheet } from '../../proof/project-vocabularies'

const tailwind = await tailwindOf('@import "tailwindcss";\n@theme { --color-sea: #0f5b66; --spacing-deck: 18px }')

function after(v: Vocabulary, list: string, property: string, value: string | null, variant = '', important = false): string {
  const plan = planClasses(v, list, variant, important, [{ property, value }])
  return plan.ok ? applySplices(list, changeClassList(list, plan.change)) : `refused: ${plan.reason}`
}

test.each([
  // Sides come apart in the fewest classes, and fold again.
  ['flex p-4 text-sm', 'padding-left', '20px', 'flex p-4 pl-5 text-sm'],
  ['flex py-4 pr-4 pl-5 text-sm', 'padding-left', '1rem', 'flex p-4 text-sm'],
  ['pt-4 pr-4 pb-4 pl-4', 'padding-left', '20px', 'pt-4 pr-4 pb-4 pl-5'],
  ['p-4 pl-5', 'padding-left', '24px', 'p-4 pl-6'],
  ['p-4 p-6', 'padding', '8px', 'p-2'],
  ['size-4', 'width', '20px', 'h-4 w-5'],
  ['gap-4', 'row-gap', '12px', 'gap-x-4 gap-y-3'],
  ['mx-auto', 'margin-left', '0', 'mr-auto ml-0'],
  ['p-[1px_2px_3px]', 'padding-right', '40px', 'p-[1px_2px_3px] pr-10'],
  // One class over what stays, where that is fewer: also over a class that says several things.
  ['rounded-lg', 'border-top-left-radius', '2px', 'rounded-lg rounded-tl-xs'],
  ['px-4 py-2', 'padding-left', '20px', 'pr-4 pl-5 py-2'],
  ['', 'border-width', '2px', 'border-2'],
  ['border-b border-sea/20', 'border-bottom-color', '#ffffff', 'border-b border-white'],
  ['h-20 w-16', 'width', '5rem', 'size-20'],
  // As the vocabulary says it: keywords, spans, tracks, what is nothing.
  ['flex items-center', 'align-items', 'start', 'flex items-start'],
  ['', 'align-self', 'end', 'self-end'],
  ['', 'grid-column', 'span 2', 'col-span-2'],
  ['grid grid-cols-2', 'grid-template-columns', 'repeat(2, minmax(0, 1fr)) 1fr', 'grid grid-cols-3'],
  ['', 'letter-spacing', '0', 'tracking-normal'],
  ['', 'letter-spacing', '-0.05em', 'tracking-tighter'],
  ['shadow-lg', 'box-shadow', '0 1px 3px 0 rgb(0 0 0 / 0.1), 0 1px 2px -1px rgb(0 0 0 / 0.1)', 'shadow-sm'],
  // On the scale its step, off it the value itself.
  ['p-4', 'padding', '18px', 'p-deck'],
  ['p-4', 'padding', '13px', 'p-[13px]'],
  ['', 'margin-top', '-8px', '-mt-2'],
  ['', 'grid-template-columns', '1fr 2fr', 'grid-cols-[1fr_2fr]'],
  ['', 'grid-template-columns', 'repeat(3, minmax(0, 1fr))', 'grid-cols-3'],
  // Colours of the theme, with alpha, and any other.
  ['bg-white', 'background-color', '#0f5b66', 'bg-sea'],
  ['bg-white', 'background-color', 'rgb(15 91 102 / .5)', 'bg-sea/50'],
  ['bg-white', 'background-color', 'var(--color-sea)', 'bg-sea'],
  ['', 'background-color', 'var(--own)', 'bg-(--own)'],
  // A size of text brings its line height, and leaves one of its own alone.
  ['text-sm', 'font-size', '18px', 'text-lg'],
  ['text-sm leading-6', 'font-size', '15px', 'text-[15px] leading-6'],
  ['text-lg/7', 'line-height', '24px', 'text-lg/6'],
  ['text-lg', 'line-height', '24px', 'text-lg leading-6'],
  // What several classes make up together is changed class by class.
  ['shadow-md ring-2', 'box-shadow', '0 0 0 2px currentcolor, 0 1px 2px 0 rgb(0 0 0 / 0.05)', 'shadow-xs ring-2'],
  ['blur-sm', 'filter', 'blur(3px) brightness(1.1)', 'blur-[3px] brightness-110'],
  ['', 'translate', '8px 4px', 'translate-x-2 translate-y-1'],
  [
    'bg-linear-to-r from-sea to-white',
    'background-image',
    'linear-gradient(to right in oklab, #0f5b66 0%, rgb(255 0 0) 100%)',
    'bg-linear-to-r from-sea to-[#f00]',
  ],
  [
    'bg-linear-to-r from-sea to-white',
    'background-image',
    'linear-gradient(45deg in oklab, #0f5b6680 10%, white)',
    'bg-linear-45 from-sea/50 from-10% to-white',
  ],
  ['', 'background-image', 'linear-gradient(to top left, #0f5b66, black, white)', 'bg-linear-to-tl/srgb from-sea via-black to-white'],
  ['bg-linear-to-r from-sea to-white', 'background-image', 'url(a_b.png)', 'bg-[url(a_b.png)]'],
  // What else a class says stays said.
  ['truncate', 'white-space', 'normal', 'truncate whitespace-normal'],
  ['border border-red-500', 'border-color', '#0f5b66', 'border border-sea'],
  ['block', 'display', 'flex', 'flex'],
  ['p-4', 'padding', null, ''],
  ['flex px-4 py-2', 'padding-left', null, 'flex py-2 pr-4'],
])('%s with %s: %s reads %s', (list, property, value, out) => expect(after(tailwind, list, property, value)).toBe(out))

test('what another class would take along stays, or is told', () => {
  const plan = (list: string, property: string, value: string) => {
    const made = planClasses(tailwind, list, '', false, [{ property, value }])
    if (!made.ok) throw new Error(made.reason)
    return { list: applySplices(list, changeClassList(list, made.change)), moved: made.moved }
  }
  // A line height of 1 in the theme, which a bare size does not bring.
  expect(plan('text-5xl', 'font-size', '44px')).toEqual({ list: 'text-[44px] leading-none', moved: [] })
  // A size of the theme brings its line height.
  expect(plan('text-sm', 'font-size', '18px')).toEqual({ list: 'text-lg', moved: ['line-height'] })
  expect(plan('text-sm leading-6', 'font-size', '18px')).toEqual({ list: 'text-lg leading-6', moved: [] })
})

test('variants and importance are kept, in the habit of the list', () => {
  expect(after(tailwind, 'md:p-4 p-2', 'padding', '24px', 'md')).toBe('md:p-6 p-2')
  expect(after(tailwind, 'hover:p-4! p-2', 'padding', '24px', 'hover')).toBe('hover:p-6! p-2')
  expect(after(tailwind, 'hover:md:p-4', 'padding', '24px', 'md:hover')).toBe('hover:md:p-6')
  expect(after(tailwind, 'p-2 md:flex text-sm', 'padding', '24px', 'md')).toBe('p-2 md:flex md:p-6 text-sm')
  expect(after(tailwind, 'shadow-md', 'box-shadow', 'none', 'hover')).toBe('shadow-md hover:shadow-none')
  expect(tailwind.variantFor({ state: ':hover', part: '', media: '(width >= 48rem)' })).toBe('md:hover')
  expect(tailwind.variantFor({ state: '', part: '::before', media: '(min-width: 700px)' })).toBe('min-[700px]:before')
  const around = (state: string) => tailwind.variantFor({ state, part: '', media: '' })
  expect(['.group:hover &', '.group\\/berth:focus-within &', 'a:hover &', ':has(:checked)', ':has(:user-invalid)'].map(around)).toEqual([
    'group-hover',
    'group-focus-within/berth',
    'in-[a:hover]',
    'has-checked',
    'has-user-invalid',
  ])
  expect(tailwind.variantFor({ state: '', part: '', media: '(prefers-color-scheme: dark)' })).toBe('dark')
  expect(tailwind.variantFor({ state: '[open]', part: '', media: '(max-width: 600px)' })).toBe('[@media(max-width:_600px)]:open')
})

test('an addition goes to its place where the list has the vocabulary’s own order, else after the last of its kind', () => {
  expect(after(tailwind, 'flex items-center p-4 text-sm', 'border-radius', '4px')).toBe('flex items-center rounded-sm p-4 text-sm')
  expect(after(tailwind, 'text-sm p-4 flex md:p-6 hover:underline', 'border-radius', '4px')).toBe(
    'text-sm p-4 flex rounded-sm md:p-6 hover:underline',
  )
  expect(after(tailwind, 'card flex\n      p-4 text-sm', 'padding', '20px')).toBe('card flex\n      p-5 text-sm')
})

test('an edit of any list gives the value, keeps the order of what stays, and sets nothing twice', () => {
  const bases = [
    'p-4',
    'px-2',
    'pl-[7px]',
    'm-auto',
    'flex',
    'grid',
    'size-6',
    'w-1/2',
    'text-lg',
    'leading-6',
    'bg-sea',
    'border',
    'border-t-4',
    'rounded-lg',
    'shadow-md',
    'ring-2',
    'truncate',
    'card',
    'js-open',
  ]
  const edits: readonly (readonly [string, string])[] = [
    ['padding-left', '20px'],
    ['padding', '7px'],
    ['margin-top', '3rem'],
    ['width', '50%'],
    ['height', '24px'],
    ['font-size', '20px'],
    ['background-color', '#abc'],
    ['border-top-width', '2px'],
    ['border-top-left-radius', '0'],
    ['display', 'block'],
  ]
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom(...bases), { maxLength: 8 }),
      fc.constantFrom(...edits),
      fc.constantFrom('', 'md', 'hover'),
      (names, [property, value], variant) => {
        const out = readClassList(after(tailwind, names.join(' '), property, value, variant)).map((c) => c.name)
        const kept = names.filter((n) => out.includes(n))
        expect(out.filter((n) => kept.includes(n))).toEqual(kept)
        expect(new Set(out).size).toBe(out.length)
        for (const n of ['card', 'js-open']) expect(out.includes(n)).toBe(names.includes(n))
        // What is there now says the value under that variant, or, where none is there for it, without one.
        const read = out.flatMap((n) => tailwind.read(n) ?? [])
        const sets = (c: UtilityClass) => tailwind.effect(c).has(property === 'padding' ? 'padding-left' : property)
        const own = read.filter((c) => c.variant === variant && sets(c))
        const said = (own.length ? own : read.filter((c) => c.variant === ''))
          .map((c) => tailwind.effect(c).get(property === 'padding' ? 'padding-left' : property))
          .filter((v) => v !== undefined)
        expect(said).toContain(tailwind.normal(property, value, property === 'padding' ? 'padding-left' : property))
      },
    ),
    { numRuns: 150 },
  )
})

test('a change of a list touches only its own letters', () => {
  const name = fc.stringMatching(/^[a-z][a-z0-9:-]{0,6}$/)
  const gap = fc.constantFrom(' ', '  ', '\n    ', '\t')
  fc.assert(
    fc.property(fc.array(fc.tuple(name, gap), { minLength: 1, maxLength: 7 }), fc.nat(), fc.nat(), name, (parts, a, b, fresh) => {
      const value = parts.map(([n, g]) => g + n).join('') + ' '
      const list = readClassList(value)
      const [gone, at] = [a % list.length, (b % (list.length + 1)) - 1]
      const now = applySplices(value, changeClassList(value, { remove: [gone], add: [{ name: fresh, after: at }] }))
      const wanted = list.flatMap((c, i) => [...(i === gone ? [] : [c.name]), ...(i === at ? [fresh] : [])])
      expect(readClassList(now).map((c) => c.name)).toEqual(at === -1 ? [fresh, ...wanted] : wanted)
    }),
  )
})

test('values are told equal in whatever units, notation and arithmetic', () => {
  const held = (name: string) => ({ '--spacing': '0.25rem', '--sea': '#0f5b66' })[name] ?? null
  const same = (a: string, b: string) => expect(normalValue(a, held, 16)).toBe(normalValue(b, held, 16))
  same('calc(var(--spacing) * 4)', '16px')
  same('var(--sea)', 'rgb(15, 91, 102)')
  same('color-mix(in oklab, var(--sea) 50%, transparent)', '#0f5b6680')
  same('var(--none, 2px)', '0.125rem')
  same('0.2s', '200ms')
  same('repeat( 3 , minmax(0,1fr) )', 'repeat(3, minmax(0, 1fr))')
  expect(normalValue('rgb(', held, 16)).toBe('rgb(')
})

const bytes = (text: string) => new TextEncoder().encode(text)
const projectOf = (files: Record<string, string>) =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: bytes(text) })))

test('helpers that a project keeps are learned, with their widths, and component classes are not', () => {
  const css = `.card { padding: 1rem } .card .title { margin: 0 }
.mb-1 { margin-bottom: 4px !important } .mb-2 { margin-bottom: 8px !important } .mb-3 { margin-bottom: 16px !important }
@media (min-width: 600px) { .mb-md-1 { margin-bottom: 4px !important } .mb-md-2 { margin-bottom: 8px !important } .mb-md-3 { margin-bottom: 16px !important } }`
  const v = LearnedVocabulary.of(projectOf({ 'a.css': css, 'index.html': '<p class="card mb-2">' }))!
  expect(v.all()).toEqual(['mb-1', 'mb-2', 'mb-3'])
  expect(v.read('card')).toBeNull()
  expect(v.read('mb-md-2')).toMatchObject({ base: 'mb-2', variant: 'md', important: true })
  expect(after(v, 'card mb-2', 'margin-bottom', '16px')).toBe('card mb-3')
  expect(after(v, 'card mb-2', 'margin-bottom', '5px')).toBe('refused: bad-value')
  expect(after(v, 'card mb-2', 'margin-bottom', '4px', v.variantFor({ state: '', part: '', media: '(min-width: 600px)' })!)).toBe(
    'card mb-2 mb-md-1',
  )
  expect(v.family(v.read('mb-2')!)).toEqual(['mb-1', 'mb-2', 'mb-3'])
  expect(LearnedVocabulary.of(projectOf({ 'a.css': '.card { padding: 1rem } .lead { font-size: 2rem }' }))).toBeNull()
  // What a class does in a state alone is one part of a component.
  const buttons = [
    ['red', 'color'],
    ['green', 'border-color'],
    ['blue', 'outline-color'],
  ]
    .map(([c, more]) => `.btn-${c} { background: dark${c}; ${more}: white } .btn-${c}:hover { background: ${c} }`)
    .join('\n')
  expect(
    LearnedVocabulary.of(projectOf({ 'a.css': `${css}\n${buttons}\n${'.card p { margin: 0 }\n'.repeat(30)}` }))!.read('btn-red'),
  ).toBeNull()
})

test('a config is read without being run, and what is not written out is named', () => {
  const { config, unread } = readConfig(`const base = { sea: '#0f5b66' }
const { fontFamily } = require('x')
module.exports = { theme: { extend: { colors: { ...fontFamily, foam: \`#fff\`, deep: base }, spacing: { deck: -4, 'x y': compute() } } }, plugins: [require('p')] }`)
  expect(config).toEqual({
    theme: { extend: { colors: { foam: '#fff', deep: { sea: '#0f5b66' } }, spacing: { deck: -4 } } },
    plugins: [],
  })
  expect(unread.map((u) => `${u.line} ${u.path}`)).toEqual(['3 theme.extend.colors.…', '3 theme.extend.spacing.x y', '3 plugins[0]'])
  expect(() => readConfig('module.exports = {')).toThrow(SyntaxError)
})

test('where the compiled sheet is looked for', () => {
  const link = (href: string) => `<!DOCTYPE html><link rel="stylesheet" href="${href}"><p class="p-4">`
  const input = '@import "tailwindcss";'
  expect(tailwindInput(projectOf({ 'index.html': link('dist/out.css'), 'src/in.css': input }), ['index.html', 'src/in.css'])).toMatchObject(
    { path: 'src/in.css', target: 'dist/out.css', linked: true },
  )
  expect(tailwindInput(projectOf({ 'index.html': link('src/in.css'), 'src/in.css': input }), [])).toMatchObject({
    target: 'src/in.css',
    linked: true,
  })
  expect(
    tailwindInput(projectOf({ 'index.html': link('out.css'), 'out.css': '/*! tailwindcss v4.0.1 | MIT */', 'in.css': input }), []),
  ).toMatchObject({ target: 'out.css' })
  expect(tailwindInput(projectOf({ 'index.html': '<p class="p-4">' }), ['tailwind.config.js'])).toMatchObject({
    path: null,
    linked: false,
    config: 'tailwind.config.js',
  })
  // An older version's own output is truer, and a template's address is not known.
  expect(
    tailwindInput(
      projectOf({
        'index.html': link('out.css'),
        'out.css': '/*! tailwindcss v2.0.4 | MIT */',
        'in.css': '@tailwind base;',
      }),
      [],
    ),
  ).toBeNull()
  expect(tailwindInput(projectOf({ 'index.html': link('{{ .Site }}/app.css'), 'in.css': input }), [])).toMatchObject({
    linked: false,
  })
  expect(tailwindInput(projectOf({ 'index.html': link('a.css'), 'a.css': 'p { margin: 0 }' }), [])).toBeNull()
})

test('an input that cannot be compiled says why, and one with unknown parts is compiled without them', async () => {
  const open = (css: string) =>
    openTailwind(
      { css, path: 'src/in.css', target: 'out.css', linked: true, config: null, version: 4 },
      { own: (path) => (path === 'src/more.css' ? '@theme { --color-foam: #e8f1f0; }' : null), library: librarySheet },
    )
  const broken = await open('@import "tailwindcss"; @theme { color: red }')
  expect(broken.tailwind).toBeNull()
  expect(broken.notes.at(-1)).toMatch(/^src\/in\.css cannot be compiled: /)
  const partly = await open(
    '@import "tailwindcss"; @import "./more.css"; @import "gone/a.css"; @plugin "@x/forms"; .btn { @apply p-4 bg-opacity-50 bg-foam; }',
  )
  expect(partly.notes).toEqual([
    'gone/a.css is imported and not in the project',
    'The plugin @x/forms is not run, so its classes are not known',
    'bg-opacity-50 is applied in src/in.css and not known',
  ])
  expect(partly.tailwind!.compile(classTokens('<p class="text-foam [&amp;>a]:p-2">'))).toMatch(/\.text-foam/)
  expect(partly.tailwind!.compile([])).toContain('.\\[\\&\\>a\\]\\:p-2')
})

test('classes are told in few words, and found by letters typed', () => {
  const tell = (name: string) => tellClass(tailwind, tailwind.read(name)!)
  expect(tell('px-4')).toEqual({ sets: 'padding across 16px', color: null, px: 16 })
  expect(tell('bg-sea')).toMatchObject({ sets: 'background-color #0f5b66', color: 'rgb(15 91 102/1)' })
  expect(tell('rounded-t-lg').sets).toBe('border-radius top-left and top-right 8px')
  const project = new Project([])
  setVocabularies(project, [tailwind])
  expect(completions(project, 'ringsea')[0].name).toBe('ring-sea')
  expect(completions(project, 'md:bgsea')[0].name).toBe('md:bg-sea')
  expect(completions(project, 'xqzw')).toEqual([])
  expect(segments('md:[&>a:hover]:p-[a:b]')).toEqual(['md', '[&>a:hover]', 'p-[a:b]'])
})

test('a prefix and marks of importance stand where the vocabulary wants them', async () => {
  const v = await tailwindOf(
    '@import "tailwindcss" prefix(tw);\n@theme { --color-sea: #0f5b66 }\n@utility deck { padding: 3px }\n@custom-variant wide (@media (width >= 77rem));',
  )
  expect(after(v, 'tw:p-4 card', 'padding-left', '20px')).toBe('tw:p-4 tw:pl-5 card')
  expect(after(v, 'card', 'background-color', '#0f5b66', 'md', true)).toBe('card tw:md:bg-sea!')
  expect(after(v, 'tw:p-4', 'padding', '3px')).toBe('tw:deck')
  expect(v.variantFor({ state: '', part: '', media: '(min-width: 77rem)' })).toBe('wide')
  expect(v.read('p-4')).toBeNull()
})

test('sheets that import each other, and variables that mean each other, end with an answer', async () => {
  const files: Record<string, string> = { 'a.css': '@import "./b.css";', 'b.css': '@import "./a.css";' }
  const { tailwind, notes } = await openTailwind(
    {
      css: '@import "tailwindcss"; @import "./a.css";',
      path: 'in.css',
      target: 'out.css',
      linked: true,
      config: null,
      version: 4,
    },
    { own: (path) => files[path] ?? null, library: librarySheet },
  )
  expect(tailwind).toBeNull()
  expect(notes.at(-1)).toMatch(/cannot be compiled/)
  expect(normalValue('var(--a)', (name) => (name === '--a' ? 'var(--b)' : 'var(--a)'), 16)).toMatch(/var\(/)
})

test('dark by class is the variant of what stands in it, and a compiled sheet alone teaches its variants', async () => {
  const v = await unindexedTailwindOf('@import "tailwindcss";\n@custom-variant dark (&:where(.dark, .dark *));')
  expect(v.darkAround).toBe('.dark')
  expect(v.variantFor({ state: '.dark &', part: '', media: '' })).toBe('dark')
  expect((await unindexedTailwindOf('@import "tailwindcss";')).darkAround).toBeNull()
  const css = `/*! tailwindcss v4.1.0 | MIT License | https://tailwindcss.com */\n${v.compile(['p-4', 'sm:p-12', 'dark:mt-8', 'hover:text-white', 'group-hover:pt-3', 'mt-2'])}`
  const learned = LearnedVocabulary.of(
    new Project([
      { key: 1, path: 'index.html', bytes: new TextEncoder().encode('<p>x') },
      { key: 2, path: 'out.css', bytes: new TextEncoder().encode(css) },
    ]),
  )!
  expect(['sm:p-12', 'dark:mt-8', 'hover:text-white', 'group-hover:pt-3'].map((name) => learned.read(name)?.variant)).toEqual([
    'sm',
    'dark',
    'hover',
    'group-hover',
  ])
  expect([
    learned.variantFor({ state: '.dark &', part: '', media: '' }),
    learned.variantFor({ state: ':hover', part: '', media: '' }),
    learned.variantFor({ state: '.group:hover &', part: '', media: '' }),
  ]).toEqual(['dark', 'hover', 'group-hover'])
})

test.each([
  ['shadow-sm', 'shadow-2xs shadow-xs shadow-sm', 'shadow-md shadow-lg shadow-xl shadow-2xl'],
  ['text-lg', 'text-xs text-sm text-base text-lg text-xl text-2xl', 'text-8xl text-9xl'],
  ['tracking-tight', 'tracking-tighter tracking-tight tracking-normal tracking-wide tracking-wider tracking-widest', ''],
  ['rounded-lg', 'rounded-none rounded-xs rounded-sm rounded-md rounded-lg rounded-xl', 'rounded-4xl rounded-full'],
  ['leading-tight', '', 'leading-none leading-tight leading-snug leading-normal leading-relaxed leading-loose'],
  ['border-2', 'border-0 border border-2 border-4 border-8', ''],
  ['w-1/2', '', 'w-1/2 w-7/12 w-3/5 w-2/3'],
  ['bg-red-500', '', 'bg-red-400 bg-red-500 bg-red-600'],
])('a class %s is walked through its scale, each value once', (name, from, within) => {
  const family = tailwind.family(tailwind.read(name)!).join(' ')
  expect(family.startsWith(from)).toBe(true)
  expect(family).toContain(within)
  expect(family).not.toMatch(/(^| )-tracking|\/tight|w-2\/4|leading-6/)
})

test('version 3 has no class that gives two sides each a value', () => {
  const of = ['px-[2px_1em]', '-mx-[1px_2px]', 'inset-x-[0_4px]', 'scroll-py-[1px_2px]', 'px-[calc(1px_+_2px)]', 'px-[2px]', 'p-[2px_1em]']
  expect(of.map(isNewIn4)).toEqual([true, true, true, true, false, false, false])
})
