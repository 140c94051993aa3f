import { expect, test } from 'vitest'
import { tailwindOf } from '../../proof/tailwind-files'
import { planIntent } from '../../src/core/edit'
import { Project } from '../../src/core/project'
import { applySplices } from '../../src/core/text'
import { setVocabularies } from '../../src/core/utility'

const tailwind = await tailwindOf('@import "tailwindcss";')

test.each([
  // What it leaves without effect goes, and it stands in that one's place.
  ['flex mt-1 p-4', 'mt-4', 'flex mt-4 p-4'],
  ['shadow-sm p-4', 'shadow-md', 'shadow-md p-4'],
  ['block p-4', 'hidden', 'hidden p-4'],
  ['p-4 text-sm', 'text-sm/loose', 'p-4 text-sm/loose'],
  // So does what says the same, and all that would keep it from changing anything.
  ['mt-6 p-4', 'my-6', 'my-6 p-4'],
  ['mt-6 mb-4 p-4', 'my-6', 'my-6 p-4'],
  ['pl-2 pr-3', 'px-4', 'px-4'],
  // What still counts, or waits for something else, stays.
  ['p-4 text-sm', 'pl-5', 'p-4 text-sm pl-5'],
  ['p-4 pl-2', 'px-5', 'p-4 pl-2 px-5'],
  ['mt-1', 'sm:mt-4', 'mt-1 sm:mt-4'],
  ['shadow-sm', 'ring-2', 'shadow-sm ring-2'],
  ['card mt-1', 'card--wide', 'card mt-1 card--wide'],
])('%s and %s read %s', (list, name, wanted) => {
  const html = `<!DOCTYPE html><p class="${list}">x</p>`
  const project = new Project([{ key: 1, path: 'index.html', bytes: new TextEncoder().encode(html) }])
  setVocabularies(project, [tailwind])
  const p = project.tree('index.html').elements.find((e) => e.tag === 'p')!
  const plan = planIntent(project, {
    kind: 'change-classes',
    sources: [project.sourceOf('index.html', p.id)],
    remove: [],
    add: [{ name }],
  })
  expect(plan.ok && applySplices(html, plan.changes[0].splices)).toBe(html.replace(list, wanted))
})
