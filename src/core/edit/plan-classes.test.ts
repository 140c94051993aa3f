import { expect, test } from 'vitest'
import { Project } from '../project'
import { planIntent } from './plan'

const MARK = `import clsx from 'clsx'

const TONES = {
  high: 'bg-deep text-foam',
  low: 'bg-foam text-deep',
}

export const Mark = ({ tone, isOld }: { tone: keyof typeof TONES; isOld: boolean }) => (
  <span className={clsx('mark px-3', TONES[tone], isOld && 'faded')}>{tone}</span>
)
`

/** Of a change of the class list: what the page shows before it has the source, and which line is written. */
function planned(remove: readonly string[], add: readonly string[]) {
  const project = new Project([{ key: 1, path: 'Mark.tsx', bytes: new TextEncoder().encode(MARK) }])
  const tree = project.tree('Mark.tsx')
  const [mark] = tree.elements
  tree.noteShown?.(mark, ['mark', 'px-3', 'bg-foam', 'text-deep', 'faded'])
  const source = project.sourceOf('Mark.tsx', mark.id)
  const plan = planIntent(project, {
    kind: 'change-classes',
    sources: [source],
    remove,
    add: add.map((name, i) => ({ name, ...(remove[i] !== undefined && { instead: remove[i] }) })),
  })
  if (!plan.ok) throw new Error(plan.why)
  const op = plan.preview.find((p) => p.op === 'classes')!
  return { gone: op.gone, come: op.come, having: op.having }
}

test.each<[what: string, remove: string[], add: string[], having: string[] | null]>([
  ['a class that always counts', ['px-3'], [], null],
  ['one that comes', [], ['mt-2'], null],
  ['one of a variant', ['text-deep'], [], ['bg-foam', 'text-deep']],
  ['one of a condition', ['faded'], [], ['faded']],
  ['one of a variant and one that always counts', ['px-3', 'text-deep'], [], null],
])('what is shown of %s is for the elements that have it', (_, remove, add, having) => {
  expect(planned(remove, add)).toEqual({ gone: remove, come: add, having })
})
