import { expect, test } from 'vitest'
import type { AimRef } from '../aim'
import { Project } from '../project'
import { planIntent } from './plan'

const PAGE = `const Card = ({ title }: { title: string }) => <p className="card">{title}</p>

export const Page = () => (
  <>
    <Card title="Springs" />
    <Card title="Neaps" />
  </>
)
`
const SHEET = '.card {\n  margin: 4px;\n}\n'

function open() {
  const files = { 'page.tsx': PAGE, 'card.css': SHEET }
  const project = new Project(
    Object.entries(files).map(([path, text], key) => ({ key: key + 1, path, bytes: new TextEncoder().encode(text) })),
  )
  const [root, , neaps] = [...project.tree('page.tsx').elements].sort((a, b) => a.startTag!.from - b.startTag!.from)
  const rule = [...project.sheet('card.css')!.sheet.rules()][0].rule.id
  const aim = (component = 'Card'): AimRef => ({
    kind: 'new-class',
    source: project.sourceOf('page.tsx', neaps.id),
    name: 'card-wide',
    sheet: 'card.css',
    after: rule,
    taking: { root: project.sourceOf('page.tsx', root.id), component },
  })
  return { project, aim }
}

test('a class for one use of a component is one edit of the rule, the use and the component, in one file too', () => {
  const { project, aim } = open()
  const plan = planIntent(project, { kind: 'set', aim: aim(), name: 'margin', value: '8px' })
  if (!plan.ok) throw new Error(plan.why)
  expect(plan.changes.map((c) => c.path).sort()).toEqual(['card.css', 'page.tsx'])
  for (const c of plan.changes) project.apply(c.path, c.splices)
  expect(project.text('page.tsx')).toBe(
    PAGE.replace('({ title }: { title: string })', '({ title, className }: { title: string; className?: string })')
      .replace('className="card"', "className={`card ${className ?? ''}`}")
      .replace('title="Neaps"', 'title="Neaps" className="card-wide"'),
  )
  expect(project.text('card.css')).toBe(`${SHEET}\n.card-wide {\n  margin: 8px;\n}\n`)
  // Asked for again, the component takes classes by now.
  const again = planIntent(project, { kind: 'set', aim: { ...aim(), name: 'card-tall' } as AimRef, name: 'margin', value: '9px' })
  if (!again.ok) throw new Error(again.why)
  for (const c of again.changes) project.apply(c.path, c.splices)
  expect(project.text('page.tsx').match(/className/g)).toHaveLength(5)
})

test('nothing is written where the component cannot be made to take it', () => {
  const { project, aim } = open()
  expect(planIntent(project, { kind: 'set', aim: aim('Board'), name: 'margin', value: '8px' })).toMatchObject({
    ok: false,
    why: 'The tag is no part of Board itself.',
  })
})
