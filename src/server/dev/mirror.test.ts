import {
  existsSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  realpathSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterEach, expect, test } from 'vitest'
import { Mirror } from './mirror'
import { stamped } from './stamped'

const made: string[] = []
afterEach(() => made.splice(0).forEach((folder) => rmSync(folder, { recursive: true, force: true })))

const TAG = 'export const A = () => <p>Tern</p>\n'

async function mirrored(files: Readonly<Record<string, string>>) {
  const top = realpathSync(mkdtempSync(join(tmpdir(), 'mirror-')))
  made.push(top)
  const root = join(top, 'quay')
  const write = (path: string, text: string) => {
    mkdirSync(dirname(join(root, path)), { recursive: true })
    writeFileSync(join(root, path), text)
  }
  for (const [path, text] of Object.entries(files)) write(path, text)
  const make = () => Mirror.make(root, join(top, 'place'))
  return { root, write, make }
}

test('a copy has the sources with stamps, settings, packages as the same files, and nothing that a server or git wrote', async () => {
  const { root, make } = await mirrored({
    'app/page.tsx': TAG,
    'app/globals.css': '.a { color: red }\n',
    '.env': 'BERTH=2\n',
    '.next/cache/old': '1',
    '.git/HEAD': 'ref: refs/heads/main\n',
    'node_modules/pack/index.js': 'export const berth = <p>no JSX</p>',
    'odd.tsx': 'const a = <p>',
  })
  symlinkSync('pack', join(root, 'node_modules/other'))
  symlinkSync('../../elsewhere', join(root, 'app/out'))
  const { at } = await make()
  const copy = (path: string) => readFileSync(join(at, path), 'utf8')
  expect(copy('app/page.tsx')).toBe(stamped(TAG, 'app/page.tsx'))
  expect(copy('app/page.tsx')).not.toBe(TAG)
  expect(copy('app/globals.css')).toBe('.a { color: red }\n')
  expect(copy('.env')).toBe('BERTH=2\n')
  expect(copy('odd.tsx')).toBe('const a = <p>')
  expect(statSync(join(at, 'node_modules/pack/index.js')).ino).toBe(statSync(join(root, 'node_modules/pack/index.js')).ino)
  expect(copy('node_modules/other/index.js')).toContain('no JSX')
  expect(realpathSync(join(at, 'node_modules/other'))).toBe(join(at, 'node_modules/pack'))
  expect(lstatSync(join(at, 'app/out')).isSymbolicLink()).toBe(true)
  expect(existsSync(join(at, '.next')) || existsSync(join(at, '.git'))).toBe(false)
})

test('it has texts that are not saved in place of files, until the files are to be shown again, and follows every change', async () => {
  const { root, write, make } = await mirrored({ 'app/page.tsx': TAG, 'app/a.css': '.a{}', 'app/gone.css': '' })
  const mirror = await make()
  const copy = (path: string) => (existsSync(join(mirror.at, path)) ? readFileSync(join(mirror.at, path), 'utf8') : null)
  await mirror.show([{ path: 'app/page.tsx', text: TAG.replace('Tern', 'Gannet') }], true)
  expect(copy('app/page.tsx')).toBe(stamped(TAG.replace('Tern', 'Gannet'), 'app/page.tsx'))
  expect(readFileSync(join(root, 'app/page.tsx'), 'utf8')).toBe(TAG)
  // What is outside of the project is not written.
  await mirror.show([{ path: '../escaped.css', text: 'a{}' }], false)
  expect(existsSync(join(mirror.at, '../escaped.css'))).toBe(false)

  write('app/a.css', '.a{color:red}')
  write('app/new/deep/b.css', '.b{}')
  write('app/page.tsx', TAG.replace('Tern', 'Petrel'))
  rmSync(join(root, 'app/gone.css'))
  await expect
    .poll(() => [copy('app/a.css'), copy('app/new/deep/b.css'), copy('app/gone.css')], { timeout: 10_000 })
    .toEqual(['.a{color:red}', '.b{}', null])
  expect(copy('app/page.tsx')).toContain('Gannet')
  await mirror.show([], true)
  expect(copy('app/page.tsx')).toBe(stamped(TAG.replace('Tern', 'Petrel'), 'app/page.tsx'))
})

test('a save that brings what is shown already leaves the copy as it is', async () => {
  const { write, make } = await mirrored({ 'app/page.tsx': TAG, 'app/seen.css': '' })
  const mirror = await make()
  const text = TAG.replace('Tern', 'Gannet')
  await mirror.show([{ path: 'app/page.tsx', text }], true)
  const before = statSync(join(mirror.at, 'app/page.tsx'))
  write('app/page.tsx', text)
  await mirror.show([], true)
  write('app/seen.css', '.seen{}')
  await expect.poll(() => readFileSync(join(mirror.at, 'app/seen.css'), 'utf8'), { timeout: 10_000 }).toBe('.seen{}')
  const after = statSync(join(mirror.at, 'app/page.tsx'))
  expect([after.ino, after.mtimeMs]).toEqual([before.ino, before.mtimeMs])
})
