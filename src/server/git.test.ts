import { execFileSync } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { Git } from './git'

let root: string
// Nothing of whoever runs the tests counts.
const home = process.env.HOME
beforeAll(() => {
  process.env.HOME = mkdtempSync(join(tmpdir(), 'home-'))
})
afterAll(() => {
  rmSync(process.env.HOME!, { recursive: true, force: true })
  process.env.HOME = home
})
const bytes = (text: string) => new TextEncoder().encode(text)
const run = (...args: string[]): string =>
  execFileSync('git', ['-C', root, ...args], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] })
const put = (path: string, text: string) => writeFileSync(join(root, path), text)
const SHEET = Array.from({ length: 20 }, (_, i) => `.a${i} { top: 0 }\n`).join('')
const edited = (text: string, n: number, to: string) => text.replace(`.a${n} { top: 0 }`, `.a${n} { top: ${to} }`)
/** Commits our change of the rule `.a2` in a sheet, with what else the file has on the disk. */
const commitOurs = (on = SHEET, more: { readonly message?: string; readonly branch?: string | null } = {}) =>
  new Git(root).commit({
    message: 'Move a2',
    branch: null,
    ...more,
    files: [{ path: 'a b.css', before: bytes(on), after: bytes(edited(on, 2, '1px')) }],
  })

beforeEach(() => {
  root = realpathSync(mkdtempSync(join(tmpdir(), 'pier-')))
  run('init', '-q', '-b', 'main')
  run('config', 'user.name', 'Pier')
  run('config', 'user.email', 'pier@example.invalid')
  put('a b.css', SHEET)
  put('other.css', SHEET)
  run('add', '-A')
  run('commit', '-qm', 'First')
})
afterEach(() => rmSync(root, { recursive: true, force: true }))

describe('a commit', () => {
  test('has our change of a file alone; what others changed in it, and what is staged, stays as it is', async () => {
    // Somebody else changed one rule of the file, staged another, and staged another file.
    put('a b.css', edited(SHEET, 8, '8px'))
    put('other.css', edited(SHEET, 1, '9px'))
    run('add', '-A')
    const theirs = edited(edited(SHEET, 8, '8px'), 15, '15px')
    put('a b.css', edited(theirs, 2, '1px'))
    expect(await commitOurs(theirs, { message: 'Move a2\n\nWhy not.' })).toMatchObject({
      ok: true,
      branch: 'main',
      files: ['a b.css'],
    })
    expect(run('show', 'HEAD:a b.css')).toBe(edited(SHEET, 2, '1px'))
    expect(run('log', '-1', '--format=%B%an').trim()).toBe('Move a2\n\nWhy not.\nPier')
    expect(run('show', '--stat', '--format=', 'HEAD')).not.toContain('other.css')
    expect(run('show', ':a b.css')).toBe(edited(edited(SHEET, 8, '8px'), 2, '1px'))
    expect(run('diff', '--cached', '--name-only').trim().split('\n')).toEqual(['a b.css', 'other.css'])
    expect(readFileSync(join(root, 'a b.css'), 'utf8')).toBe(edited(theirs, 2, '1px'))
    expect(readdirSync(join(root, '.git')).filter((name) => name.includes('steady-brush'))).toEqual([])
  })

  test('gives files as it has them, with the line ends of the working tree; null for those that it has not', async () => {
    put('.gitattributes', '*.css eol=crlf\n')
    put('new.css', SHEET)
    put('a b.css', edited(SHEET, 3, '3px'))
    const text = SHEET.replaceAll('\n', '\r\n')
    const found = await new Git(root).committed(['new.css', 'a b.css', 'gone/../a b.css'])
    expect(found.map((f) => f && new TextDecoder().decode(f))).toEqual([null, text, null])
  })

  test('made twice has nothing new; a new file and a new branch come with it', async () => {
    put('a b.css', edited(SHEET, 2, '1px'))
    put('new.css', 'p {}\n')
    const files = [
      { path: 'a b.css', before: bytes(SHEET), after: bytes(edited(SHEET, 2, '1px')) },
      { path: 'new.css', before: null, after: bytes('p {}\n') },
    ]
    const git = new Git(root)
    expect(await git.commit({ message: 'Both', branch: 'pier/tide', files })).toMatchObject({
      ok: true,
      branch: 'pier/tide',
      files: ['a b.css', 'new.css'],
    })
    expect([
      run('branch', '--show-current').trim(),
      run('status', '--porcelain'),
      run('rev-parse', 'main^{tree}') === run('rev-parse', 'HEAD~1^{tree}'),
    ]).toEqual(['pier/tide', '', true])
    expect(await git.commit({ message: 'Again', branch: null, files })).toEqual({
      ok: false,
      why: 'The last commit has all of it already.',
    })
    // As a series that git takes elsewhere.
    expect((await git.state())!.commits).toBe(1)
    const series = await git.series()
    run('switch', '-q', 'main')
    execFileSync('git', ['-C', root, 'am', '-q'], { input: series! })
    expect([
      run('show', '--format=%s', '--name-only', 'HEAD').trim().split('\n').filter(Boolean),
      run('rev-parse', 'HEAD^{tree}') === run('rev-parse', 'pier/tide^{tree}'),
    ]).toEqual([['Both', 'a b.css', 'new.css'], true])
  })

  test('is made with the line ends that the repository wants, and in a folder below its top', async () => {
    run('config', 'core.autocrlf', 'true')
    mkdirSync(join(root, 'site'))
    const crlf = SHEET.replaceAll('\n', '\r\n')
    writeFileSync(join(root, 'site/c.css'), crlf)
    run('add', '-A')
    run('commit', '-qm', 'Second')
    const after = edited(crlf, 2, '1px')
    writeFileSync(join(root, 'site/c.css'), after)
    const git = new Git(join(root, 'site'))
    expect(await git.state()).toEqual({
      branch: 'main',
      head: run('rev-parse', '--short', 'HEAD').trim(),
      changed: [{ path: 'c.css', is: 'changed' }],
      commits: 0,
      refusal: null,
    })
    expect(
      await git.commit({
        message: 'Third',
        branch: null,
        files: [{ path: 'c.css', before: bytes(crlf), after: bytes(after) }],
      }),
    ).toMatchObject({ ok: true, files: ['c.css'] })
    expect(run('show', 'HEAD:site/c.css')).toBe(edited(SHEET, 2, '1px'))
    expect(run('status', '--porcelain')).toBe('')
  })

  test('runs hooks, and says what they say; one that refuses leaves all as it was', async () => {
    put('a b.css', edited(SHEET, 2, '1px'))
    mkdirSync(join(root, '.git/hooks'), { recursive: true })
    const hook = join(root, '.git/hooks/pre-commit')
    writeFileSync(hook, '#!/bin/sh\necho the tide is high\ngit diff --cached --name-only\n')
    chmodSync(hook, 0o755)
    const [head, index] = [run('rev-parse', 'HEAD'), run('ls-files', '-s')]
    writeFileSync(hook, '#!/bin/sh\necho no boats today >&2\nexit 1\n')
    expect(await commitOurs()).toEqual({ ok: false, why: expect.stringContaining('no boats today') })
    expect(await commitOurs(SHEET, { branch: 'tide' })).toMatchObject({ ok: false })
    writeFileSync(hook, '#!/bin/sh\nexit 1\n')
    expect(await commitOurs()).toEqual({ ok: false, why: 'Git did not commit. It ended with 1 and said nothing.' })
    expect([run('rev-parse', 'HEAD'), run('ls-files', '-s'), run('branch').trim()]).toEqual([head, index, '* main'])
    writeFileSync(hook, '#!/bin/sh\necho the tide is high\ngit diff --cached --name-only\n')
    expect(await commitOurs()).toMatchObject({ ok: true, told: expect.stringMatching(/the tide is high\n.*a b\.css/) })
  })

  test.each<[string, () => void, RegExp]>([
    ['a merge is under way', () => put('.git/MERGE_HEAD', `${run('rev-parse', 'HEAD')}`), /^A merge is under way/],
    ['a rebase is under way', () => mkdirSync(join(root, '.git/rebase-merge')), /^A rebase is under way/],
    ['another program has the index', () => put('.git/index.lock', ''), /^Another program is using the repository/],
    ['no branch is checked out', () => run('checkout', '-q', '--detach'), /^No branch is checked out \(HEAD is at [0-9a-f]+\)/],
    [
      'nobody is named',
      () => run('config', 'user.useConfigOnly', 'true') + run('config', '--unset', 'user.email') + run('config', '--unset', 'user.name'),
      /^Git does not know who commits/,
    ],
    ['the file is not in git', () => run('rm', '-q', '--cached', 'a b.css') + run('commit', '-qm', 'Gone'), /^a b\.css is not in git yet/],
    [
      'others changed the same lines',
      () => put('a b.css', edited(edited(SHEET, 2, '5px'), 3, '5px')) as unknown as string,
      /^a b\.css: the same lines are changed/,
    ],
  ])('is not made where %s, and nothing is changed', async (_, work, why) => {
    work()
    const now = readFileSync(join(root, 'a b.css'), 'utf8')
    const [head, index, status] = [run('rev-parse', 'HEAD'), run('ls-files', '-s'), run('status', '--porcelain')]
    const on = now.includes('5px') ? now : SHEET
    const made =
      on === SHEET
        ? await commitOurs(on)
        : await new Git(root).commit({
            message: 'x',
            branch: null,
            files: [{ path: 'a b.css', before: bytes(on), after: bytes(on.replace('5px', '6px')) }],
          })
    expect(made).toEqual({ ok: false, why: expect.stringMatching(why) })
    expect([run('rev-parse', 'HEAD'), run('ls-files', '-s'), run('status', '--porcelain')]).toEqual([head, index, status])
  })

  test.each(['-x', 'a..b', 'main', 'x y', ''])('a branch %j is not made', async (branch) => {
    put('a b.css', edited(SHEET, 2, '1px'))
    expect(await commitOurs(SHEET, { branch })).toMatchObject({ ok: false })
    expect(run('branch').trim()).toBe('* main')
  })
})

test('before the first commit, and outside of a repository', async () => {
  const empty = realpathSync(mkdtempSync(join(tmpdir(), 'pier-')))
  expect(await new Git(empty).state()).toBeNull()
  expect(await new Git(empty).commit({ message: 'x', branch: null, files: [] })).toMatchObject({ ok: false })
  execFileSync('git', ['-C', empty, 'init', '-q', '-b', 'main'])
  execFileSync('git', ['-C', empty, 'config', 'user.name', 'Pier'])
  execFileSync('git', ['-C', empty, 'config', 'user.email', 'pier@example.invalid'])
  writeFileSync(join(empty, 'new.css'), 'p {}\n')
  expect(await new Git(empty).state()).toEqual({
    branch: 'main',
    head: null,
    changed: [{ path: 'new.css', is: 'new' }],
    commits: 0,
    refusal: null,
  })
  expect(
    await new Git(empty).commit({
      message: 'First',
      branch: null,
      files: [{ path: 'new.css', before: null, after: bytes('p {}\n') }],
    }),
  ).toMatchObject({ ok: true, files: ['new.css'] })
  expect(execFileSync('git', ['-C', empty, 'status', '--porcelain'], { encoding: 'utf8' })).toBe('')
  expect(existsSync(join(empty, '.git/index.lock'))).toBe(false)
  rmSync(empty, { recursive: true })
})
