import { expect, test } from 'vitest'
import { planIntent } from '../../src/core/edit'
import { Project } from '../../src/core/project'

test('a sheet of 20 MB is read, edited and undone without a lost byte', () => {
  const source = '.a { color: red; padding: 1px 2px }\n'.repeat(580_000)
  const project = new Project([{ key: 1, path: 'a.css', bytes: new TextEncoder().encode(source) }])
  const { id } = [...project.sheet('a.css')!.sheet.rules()].at(-1)!.rule
  const plan = planIntent(project, { kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule: id }, name: 'padding', value: '3px' })
  if (!plan.ok) throw new Error(plan.reason)
  expect(plan.changes).toHaveLength(1)
  const [{ path, splices }] = plan.changes
  const { inverse } = project.apply(path, splices)
  // Compared as a whole: what differs would be printed for minutes.
  expect(project.text('a.css') === source.replace(/1px 2px( \}\n)$/, '3px$1')).toBe(true)
  project.apply(path, inverse)
  expect(project.text('a.css') === source).toBe(true)
})
