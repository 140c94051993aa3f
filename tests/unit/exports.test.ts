import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Desk } from '../../src/desk'
import type { Shared } from '../../src/folder'
import { unzipFiles } from '../../src/storage/archive'
import { openDesk } from '../support/desk-in-memory'

const PAGE = `<!doctype html>
<link rel="stylesheet" href="css/pier.css">
<main>
  <h1 class="title">Ferries</h1>
  <p class="note" style="color: teal">High at 6</p>
</main>
`
const SHEET = `.title {\r\n  top: 0;\r\n  left: 0;\r\n}\r\n\r\n@media (width < 40rem) {\r\n  .title {\r\n    top: 0;\r\n  }\r\n}\r\n`
const FILES = { 'index.html': PAGE, 'css/pier.css': SHEET, 'css/other.css': '.note { top: 0 }' }

const rule = (sheet: string, at: number, name: string, value: string) =>
  ({ kind: 'set', aim: { kind: 'rule', sheet, rule: at }, name, value }) as const

function written(files: Readonly<Record<string, string>>): string {
  const dir = mkdtempSync(join(tmpdir(), 'exports-'))
  for (const [path, text] of Object.entries(files)) {
    mkdirSync(dirname(join(dir, path)), { recursive: true })
    writeFileSync(join(dir, path), text)
  }
  return dir
}
const gitApply = (dir: string, patch: string) =>
  execFileSync('git', ['-c', 'core.autocrlf=false', 'apply', '--whitespace=nowarn', '-'], { cwd: dir, input: patch })
const textsOf = (dir: string) => Object.fromEntries(Object.keys(FILES).map((path) => [path, readFileSync(join(dir, path), 'utf8')]))

async function unzipped(desk: Desk, leave: readonly number[]): Promise<Record<string, string>> {
  const files = await unzipFiles('pier.zip', await desk.exports.zip(leave))
  return Object.fromEntries(files.map((f) => [f.path, new TextDecoder().decode(f.bytes)]))
}

test('the patch that git applies, the ZIP and the files are one state, whatever edits are left out', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.tuple(fc.constantFrom('css/pier.css:1', 'css/pier.css:3', 'css/other.css:1'), fc.constantFrom('top', 'left'), fc.nat(9)),
        {
          minLength: 2,
          maxLength: 7,
        },
      ),
      fc.array(fc.nat(6), { maxLength: 3 }),
      fc.nat(7),
      async (edits, left, back) => {
        const desk = await openDesk(FILES)
        const states = [desk.exports.file('css/pier.css')]
        for (const [place, name, value] of edits) {
          const [sheet, at] = place.split(':')
          await desk.editing.commit(rule(sheet, Number(at), name, `${value + 1}px`), 1)
          states.push(desk.exports.file('css/pier.css'))
        }
        const count = desk.current.journal.done
        const leave = [...new Set(left.map((n) => (n % count) + 1))]
        const { dependents } = await desk.saving.review(leave)
        if (dependents.length) {
          // Nothing leaves that is neither of the two states.
          await expect(desk.exports.patch(leave)).rejects.toThrow('stand on those that are left out')
          await expect(desk.exports.zip(leave)).rejects.toThrow('stand on those that are left out')
          return
        }
        const dir = written(FILES)
        const patch = await desk.exports.patch(leave)
        if (patch) gitApply(dir, patch)
        expect(await unzipped(desk, leave)).toEqual(textsOf(dir))
        // From an earlier state to this one.
        const from = Math.min(back, count)
        const difference = await desk.points.difference({ count: from })
        const now = Object.fromEntries(Object.keys(FILES).map((path) => [path, desk.current.text(path)!]))
        await desk.history.goTo(from)
        const then = written(Object.fromEntries(Object.keys(FILES).map((path) => [path, desk.current.text(path)!])))
        if (difference) gitApply(then, difference)
        expect(textsOf(then)).toEqual(now)
      },
    ),
    { numRuns: 12 },
  )
})

test('the changed CSS is the rules that say something new, each in its conditions, with just that', async () => {
  const desk = await openDesk(FILES)
  expect(await desk.exports.changedCss(true)).toBe('')
  await desk.editing.commit(rule('css/pier.css', 1, 'left', '4px'), 1)
  await desk.editing.commit(rule('css/pier.css', 3, 'top', '5px'), 1)
  expect(await desk.exports.changedCss(false)).toBe(
    '.title {\r\n  left: 4px;\r\n}\r\n\r\n@media (width < 40rem) {\r\n  .title {\r\n    top: 5px;\r\n  }\r\n}\n',
  )
  await desk.editing.commit(rule('css/other.css', 1, 'top', '6px'), 1)
  expect(await desk.exports.changedCss(true)).toMatch(
    /^\/\* css\/pier\.css \*\/\n[^]*\n\n\/\* css\/other\.css \*\/\n\.note \{\n  top: 6px;\n\}\n$/,
  )
  await desk.history.goTo(0)
  expect(await desk.exports.changedCss(true)).toBe('')
})

test('of an element there is what was changed for it, a selector of it alone, and its HTML', async () => {
  const desk = await openDesk(FILES)
  const source = desk.current.project.sourceOf(
    'index.html',
    desk.current.project.tree('index.html').elements.find((e) => e.tag === 'h1')!.id,
  )
  await desk.editing.commit(rule('css/pier.css', 1, 'top', '4px'), 1)
  await desk.editing.commit(rule('css/other.css', 1, 'top', '6px'), 1)
  expect(await desk.exports.about(source, ['.title'])).toEqual({
    selector: expect.any(String),
    changed: '.title {\r\n  top: 4px;\r\n}',
    html: '<h1 class="title">Ferries</h1>',
  })
  expect(await desk.exports.about('9.9', ['.title'])).toBeNull()
})

test('assistants get what is chosen, wished for and not saved by file and line; what they say of a wish is kept', async () => {
  const desk = await openDesk(FILES)
  const { project } = desk.current
  const source = project.sourceOf('index.html', project.tree('index.html').elements.find((e) => e.tag === 'p')!.id)
  await desk.editing.commit(rule('css/other.css', 1, 'top', '6px'), 3, 'what decides it now')
  const shared: Shared[] = []
  let news: { id: string; state: 'open' | 'taken' | 'done' }[] = []
  const assistants = { share: async (state: Shared) => void shared.push(state), news: async () => news }
  Object.assign(desk.current, { folder: { assistants } })
  const { handing } = desk
  await handing.setWishes([{ id: 'a', words: 'Calmer <b>text</b>', sources: [source, '9.9'] } as never])
  await handing.share('index.html', [{ source, values: { color: 'teal' } as never }])
  const place = { file: 'index.html', line: 5, selector: expect.any(String), html: '<p class="note" style="color: teal">' }
  expect(shared).toEqual([
    {
      project: 'Quay',
      page: 'index.html',
      chosen: [{ ...place, values: { color: 'teal' } }],
      // An element that is gone is left out, the wish stays.
      wishes: [{ id: 'a', words: 'Calmer <b>text</b>', state: 'open', elements: [place] }],
      edits: [{ file: 'css/other.css', line: 1, where: '.note', what: 'top', before: '0', after: '6px', why: 'what decides it now' }],
    },
  ])
  expect(await handing.takeInNews()).toEqual([])
  news = [
    { id: 'a', state: 'done' },
    { id: 'of another project', state: 'done' },
  ]
  expect((await handing.takeInNews()).map((w) => [w.id, w.state])).toEqual([['a', 'done']])
  expect((await handing.wishes()).map((w) => w.state)).toEqual(['done'])
  expect(await handing.takeInNews()).toEqual([])
  const { json, text } = await handing.handOff()
  expect(JSON.parse(json)).toMatchObject({
    project: 'Quay',
    edits: [{ file: 'css/other.css', reach: 3, verdict: 'not read' }],
    wishes: [{ words: 'Calmer <b>text</b>' }],
  })
  // What a person typed is no markup of the note.
  expect(text).not.toMatch(/<b>text<\/b>/)
})
