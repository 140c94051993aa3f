// @vitest-environment jsdom
import fc from 'fast-check'
import { afterEach, expect, test } from 'vitest'
import { rememberedProjects, rememberProjects, unsavedIn, type KnownProject } from './known-projects'

const forget = () => (document.cookie = 'steady-projects=; max-age=0; path=/')
afterEach(forget)

const PROJECT: fc.Arbitrary<KnownProject> = fc.record({
  id: fc.uuid(),
  name: fc.string({ unit: 'grapheme', maxLength: 40 }),
  folder: fc.option(fc.string({ unit: 'grapheme', maxLength: 40 })),
  unsaved: fc.nat(200),
})

test('projects are remembered as they are; of very many, those opened last, in what any browser keeps', () => {
  fc.assert(
    fc.property(fc.array(PROJECT, { maxLength: 60 }), (projects) => {
      forget()
      rememberProjects(projects)
      const back = rememberedProjects()
      expect(back).toEqual(projects.slice(0, back.length))
      expect(document.cookie.length).toBeLessThan(4096)
      if (projects.length < 6) expect(back.length).toBe(projects.length)
    }),
    { numRuns: 60 },
  )
  // A long name is cut, not lost.
  rememberProjects([{ id: 'a', name: 'x'.repeat(300), folder: 'y'.repeat(300), unsaved: 1 }])
  expect(rememberedProjects()).toEqual([{ id: 'a', name: 'x'.repeat(60), folder: 'y'.repeat(60), unsaved: 1 }])
})

test('what cannot be read is nothing, and what is no project is left out', () => {
  for (const text of ['', '%', '{', 'null', '{"a":1}', '[1,null,[]]', '%5B%5B1%2C2%5D%5D']) {
    document.cookie = `steady-projects=${text}; path=/`
    expect(rememberedProjects()).toEqual([])
  }
  document.cookie = `steady-projects=${encodeURIComponent('[["a","Pier",7,"x"],["b"],["c","Quay","q",2]]')}; path=/`
  expect(rememberedProjects()).toEqual([
    { id: 'a', name: 'Pier', folder: null, unsaved: 0 },
    { id: 'c', name: 'Quay', folder: 'q', unsaved: 2 },
  ])
  // Another cookie whose name ends like it is another.
  forget()
  document.cookie = `not-steady-projects=${encodeURIComponent('[["a","Pier",null,1]]')}; path=/`
  expect(rememberedProjects()).toEqual([])
})

test('edits that no save has are those after the last one, and those that were left out of it', () => {
  expect([unsavedIn({ done: 5 }), unsavedIn({ done: 5, saved: 3 }), unsavedIn({ done: 5, saved: 5, leftOut: [2, 4] })]).toEqual([5, 2, 2])
  // Undone past a save, none is more than was saved.
  expect(unsavedIn({ done: 1, saved: 3 })).toBe(0)
})
