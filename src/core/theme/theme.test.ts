import fc from 'fast-check'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import postcss from 'postcss'
import { describe, expect, test } from 'vitest'
import { planIntent, type Intent } from '../edit'
import { Project } from '../project'
import { parseColor, sameColor } from '../value'
import { fromDesignTokens, pulledRamp, readTheme, resolved, takingIntent, takingOf, toCss, toDesignTokens, type Theme } from '.'

const SHEET = `:root {
  --sea-100: #e0f0f2;
  --sea-500: #0f5b66;
  --sea-900: #062a30;
  --ink: var(--sea-900);
  --paper: #fff;
  --nearly: #fefefe;
  --gap: 0.5rem;
  --wide: 2em;
  --face: "Pier Sans", sans-serif;
  --lift: 0 1px 4px 0 #00000040;
  --quick: 150ms;
  --ease: cubic-bezier(0.2, 0, 0, 1);
  --weight-strong: 650;
  --left-over: 3px;
  --by-script: 4px;
}
@media (prefers-color-scheme: dark) {
  :root { --paper: #101820; }
}
.dark { --ink: var(--sea-100); }
.card { color: var(--ink); background: var(--paper); padding: var(--gap, 4px); font-family: var(--face); }
.card::after { content: "--ink"; box-shadow: var(--lift); transition: top var(--quick) var(--ease); /* --ink */ }
.note { color: var(--sea-100); background-color: var(--paper); font-weight: var(--weight-strong); width: var(--wide); border-color: var(--sea-500) }
`
const PAGE = `<!doctype html>
<link rel="stylesheet" href="a.css">
<style>.x { color: var(--ink); /* var(--ink) */ }</style>
<p class="p-[var(--gap)] card" style="color: var(--ink); --local: var( --ink )">var(--ink) is a name</p>
<script>const ink = getComputedStyle(p).getPropertyValue('--ink'); let i = 3; i--; const inks = "var(--ink)"</script>
`
const FILES = { 'index.html': PAGE, 'a.css': SHEET, 'app.js': "root.style.setProperty('--by-script', `var(--ink)`)\nlet ink = 9\nink--\n" }

const open = (files: Readonly<Record<string, string>> = FILES) =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))
const themeOf = async (project: Project): Promise<Theme> => (await readTheme(project, async () => true))!
/** Makes an edit; the files that are others then. */
function make(project: Project, intent: Intent): Record<string, string> | string {
  const plan = planIntent(project, intent)
  if (!plan.ok) return plan.why
  for (const c of plan.changes) project.apply(c.path, c.splices)
  return Object.fromEntries(plan.changes.map((c) => [c.path, project.text(c.path)]))
}

describe('what the tokens of a project are', () => {
  test('each with its kind, where it is given a value and under what, and what uses it', async () => {
    const { tokens } = await themeOf(open())
    const of = (name: string) => tokens.find((t) => t.name === name)!
    expect(tokens.map((t) => `${t.name} ${t.kind} ${t.uses}`)).toEqual([
      '--sea-100 color 2',
      '--sea-500 color 1',
      '--sea-900 color 1',
      '--ink color 2',
      '--paper color 2',
      '--nearly color 0',
      '--gap length 1',
      '--wide length 1',
      '--face face 1',
      '--lift shadow 1',
      '--quick other 1',
      '--ease other 1',
      '--weight-strong other 1',
      '--left-over length 0',
      '--by-script length 0',
    ])
    expect(of('--ink')).toMatchObject({ value: 'var(--sea-900)', resolved: '#062a30' })
    expect(of('--paper').places.map((p) => [p.line, p.value, p.under])).toEqual([
      [6, '#fff', ''],
      [19, '#101820', '(prefers-color-scheme: dark)'],
    ])
    expect(of('--ink').places.map((p) => p.under)).toEqual(['', '.dark'])
    // What only a script names is named all the same.
    expect(tokens.filter((t) => t.isUnused).map((t) => t.name)).toEqual(['--nearly', '--left-over'])
    expect(of('--nearly').like).toEqual({ name: '--paper', isSame: false })
    // A name for another token is meant to be the same.
    expect(of('--ink').like).toBeNull()
  })

  test('steps of one name are a ramp; tokens that a rule uses on each other have their contrast', async () => {
    const { ramps, pairs } = await themeOf(open())
    expect(ramps).toEqual([{ name: '--sea', tokens: ['--sea-100', '--sea-500', '--sea-900'] }])
    expect(pairs.map((p) => [p.text, p.ground, p.selector, Math.round(p.contrast * 10) / 10])).toEqual([
      ['--sea-100', '--paper', '.note', 1.2],
      ['--ink', '--paper', '.card', 15.2],
    ])
  })

  test('of two values at the root the later one decides, and tokens that name each other many times over are not followed for ever', async () => {
    const twice = await themeOf(open({ 'a.css': ':root { --a: 1px }\n:root { --a: 2px }\n' }))
    expect(twice.tokens.map((t) => [t.name, t.value, t.places.length])).toEqual([['--a', '2px', 2]])
    const many = Array.from({ length: 12 }, (_, i) => `  --t${i}: ${`var(--t${i + 1}) `.repeat(10)};\n`).join('')
    const { tokens } = await themeOf(open({ 'a.css': `:root {\n${many}  --t12: 1px;\n}\n` }))
    expect([tokens[0].resolved, tokens[11].resolved?.length]).toEqual([null, 39])
  })

  test('a token that utility classes are named by says so, and is not called unused', async () => {
    const { tokens } = await themeOf(open({ 'a.css': '@theme {\n  --color-sea: #123;\n}\n:root {\n  --left: #456;\n}\n' }))
    expect(tokens.map((t) => [t.name, t.namesClasses, t.isUnused])).toEqual([
      ['--color-sea', true, false],
      ['--left', false, true],
    ])
  })

  test('a value that names itself, or what is not there, is not known', () => {
    const values: Record<string, string> = { '--a': 'var(--b)', '--b': 'var(--a)', '--c': '1px', '--d': 'calc(var(--c) * 2)' }
    const of = (value: string) => resolved(value, (name) => values[name] ?? null)
    expect([of('var(--a)'), of('var(--gone)'), of('var(--gone, 2px)'), of('var(--d)'), of('var(--gone, var(--c))')]).toEqual([
      null,
      null,
      '2px',
      'calc(1px * 2)',
      '1px',
    ])
  })
})

describe('a token under another name', () => {
  test('is that wherever sheets, attributes and scripts name it, and nowhere else', () => {
    const done = make(open(), { kind: 'rename-token', from: '--ink', to: '--deep-ink' })
    const to = '--deep-ink'
    expect(done).toEqual({
      'a.css': SHEET.replace('--ink: var(--sea-900)', `${to}: var(--sea-900)`)
        .replace('--ink: var(--sea-100)', `${to}: var(--sea-100)`)
        .replace('color: var(--ink); background', `color: var(${to}); background`),
      'index.html': PAGE.replace('.x { color: var(--ink);', `.x { color: var(${to});`)
        .replace('style="color: var(--ink); --local: var( --ink )"', `style="color: var(${to}); --local: var( ${to} )"`)
        .replace("getPropertyValue('--ink')", `getPropertyValue('${to}')`)
        .replace('"var(--ink)"', `"var(${to})"`),
      'app.js': FILES['app.js'].replace('`var(--ink)`', `\`var(${to})\``),
    })
  })

  test('a class in brackets names it too; what only begins like it does not', () => {
    const files = { ...FILES, 'a.css': `${SHEET}.y { --gap-wide: 1px; margin: var(--gap-wide) }\n` }
    const done = make(open(files), { kind: 'rename-token', from: '--gap', to: '--space' }) as Record<string, string>
    expect(Object.keys(done).sort()).toEqual(['a.css', 'index.html'])
    expect(done['index.html']).toBe(PAGE.replace('p-[var(--gap)]', 'p-[var(--space)]'))
    expect(done['a.css']).toContain('--gap-wide: 1px; margin: var(--gap-wide)')
  })

  test.each([
    [{ from: '--ink', to: '--paper' }, 'The project has a token --paper already.'],
    [{ from: '--gone', to: '--x' }, 'The project has no token --gone.'],
    [{ from: '--ink', to: 'ink' }, '“ink” cannot be the name of a token.'],
    [{ from: '--ink', to: '--a b' }, '“--a b” cannot be the name of a token.'],
    [{ from: '--ink', to: '--ink' }, 'The token has that name already.'],
    [{ from: '--ink', to: '--x', usesOnly: true }, 'The project has no token --x.'],
  ])('%j is refused', (names, why) => {
    expect(make(open(), { kind: 'rename-token', ...names })).toBe(why)
  })

  test('is refused where a file names it that is not written here, and where classes are named by it', () => {
    const files = { ...FILES, 'vendor/lib.css': '.l { color: var(--ink) }' }
    expect(make(open(files), { kind: 'rename-token', from: '--ink', to: '--x' })).toBe(
      'vendor/lib.css names --ink, and is not written here.',
    )
    expect(make(open({ ...FILES, 'b.scss': '.l { color: var(--ink) }' }), { kind: 'rename-token', from: '--ink', to: '--x' })).toMatch(
      /^b\.scss names/,
    )
    const themed = { 'a.css': '@theme {\n  --color-sea: #123;\n}\n' }
    expect(make(open(themed), { kind: 'rename-token', from: '--color-sea', to: '--color-x' })).toMatch(/is of the theme/)
  })

  test('what uses one takes another in its place, and its own definition stays', () => {
    const done = make(open(), { kind: 'rename-token', from: '--gap', to: '--left-over', usesOnly: true }) as Record<string, string>
    expect(done['a.css']).toBe(SHEET.replace('var(--gap, 4px)', 'var(--left-over, 4px)'))
  })
})

/** Each declaration of a sheet as another reader of CSS sees it, with the tokens that it names replaced by what they say. */
function valuesOf(css: string): string[] {
  const tokens = new Map<string, string>()
  const root = postcss.parse(css)
  root.walkDecls(/^--/, (d) => void (tokens.has(d.prop) || tokens.set(d.prop, d.value)))
  const out: string[] = []
  root.walkDecls((d) => {
    if (!d.prop.startsWith('--'))
      out.push(`${(d.parent as postcss.Rule).selector} ${d.prop}: ${resolved(d.value, (n) => tokens.get(n) ?? null)}`)
  })
  return out
}

const sheetsOf = (dir: string): Record<string, string> =>
  Object.fromEntries(
    readdirSync(dir, { recursive: true, encoding: 'utf8' })
      .filter((path) => /\.(css|html)$/.test(path) && !path.includes('node_modules'))
      .map((path) => [path, readFileSync(join(dir, path), 'utf8')]),
  )

test.each(['demo/brinewick', 'demo/brinewick-desk'])('random names and values of tokens hold: %s', async (dir) => {
  const files = sheetsOf(dir)
  const project = open(files)
  const { tokens } = await themeOf(project)
  expect(tokens.length).toBeGreaterThan(3)
  let made = 0
  const sheets = (texts: (path: string) => string) =>
    Object.keys(files)
      .filter((p) => p.endsWith('.css'))
      .map(texts)
      .join('\n')
  // Each edit is undone, so that the next begins with the same.
  const was = sheets((p) => project.text(p))
  const before = new Map(Object.keys(files).map((path) => [path, project.text(path)]))
  const wasValues = valuesOf(was)
  await fc.assert(
    fc.asyncProperty(fc.nat(), fc.constantFrom('rename', 'merge', 'value'), fc.nat(), async (which, how, other) => {
      const token = tokens[which % tokens.length]
      const into = tokens[other % tokens.length]
      const place = token.places[0]
      const intent: Intent =
        how === 'rename'
          ? { kind: 'rename-token', from: token.name, to: `${token.name}-x` }
          : how === 'merge'
            ? { kind: 'rename-token', from: token.name, to: into.name, usesOnly: true }
            : { kind: 'set', aim: { kind: 'rule', sheet: place.sheet, rule: place.rule }, name: token.name, value: '7px' }
      const plan = planIntent(project, intent)
      if (!plan.ok) return
      made++
      const undo = plan.changes.map((c) => ({ path: c.path, inverse: project.apply(c.path, c.splices).inverse }))
      const is = sheets((p) => project.text(p))
      if (how === 'rename') {
        // Every use follows, so that nothing shows another value; and the name is gone.
        expect(valuesOf(is)).toEqual(wasValues)
        expect(is.replace(/\/\*[^]*?\*\//g, '')).not.toMatch(new RegExp(`var\\(\\s*${token.name}[\\s,)]`))
        expect(is.replaceAll(`${token.name}-x`, token.name)).toBe(was)
      } else if (how === 'value') {
        // What shows another value shows the one that was asked for.
        const others = valuesOf(is).filter((v, i) => v !== wasValues[i])
        expect(others.filter((v) => !v.includes('7px'))).toEqual([])
        expect(is.length - was.length).toBe(3 - token.places[0].value.length)
      } else expect(is.replaceAll(into.name, token.name).length).toBe(was.replaceAll(into.name, token.name).length)
      for (const { path, inverse } of undo.reverse()) project.apply(path, inverse)
      for (const [path, text] of before) expect(project.text(path)).toBe(text)
    }),
    { numRuns: 60 },
  )
  expect(made).toBeGreaterThan(30)
})

describe('tokens in the format of the Design Tokens Community Group', () => {
  test('go out by groups of their names, as typed values; what the format has no form for is named', async () => {
    const { json, left } = toDesignTokens(await themeOf(open()))
    const out = JSON.parse(json)
    expect(out.sea).toEqual({
      100: { $type: 'color', $value: { colorSpace: 'srgb', components: [0.878431, 0.941176, 0.94902], hex: '#e0f0f2' } },
      500: { $type: 'color', $value: { colorSpace: 'srgb', components: [0.058824, 0.356863, 0.4], hex: '#0f5b66' } },
      900: { $type: 'color', $value: { colorSpace: 'srgb', components: [0.023529, 0.164706, 0.188235], hex: '#062a30' } },
    })
    expect(out.ink).toEqual({ $value: '{sea.900}' })
    expect(out.gap).toEqual({ $type: 'dimension', $value: { value: 0.5, unit: 'rem' } })
    expect(out.face).toEqual({ $type: 'fontFamily', $value: ['Pier Sans', 'sans-serif'] })
    expect(out.quick).toEqual({ $type: 'duration', $value: { value: 150, unit: 'ms' } })
    expect(out.ease).toEqual({ $type: 'cubicBezier', $value: [0.2, 0, 0, 1] })
    expect(out['weight-strong']).toEqual({ $type: 'fontWeight', $value: 650 })
    expect(out.lift.$value).toMatchObject({ offsetY: { value: 1, unit: 'px' }, blur: { value: 4, unit: 'px' }, color: { alpha: 0.25098 } })
    expect(left).toEqual(['--wide'])
    expect(toCss(await themeOf(open()))).toContain('  --ink: var(--sea-900);\n')
  })

  test('what went out comes in again as it was: nothing is to be written', async () => {
    const theme = await themeOf(open())
    const { tokens, faults } = fromDesignTokens(toDesignTokens(theme).json)
    expect(faults).toEqual([])
    expect(takingOf(theme, tokens)).toEqual({ changed: [], fresh: [], same: theme.tokens.length - 1 })
    expect(takingIntent(theme, takingOf(theme, tokens))).toBeNull()
  })

  test('names, colours in any notation and lengths go out and come in the same', async () => {
    const name = fc
      .array(fc.constantFrom('sea', 'ink', '100', '2', 'a', 'on'), { minLength: 1, maxLength: 4 })
      .map((p) => `--${p.join('-')}`)
    const value = fc.oneof(
      fc.tuple(fc.nat(255), fc.nat(255), fc.nat(255)).map((c) => `#${c.map((n) => n.toString(16).padStart(2, '0')).join('')}`),
      fc.tuple(fc.nat(100), fc.nat(40), fc.nat(359)).map(([l, c, h]) => `oklch(${l}% ${c / 100} ${h})`),
      fc.tuple(fc.nat(359), fc.nat(100), fc.nat(100), fc.nat(100)).map(([h, s, l, a]) => `hsl(${h} ${s}% ${l}% / ${a / 100})`),
      fc.tuple(fc.integer({ min: -400, max: 4000 }), fc.constantFrom('px', 'rem')).map(([n, unit]) => `${n / 4}${unit}`),
      fc.nat(900).map((n) => `${n}ms`),
    )
    await fc.assert(
      fc.asyncProperty(fc.uniqueArray(fc.tuple(name, value), { selector: ([n]) => n, minLength: 1, maxLength: 8 }), async (list) => {
        const theme = await themeOf(open({ 'a.css': `:root {\n${list.map(([n, v]) => `  ${n}: ${v};\n`).join('')}}\n` }))
        const { json, left } = toDesignTokens(theme)
        const { tokens, faults } = fromDesignTokens(json)
        expect([left, faults]).toEqual([[], []])
        expect(tokens.map((t) => t.name).sort()).toEqual(list.map(([n]) => n).sort())
        for (const [n, v] of list) {
          const back = tokens.find((t) => t.name === n)!.value
          if (parseColor(v)) expect([v, back, sameColor(parseColor(back), parseColor(v))]).toEqual([v, back, true])
          else expect(Number.parseFloat(back)).toBeCloseTo(Number.parseFloat(v), 2)
        }
        expect(takingOf(theme, tokens).changed).toEqual([])
      }),
      { numRuns: 80 },
    )
  })

  test('what a file has otherwise is written where the project defines it, in its own notation; what is new, beside the others', async () => {
    const project = open()
    const theme = await themeOf(project)
    const { tokens, faults } = fromDesignTokens(
      JSON.stringify({
        $description: 'from elsewhere',
        sea: { $type: 'color', 500: { $value: { colorSpace: 'oklch', components: [0.5, 0.1, 200] } }, 700: { $value: '#0a4048' } },
        gap: { $type: 'dimension', $value: '12px' },
        weight: { $type: 'fontWeight', strong: { $value: 'bold' } },
        space: { $type: 'dimension', $root: { $value: { value: 4, unit: 'px' } } },
        soft: { $value: '{sea.700}' },
      }),
    )
    expect(faults).toEqual([])
    const taking = takingOf(theme, tokens)
    expect(taking.changed.map((c) => [c.token.name, c.value])).toEqual([
      ['--sea-500', '#00747a'],
      ['--gap', '12px'],
      ['--weight-strong', '700'],
    ])
    expect(taking.fresh).toEqual([
      { name: '--sea-700', value: '#0a4048' },
      { name: '--space', value: '4px' },
      { name: '--soft', value: 'var(--sea-700)' },
    ])
    const done = make(project, takingIntent(theme, taking)!) as Record<string, string>
    expect(Object.keys(done)).toEqual(['a.css'])
    expect(done['a.css']).toBe(
      SHEET.replace('#0f5b66', '#00747a')
        .replace('--gap: 0.5rem', '--gap: 12px')
        .replace('650', '700')
        .replace('  --by-script: 4px;\n', '  --by-script: 4px;\n  --sea-700: #0a4048;\n  --space: 4px;\n  --soft: var(--sea-700);\n'),
    )
  })

  test('of a file of very many tokens the first are taken, and that is said', () => {
    const many = Object.fromEntries(Array.from({ length: 2500 }, (_, i) => [`t${i}`, { $type: 'number', $value: i }]))
    const { tokens, faults } = fromDesignTokens(JSON.stringify(many))
    expect([tokens.length, faults]).toEqual([2000, ['It has 2500 tokens: the first 2000 are taken.']])
  })

  test.each([
    ['', /^It is not JSON/],
    ['[1]', /^It has no tokens/],
    ['{"a":1}', /^It has no tokens/],
    ['{"a":{"$value":"{b}"}}', /^a: .*cannot be read/],
    ['{"a":{"$type":"color","$value":{"colorSpace":"srgb","components":[1,2]}}}', /^a: color cannot be read/],
    ['{"a":{"$type":"color","$value":"url(x)"}}', /^a: color cannot be read/],
    ['{"a":{"$type":"dimension","$value":{"value":1,"unit":"vw"}}}', /^a: dimension cannot be read/],
    ['{"a b;}":{"$type":"number","$value":1}}', /cannot have that name/],
    ['{"a":{"$type":"fontFamily","$value":"x\\"; } body { color: red"}}', /^a: fontFamily cannot be read/],
    ['{"a":{"$type":"fontWeight","$value":"constructor"}}', /^a: fontWeight cannot be read/],
    ['{"a":{"$type":"gradient","$value":[]}}', /^a: gradient cannot be read/],
    ['{"a":{"$type":"color","$value":"{b}"},"b":{"$type":"color","$value":"{a}"}}', /^$/],
    [`${'{"a":'.repeat(60)}{"$type":"number","$value":1}${'}'.repeat(60)}`, /stands too deep/],
    ['{"__proto__":{"$type":"number","$value":1}}', /^$/],
  ])('%s', (json, fault) => {
    const { tokens, faults } = fromDesignTokens(json)
    expect(faults.join('\n')).toMatch(fault)
    // Nothing that comes in ends the declaration that it is written in.
    for (const { name, value } of tokens) expect(`${name}: ${value}`).not.toMatch(/[;{}]/)
  })
})

test('a ramp is pulled as one, each step in its own notation; what names another token stays', () => {
  const steps = [
    { name: '--a', value: '#0f5b66' },
    { name: '--b', value: 'oklch(50% 0.1 200)' },
    { name: '--c', value: 'var(--a)' },
    { name: '--d', value: '#fff' },
  ]
  expect(pulledRamp(steps, { lightness: 0, chroma: 1 }).filter((s) => s.name !== '--a')).toEqual([])
  expect(pulledRamp(steps, { lightness: 0.1, chroma: 0.5 }).map((s) => [s.name, s.value.replace(/[\d.]+/g, '#')])).toEqual([
    ['--a', expect.stringMatching(/^#/)],
    ['--b', 'oklch(#% # #)'],
  ])
  expect(pulledRamp([steps[1]], { lightness: 0.1, chroma: 0.5 })).toEqual([{ name: '--b', value: 'oklch(60% 0.05 200)' }])
  expect(pulledRamp([steps[1]], { lightness: 9, chroma: 0 })).toEqual([{ name: '--b', value: 'oklch(100% 0 200)' }])
})
