import { expect, test } from 'vitest'
import { librarySheet } from '../../proof/project-vocabularies'
import { declarationsOf, resolvedSelectors, textOf } from '../../src/core/css'
import { planIntent } from '../../src/core/edit'
import { compiledRule, Project, sourceOfRule } from '../../src/core/project'
import { applySplices } from '../../src/core/text'
import { openTailwind, tailwindInput, withClasses } from '../../src/core/utility'

const INPUT = `@import "tailwindcss";
@import "./parts.css";

@theme {
  --color-sea: #0f5b66;
}

html { font-size: 17px; }

@layer components {
  .quay {
    color: var(--color-sea);
    @apply p-4 flex;
    &:hover { color: black; }
  }
}

@media (width >= 40rem) {
  .quay { gap: 8px; }
}
`
const PAGE = '<!doctype html><link rel=stylesheet href=out.css><p class="quay bg-sea mt-2">Pier 4</p>\n'

async function open(target: string) {
  const bytes = (text: string) => new TextEncoder().encode(text)
  const project = new Project([
    { key: 1, path: 'index.html', bytes: bytes(PAGE.replace('out.css', target)) },
    { key: 2, path: 'in.css', bytes: bytes(INPUT) },
    { key: 3, path: 'parts.css', bytes: bytes('.mole { padding: 4px }\n') },
  ])
  const compile = async () => {
    const input = tailwindInput(project, ['index.html', 'in.css', 'parts.css'])!
    const source = (path: string) => project.sourceSheet(path)?.sheet.text ?? null
    const { tailwind } = await openTailwind(input, { own: source, library: librarySheet })
    project.setGenerated(input.target, tailwind!.compile(['quay', 'bg-sea', 'mt-2']), 'in.css', ['in.css', 'parts.css'])
    return project.sheet(input.target)!
  }
  return { project, made: await compile(), compile }
}

// The file that pages link is missing, or is the input itself.
test.each(['out.css', 'in.css'])('rules and tokens of the input are edited where they stand, and seen in %s', async (target) => {
  const { project, made, compile } = await open(target)
  const rule = (label: string, at = 0) =>
    [...made.sheet.rules()].filter((s) => s.rule.kind === 'style' && resolvedSelectors(s).join() === label).at(at)!
  const written = (label: string, at = 0) => {
    const found = sourceOfRule(project, made, rule(label, at))
    return found && `${found.ref.path}:${project.lineIn(found.ref, found.site.statement.start + found.site.rule.span.from)}`
  }
  expect([written('.quay'), written('.quay:hover'), written('.quay', -1), written('.mole')]).toEqual([
    'in.css:11',
    'in.css:14',
    'in.css:19',
    'parts.css:1',
  ])
  // The package's own rule for `html` comes before, and utilities are from no file.
  expect([written('html', -1), written('.bg-sea')]).toEqual(['in.css:8', null])

  const quay = sourceOfRule(project, made, rule('.quay'))!
  const plan = planIntent(project, {
    kind: 'set',
    aim: { kind: 'rule', sheet: quay.ref.key, rule: quay.site.rule.id },
    name: 'padding',
    value: '20px',
  })
  if (!plan.ok) throw new Error(plan.why)
  expect(applySplices(INPUT, plan.changes[0].splices)).toBe(
    INPUT.replace('  @apply p-4 flex;\n', '  @apply p-4 flex;\n    padding: 20px;\n'),
  )
  expect(plan.preview).toMatchObject([{ op: 'rule', sheet: made.key, rule: rule('.quay').rule.id }])
  project.apply('in.css', plan.changes[0].splices)
  const after = await compile()
  const now = [...after.sheet.rules()].find((s) => s.rule.kind === 'style' && resolvedSelectors(s).join() === '.quay')!
  expect(
    declarationsOf(now.rule)
      .map((d) => textOf(now, d.span))
      .at(-1),
  ).toBe('padding: 20px')

  const [token] = project.tokenDefinitions('--color-sea').filter(({ ref }) => project.isEditable(ref))
  expect(token.ref.path).toBe('in.css')
  const change = planIntent(project, {
    kind: 'set',
    aim: { kind: 'token', sheet: token.ref.key, rule: token.site.rule.id, name: '--color-sea' },
    name: 'color',
    value: '#123456',
  })
  if (!change.ok) throw new Error(change.why)
  const shown = compiledRule(project, token.ref, token.site, '--color-sea')!
  expect(change.preview).toMatchObject([
    { op: 'rule', sheet: after.key, rule: shown.site.rule.id, set: { name: '--color-sea', value: '#123456' } },
  ])
  expect(applySplices(project.sourceSheet('in.css')!.sheet.text, change.changes[0].splices)).toContain('--color-sea: #123456;')
})

test('a sheet that a project’s own server compiled gets new classes with the values of the theme that they use', async () => {
  const source = (path: string) => (path === 'in.css' ? '@import "tailwindcss";\n@theme { --color-sea: #0f5b66; }\n' : null)
  const open = () =>
    openTailwind(
      { version: 4, css: source('in.css')!, path: 'in.css', target: 'out.css', linked: true, config: null },
      { own: source, library: librarySheet },
    )
  const [{ tailwind }, { tailwind: whole }] = [await open(), await open()]
  const served = tailwind!.compile(['mt-2'])
  const made = withClasses(served, tailwind!, ['text-3xl', 'bg-sea', 'mt-2'])
  const wanted = whole!.compile(['mt-2', 'text-3xl', 'bg-sea'])
  for (const name of ['--text-3xl', '--text-3xl--line-height', '--color-sea', '--spacing']) {
    const value = (css: string) => new RegExp(`${name}: ([^;]+);`).exec(css)?.[1]
    expect([name, value(made)]).toEqual([name, value(wanted)])
    expect(made.split(`${name}:`)).toHaveLength(2)
  }
  expect(withClasses(made, tailwind!, ['text-3xl', 'bg-sea'])).toBe(made)
})
