import postcss from 'postcss'
import { expect, test } from 'vitest'
import { Project } from '../project'
import { applySplices } from '../text'
import { planIntent } from './plan'

const REGULAR = { path: 'fonts/pier-400.woff2', bytes: new Uint8Array([1, 2]), weight: '400', style: 'normal' }
const ITALIC = { path: 'fonts/pier-400-italic.woff2', bytes: new Uint8Array([3]), weight: '400', style: 'italic' }
const LICENCE = { path: 'fonts/pier.txt', bytes: new Uint8Array([4]) }

function planned(css: string, more: { family?: string; path?: string } = {}) {
  const path = more.path ?? 'css/site.css'
  const files = { [path]: css, 'taken/pier.css': '' }
  const project = new Project(
    Object.entries(files).map(([name, text], i) => ({ key: i + 1, path: name, bytes: new TextEncoder().encode(text) })),
  )
  const faces = [REGULAR, ITALIC]
  const plan = planIntent(project, { kind: 'add-face', family: more.family ?? 'Pier Sans', faces, besides: [LICENCE], sheet: path })
  return { plan, text: plan.ok ? applySplices(css, plan.changes[0].splices) : plan.why }
}

/** The faces of a sheet as another reader of CSS sees them. */
function facesOf(css: string): Record<string, string>[] {
  const found: Record<string, string>[] = []
  postcss.parse(css).walkAtRules('font-face', (rule) => {
    const face: Record<string, string> = {}
    rule.walkDecls((d) => void (face[d.prop] = d.value))
    found.push(face)
  })
  return found
}

test('a face comes with a rule for each of its files, by addresses from its sheet, and with what belongs to it', () => {
  const { plan, text } = planned('body {\n\tcolor: teal;\n}\n')
  expect(facesOf(text)).toEqual([
    {
      'font-family': '"Pier Sans"',
      src: 'url("../fonts/pier-400.woff2") format("woff2")',
      'font-weight': '400',
      'font-style': 'normal',
      'font-display': 'swap',
    },
    expect.objectContaining({ src: 'url("../fonts/pier-400-italic.woff2") format("woff2")', 'font-style': 'italic' }),
  ])
  expect(plan.ok && plan.adds?.map((f) => f.path)).toEqual([REGULAR.path, ITALIC.path, LICENCE.path])
  // In the sheet's own indentation, before the rules that use it.
  expect(text).toContain('\n\tsrc: url(')
  expect(text.indexOf('@font-face')).toBeLessThan(text.indexOf('body'))
  expect(text.endsWith('body {\n\tcolor: teal;\n}\n')).toBe(true)
})

test('it stands behind the faces that the sheet has, in its quotes, and behind what must come first', () => {
  const known =
    "@charset 'utf-8';\n@import 'a.css';\n@font-face {\n  font-family: 'Mole';\n  src: url('mole.woff2');\n}\nbody { color: teal }\n"
  const { text } = planned(known)
  expect(facesOf(text).map((f) => f['font-family'])).toEqual(["'Mole'", "'Pier Sans'", "'Pier Sans'"])
  expect(text.indexOf("@import 'a.css'")).toBeLessThan(text.indexOf('@font-face'))
  const imports = planned("@import 'a.css';\n\nbody { color: teal }\n").text
  expect(postcss.parse(imports).nodes.map((n) => (n.type === 'atrule' ? n.name : n.type))).toEqual([
    'import',
    'font-face',
    'font-face',
    'rule',
  ])
  expect(facesOf(planned('').text)).toHaveLength(2)
})

test('a name that cannot be one, and a file that is there already, are refused with the reason', () => {
  expect(planned('', { family: 'Pier"; } body { color: red' }).text).toBe('“Pier"; } body { color: red” cannot be the name of a face.')
  const project = new Project(
    [REGULAR.path, 'a.css'].map((path, i) => ({ key: i + 1, path: path.replace('.woff2', '.css'), bytes: new Uint8Array() })),
  )
  const faces = [{ ...REGULAR, path: 'fonts/pier-400.css' }]
  expect(planIntent(project, { kind: 'add-face', family: 'Pier', faces, besides: [], sheet: 'a.css' })).toMatchObject({
    ok: false,
    why: 'The project has a file fonts/pier-400.css already.',
  })
})
