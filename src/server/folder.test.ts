import { execFileSync, spawn } from 'node:child_process'
import { chmod, mkdir, mkdtemp, readdir, readFile, realpath, rm, stat, symlink, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { pathFault, PathError, resolveBelow } from './folder-paths'
import { listFolder } from './list-folder'
import { readOptions, StartError } from './options'
import { SaveError } from '../folder'
import { hashOf, recoverSave, writeFiles } from './write-files'

/** How often a process is ended in a save. */
const KILLS = Number(process.env.STEADY_KILLS ?? 12)

let root: string
beforeEach(async () => {
  root = await realpath(await mkdtemp(join(tmpdir(), 'pier-')))
})
afterEach(() => rm(root, { recursive: true, force: true }))

const bytes = (text: string) => new TextEncoder().encode(text)
const put = async (path: string, text: string) => {
  await mkdir(dirname(join(root, path)), { recursive: true })
  await writeFile(join(root, path), text)
}
const text = (path: string) => readFile(join(root, path), 'utf8').catch(() => null)
const write = (path: string, before: string | null, after: string) => ({
  path,
  before: before === null ? null : hashOf(bytes(before)),
  after: bytes(after),
})
/** All files there are, what is hidden included. */
const all = async () =>
  (await readdir(root, { recursive: true, withFileTypes: true }))
    .filter((e) => !e.isDirectory())
    .map((e) => e.name)
    .sort()

describe('paths', () => {
  test.each([
    '',
    '.',
    '..',
    'a/../b',
    '../x',
    '/etc/passwd',
    'a//b',
    'a/',
    './a',
    'C:/x',
    'c:x',
    'a\\b',
    'a\0b',
    'a\nb',
    '.git/config',
    'sub/.GIT/hooks/x',
    '.git.',
    '.git ',
    'git~1',
    '.g\u200cit/x',
    '.git::$INDEX_ALLOCATION',
    '\ud800',
    'x'.repeat(256),
    'é'.repeat(128),
    `${'x/'.repeat(2100)}x`,
  ])('%j is none', (path) => expect(pathFault(path)).not.toBeNull())

  test.each(['a b.css', 'ü/日本.html', '.gitignore', 'it\'s "x".css', '..a', 'a..b/c', '-x', 'git/x', '<script>.html'])(
    '%j is one',
    (path) => expect(pathFault(path)).toBeNull(),
  )

  test('none leads out of the folder, whatever it is made of and wherever links lead', async () => {
    await put('in/a.css', '')
    await mkdir(join(root, '.git'))
    await symlink('/etc', join(root, 'out'))
    await symlink('..', join(root, 'in/up'))
    await symlink('../..', join(root, 'in/upper'))
    await symlink('/nowhere/at/all', join(root, 'dangling'))
    await symlink('.git', join(root, 'repository'))
    const part = fc.oneof(
      fc.constantFrom(
        '..',
        '.',
        '',
        'in',
        'out',
        'up',
        'upper',
        'dangling',
        'repository',
        'a.css',
        'passwd',
        '.git',
        '~',
        'C:',
        '%2e%2e',
        '\0',
        '\\',
      ),
      fc.string({ maxLength: 6 }),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(part, { maxLength: 7 }), fc.constantFrom('/', '//', '\\'), async (parts, between) => {
        const file = await resolveBelow(root, parts.join(between)).catch((error: unknown) => {
          if (error instanceof PathError) return null
          throw error
        })
        if (file === null) return
        expect(file === root || file.startsWith(`${root}/`)).toBe(true)
        expect(file.slice(root.length).split('/')).not.toContain('.git')
      }),
      { numRuns: 1000 },
    )
  })
})

describe('listing', () => {
  test('git’s own rules hold, and without git those of .gitignore; links out of the folder are listed as left out and not followed', async () => {
    await put('index.html', '')
    await put('.gitignore', '*.log\n/private/\n')
    await put('x.log', '')
    await put('private/a.html', '')
    await put('sub/tmp/x.html', '')
    await put('sub/.gitignore', 'tmp\n')
    await put('node_modules/p/i.js', '')
    await put('only-git.html', '')
    await symlink('/etc/hosts', join(root, 'hosts.html'))
    await symlink('index.html', join(root, 'same.html'))
    const paths = async (include: readonly string[] = []) => (await listFolder(root, new Set(include))).files.map((f) => f.path).sort()
    expect(await paths()).toEqual(['index.html', 'only-git.html', 'same.html'])
    execFileSync('git', ['init', '-q', root])
    await writeFile(join(root, '.git/info/exclude'), 'only-git.html\n')
    // A repository can name a program that git is to run.
    execFileSync('git', ['-C', root, 'config', 'core.fsmonitor', `touch ${join(root, 'ran.html')}; false`])
    expect(await paths()).toEqual(['index.html', 'same.html'])
    expect(await paths(['private'])).toEqual(['index.html', 'private/a.html', 'same.html'])
    const { leftOut } = await listFolder(root, new Set())
    expect(leftOut).toEqual(
      expect.arrayContaining([
        { path: 'hosts.html', why: 'a link' },
        { path: 'private', why: '.gitignore' },
        { path: 'sub/tmp', why: '.gitignore' },
        { path: 'node_modules', why: 'packages' },
      ]),
    )
  })
})

describe('writing', () => {
  test('all files get their text with the mode they had, new ones and their folders too, and nothing else is left', async () => {
    await put('a.css', 'a')
    await put('sub/b.css', 'b')
    await chmod(join(root, 'sub/b.css'), 0o755)
    const when = await writeFiles(root, [write('a.css', 'a', 'a2'), write('sub/b.css', 'b', 'b2'), write('x/y/c.css', null, 'c')])
    expect([await text('a.css'), await text('sub/b.css'), await text('x/y/c.css')]).toEqual(['a2', 'b2', 'c'])
    expect((await stat(join(root, 'sub/b.css'))).mode & 0o777).toBe(0o755)
    expect([...when.keys()]).toEqual(['a.css', 'sub/b.css', 'x/y/c.css'])
    expect(await all()).toEqual(['a.css', 'b.css', 'c.css'])
  })

  test.each([
    ['changed', write('b.css', 'other', 'b2'), /^b\.css: it was changed in the folder meanwhile/],
    ['gone', write('gone.css', 'x', 'y'), /^gone\.css: it is gone/],
    ['made', write('b.css', null, 'b2'), /^b\.css: it was made/],
    ['a folder', write('sub', null, 'b2'), /^sub: there is a folder/],
    ['below a file', write('a.css/x.css', null, 'b2'), /^a\.css\/x\.css: a file stands/],
    ['read-only', write('locked.css', 'l', 'l2'), /^locked\.css: it is read-only/],
  ])('one that is %s is named, and all are as they were', async (_, bad, why) => {
    await put('a.css', 'a')
    await put('b.css', 'b')
    await put('sub/c.css', 'c')
    await put('locked.css', 'l')
    await chmod(join(root, 'locked.css'), 0o444)
    const failed = writeFiles(root, [write('a.css', 'a', 'a2'), write('new/d.css', null, 'd'), bad])
    await expect(failed).rejects.toThrow(SaveError)
    await expect(failed).rejects.toThrow(why)
    expect([await text('a.css'), await text('b.css'), await all()]).toEqual(['a', 'b', ['a.css', 'b.css', 'c.css', 'locked.css']])
    expect(await stat(join(root, 'new')).catch(() => null)).toBeNull()
  })

  test('a link keeps leading where it led', async () => {
    await put('a.css', 'a')
    await symlink('a.css', join(root, 'b.css'))
    await writeFiles(root, [write('b.css', 'a', 'a2')])
    expect([await text('a.css'), (await stat(join(root, 'b.css'))).ino]).toEqual(['a2', (await stat(join(root, 'a.css'))).ino])
  })

  test('a process that is killed in a save leaves no half-written file, and the next start finishes it or takes it back', async () => {
    const sizes = [400_000, 200_000]
    const paths = ['one.css', 'two.css']
    for (const [i, path] of paths.entries()) await put(path, 'a'.repeat(sizes[i]))
    // One save after another, each of other letters.
    const script = `import { readFileSync } from 'node:fs'
      import { writeFiles, hashOf } from ${JSON.stringify(join(process.cwd(), 'src/server/write-files.ts'))}
      let [letter] = readFileSync(${JSON.stringify(join(root, 'one.css'))}, 'utf8')
      const text = (i, of) => Buffer.from(of.repeat(${JSON.stringify(sizes)}[i]))
      for (let n = 0; ; n++) {
        const next = letter === 'z' ? 'a' : String.fromCharCode(letter.charCodeAt(0) + 1)
        await writeFiles(${JSON.stringify(root)}, ${JSON.stringify(paths)}.map((path, i) => ({ path, before: hashOf(text(i, letter)), after: text(i, next) })))
        letter = next
        if (n === 0) process.stdout.write('go')
      }`
    const outcomes = new Set<string | null>()
    const metASave = () => [...outcomes].some((o) => o !== null)
    // Further ones where none of them came in the midst of a save.
    for (let round = 0; round < KILLS || (!metASave() && round < 10 * KILLS); round++) {
      await killedAfter(script, (round * 7) % 40)
      const half = await Promise.all(paths.map(text))
      expect(half.map((t, i) => [t!.length, new Set(t).size, sizes[i]])).toEqual(sizes.map((n) => [n, 1, n]))
      outcomes.add(await recoverSave(root))
      const after = await Promise.all(paths.map(text))
      expect(after[0]![0]).toBe(after[1]![0])
      expect(await all()).toEqual(paths)
    }
    expect(metASave()).toBe(true)
  })

  test('a record that somebody else wrote has nothing outside the folder changed', async () => {
    await put('a.css', 'a')
    const outside = join(tmpdir(), `pier-${process.pid}.css`)
    await writeFile(outside, 'theirs')
    await put(
      '.steady-brush/saving.json',
      JSON.stringify({
        format: 'steady-brush-save',
        folders: [],
        files: [
          {
            path: 'a.css',
            file: outside,
            fresh: join(tmpdir(), '.x.0123456789ab.new.tmp'),
            old: join(root, 'a.css'),
            before: null,
            after: hashOf(bytes('theirs')),
          },
        ],
      }),
    )
    expect(await recoverSave(root)).toBeNull()
    expect([await readFile(outside, 'utf8'), await all()]).toEqual(['theirs', ['a.css']])
    await rm(outside)
  })
})

describe('the command line', () => {
  test('a folder, a port and whether to open', async () => {
    expect(await readOptions([root, '--port', '4500', '--no-open'], '/', {})).toEqual({
      folder: root,
      port: 4500,
      opens: false,
    })
    expect(await readOptions([], '/', { PORT: '4501' })).toEqual({ folder: null, port: 4501, opens: true })
    expect(await readOptions(['.'], root, {})).toEqual({ folder: root, port: null, opens: true })
  })

  test.each([
    [['nowhere'], /nowhere is not there\.$/],
    [['a.css'], /a\.css is a file\. Give the folder/],
    [['/'], /is a whole disk/],
    [[process.env.HOME ?? '/root'], /is your home folder/],
    [['a', 'b'], /One folder is opened at a time/],
    [['--sparkle'], /Unknown option '--sparkle'[^]*Usage: steady-brush/],
    [['--port', 'x'], /"x" is no port/],
    [['--port', '70000'], /is no port/],
  ])('%j is refused in a sentence', async (args, why) => {
    await put('a.css', '')
    const refused = readOptions(args, root, {})
    await expect(refused).rejects.toThrow(StartError)
    await expect(refused).rejects.toThrow(why)
  })
})

// Runs a script in a process of its own that is ended without warning, `after` ms after it first says something.
async function killedAfter(script: string, after: number): Promise<void> {
  const child = spawn('node', ['--import', 'tsx', '--input-type=module', '-e', script], {
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  child.stdout.once('data', () => setTimeout(() => child.kill('SIGKILL'), after))
  await new Promise((done) => child.once('exit', done))
}
