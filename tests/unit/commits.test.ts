import fc from 'fast-check'
import { expect, test } from 'vitest'
import { mergedText, mergeTexts } from '../../src/core/text'
import type { CommitRequest, Committed, GitState, Repository } from '../../src/folder'
import { openLinkedDesk } from '../support/desk-in-memory'

const bytes = (text: string) => new TextEncoder().encode(text)
const said = (given: Uint8Array) => new TextDecoder().decode(given)

/** Rules apart from each other, so that what is done to one is no conflict with what is done to another. */
const sheetOf = (values: readonly string[]) => values.map((v, i) => `.r${i} {\n  top: ${v};\n  left: 0;\n}\n`).join('\n')
const RULES = 6
const START = Array.from({ length: RULES }, () => '0')
const FILES = { 'index.html': '<link rel="stylesheet" href="a.css"><p class="r0">x\n', 'a.css': sheetOf(START) }

/** A repository of the folder, as far as a desk asks it: what is committed, and what of the disk differs from that. */
function repositoryOf(text: (path: string) => string | null) {
  const head = new Map(Object.entries(FILES))
  const requests: CommitRequest[] = []
  let answer: Committed | Error | null = null
  const repository: Repository = {
    state: async (): Promise<GitState> => ({
      branch: 'main',
      head: 'abc123',
      commits: requests.length,
      refusal: null,
      changed: [...head].flatMap(([path, was]) => (text(path) === was ? [] : [{ path, is: 'changed' as const }])),
    }),
    committed: async (paths) => paths.map((path) => (head.has(path) ? bytes(head.get(path)!) : null)),
    series: async () => (requests.length ? 'patches' : null),
    commit: async (request) => {
      if (answer instanceof Error) throw answer
      if (answer) return answer
      requests.push(request)
      // As git does it: what we changed in a file, on what was committed.
      for (const { path, before, after } of request.files)
        head.set(path, mergedText(mergeTexts(before === null ? '' : said(before), head.get(path) ?? '', said(after))))
      return { ok: true, commit: 'def456', branch: request.branch ?? 'main', files: request.files.map((f) => f.path), told: '' }
    },
  }
  return { repository, head, requests, answerWith: (with_: Committed | Error | null) => (answer = with_) }
}

async function open() {
  const { disk, desk, folder } = await openLinkedDesk(FILES)
  const git = repositoryOf((path) => disk.text(path))
  Object.defineProperty(folder, 'repository', { get: () => git.repository })
  const set = (rule: number, value: string) =>
    desk.editing.commit({ kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule: rule + 1 }, name: 'top', value }, 1)
  /** Another program changes a rule in the folder. */
  const theirs = async (rule: number, value: string) => {
    const [lead, ...rest] = disk.text('a.css')!.split(`.r${rule} {\n  top: `)
    disk.put('a.css', `${lead}.r${rule} {\n  top: ${value}${rest.join('').slice(rest.join('').indexOf(';'))}`)
    await desk.folder.check()
  }
  return { disk, desk, set, theirs, ...git }
}

type Act = { readonly do: 'set' | 'theirs'; readonly rule: number; readonly value: number } | { readonly do: 'save' | 'commit' | 'undo' }

const ACT: fc.Arbitrary<Act> = fc.oneof(
  { weight: 5, arbitrary: fc.record({ do: fc.constant('set' as const), rule: fc.nat(2), value: fc.integer({ min: 1, max: 99 }) }) },
  {
    weight: 3,
    arbitrary: fc.record({
      do: fc.constant('theirs' as const),
      rule: fc.integer({ min: 3, max: 5 }),
      value: fc.integer({ min: 1, max: 99 }),
    }),
  },
  { weight: 3, arbitrary: fc.record({ do: fc.constantFrom('save' as const, 'commit' as const, 'undo' as const) }) },
)

test('a commit has what our saved edits change and nothing of what others changed; the review tells both apart', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(ACT, { minLength: 3, maxLength: 14 }), async (acts) => {
      const { disk, desk, set, theirs, head } = await open()
      // What each rule says now, in the folder, and in the last commit.
      const ours = [...START]
      const undone: string[][] = [[...START]]
      const other = [...START]
      const committed = [...START]
      for (const act of acts) {
        if (act.do === 'set') {
          await set(act.rule, `${act.value}px`)
          if (ours[act.rule] !== `${act.value}px`) undone.push([...ours])
          ours[act.rule] = `${act.value}px`
        }
        if (act.do === 'theirs') {
          await theirs(act.rule, `${act.value}em`)
          other[act.rule] = `${act.value}em`
        }
        if (act.do === 'undo' && undone.length > 1) {
          await desk.history.step('undo')
          ours.splice(0, 3, ...undone.pop()!.slice(0, 3))
        }
        if (act.do === 'save') expect(await desk.saving.save([])).toMatchObject({ ok: true })
        if (act.do === 'commit') {
          const { saved, committed: made } = await desk.git.saveAndCommit([], [], 'Tides', null)
          expect(saved.ok).toBe(true)
          if (made && !made.ok) expect(made.why).toBe('No edit of ours is saved that could be committed.')
          else committed.splice(0, 3, ...ours.slice(0, 3))
        }
        const now = START.map((_, i) => (i < 3 ? ours[i] : other[i]))
        expect(desk.current.text('a.css')).toBe(sheetOf(now))
        expect(head.get('a.css')).toBe(sheetOf(committed))
      }
      const since = await desk.sinceCommit.files([], [])
      const told = (since?.files ?? []).flatMap((f) => f.parts ?? []).flatMap((p) => p.lines)
      const comes = told.filter((line) => line.kind === 'comes').map((line) => [line.text.trim(), line.isOurs])
      const wanted = START.flatMap((_, i) => {
        const is = i < 3 ? ours[i] : other[i]
        return is === committed[i] ? [] : [[`top: ${is};`, i < 3]]
      })
      expect(comes).toEqual(wanted)
      expect(disk.text('index.html')).toBe(FILES['index.html'])
    }),
    { numRuns: 20 },
  )
})

test('a commit that is refused, or fails, is said; what was saved stays saved', async () => {
  const { disk, desk, set, answerWith, requests } = await open()
  await set(0, '1px')
  answerWith({ ok: false, why: 'A hook refused it.' })
  expect(await desk.git.saveAndCommit([], [], 'Tides', 'pier/tides')).toMatchObject({
    saved: { ok: true },
    committed: { ok: false, why: 'A hook refused it.' },
  })
  answerWith(new Error('The server does not answer.'))
  expect((await desk.git.saveAndCommit([], [], 'Tides', null)).committed).toEqual({ ok: false, why: 'The server does not answer.' })
  expect([disk.text('a.css'), requests, await desk.git.series()]).toEqual([sheetOf(['1px', ...START.slice(1)]), [], null])
  answerWith(null)
  expect((await desk.git.saveAndCommit([], [], 'Tides\n\nLower.', 'pier/tides')).committed).toMatchObject({
    ok: true,
    branch: 'pier/tides',
  })
  expect(requests.map((r) => [r.message, r.branch, r.files.map((f) => f.path)])).toEqual([['Tides\n\nLower.', 'pier/tides', ['a.css']]])
  expect(await desk.git.series()).toBe('patches')
})

test('what is left out of a save is neither written nor committed, and still is to be', async () => {
  const { disk, desk, set, head } = await open()
  await set(0, '1px')
  await set(2, '2px')
  const { committed } = await desk.git.saveAndCommit([2], [], 'One', null)
  expect(committed).toMatchObject({ ok: true })
  const one = sheetOf(['1px', ...START.slice(1)])
  expect([disk.text('a.css'), head.get('a.css')]).toEqual([one, one])
  const since = await desk.sinceCommit.files([], [])
  expect(since?.files.map((f) => [f.path, f.is, f.parts?.length])).toEqual([['a.css', 'changed', 1]])
  expect((await desk.git.state())?.changed).toEqual([])
})

test('without a repository, or before its first commit, there is nothing to compare with', async () => {
  const { desk, repository } = await open()
  Object.assign(repository, { state: async () => null })
  expect([await desk.sinceCommit.files([], []), await desk.git.state()]).toEqual([null, null])
  Object.assign(repository, { state: async () => ({ branch: 'main', head: null, changed: [], commits: 0, refusal: null }) })
  expect(await desk.sinceCommit.files([], [])).toBeNull()
  Object.assign(repository, { state: () => Promise.reject(new Error('gone')) })
  expect(await desk.git.state()).toBeNull()
})
