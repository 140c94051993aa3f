import { expect, test } from 'vitest'
import { fileKind, filesNamedBy } from './named-files'
import { Project } from './project'

/** What the pages of a project of these texts and further files have a browser load. */
async function named(files: Readonly<Record<string, string>>, ...others: string[]): Promise<Record<string, readonly string[]>> {
  const project = new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))
  const found = await filesNamedBy(
    project,
    (path) => project.has(path) || others.includes(path),
    async () => true,
  )
  return Object.fromEntries(found!.map(({ page, files: all }) => [page, all]))
}

test('a page loads its scripts, pictures and sheets, what those import, and the pictures and faces that they name', async () => {
  expect(
    await named(
      {
        'index.html': `<link rel="icon" href="lamp.ico"><link rel="stylesheet" href="css/base.css"><script src="turn.js"></script>
<style>main { background: url(sea.png) }</style>
<main style="background: url('gull.png')"><img src="a b.png" srcset="a2.png 2x"><video src="sea.mp4" poster="sea.png"></video></main>
<a href="keepers.html">Keepers</a><img src="https://example.org/x.png"><img src="gone.png"><link rel="canonical" href="keepers.html">`,
        'keepers.html': '<p>None.',
        'css/base.css': '@import "type.css"; p { background: url(../sea.png), url(#here) }',
        'css/type.css': '@font-face { font-family: Lamp; src: url(lamp.woff2), url(lamp.ttf) }',
        'turn.js': '',
      },
      'lamp.ico',
      'sea.png',
      'gull.png',
      'a b.png',
      'a2.png',
      'sea.mp4',
      'css/lamp.woff2',
      'css/lamp.ttf',
    ),
  ).toEqual({
    'index.html': [
      'index.html',
      'lamp.ico',
      'turn.js',
      'gull.png',
      'a b.png',
      'sea.mp4',
      'sea.png',
      'css/base.css',
      'css/type.css',
      'css/lamp.woff2',
    ],
    'keepers.html': ['keepers.html'],
  })
})

test('pages below a folder, and those with a base, name files from there; sheets from where they stand', async () => {
  const found = await named(
    {
      'docs/a.html': '<base href="/"><img src="sea.png"><link rel=stylesheet href="css/x.css">',
      'docs/b.html': '<img src="sea.png"><img src="../sea.png">',
      'css/x.css': 'p { background: url(sea.png) }',
    },
    'sea.png',
    'css/sea.png',
  )
  expect(found).toEqual({
    'docs/a.html': ['docs/a.html', 'sea.png', 'css/x.css', 'css/sea.png'],
    'docs/b.html': ['docs/b.html', 'sea.png'],
  })
})

test('what is not wanted any more is given up', async () => {
  const pages = Array.from({ length: 3000 }, (_, i) => ({
    key: i + 1,
    path: `${i}.html`,
    bytes: new TextEncoder().encode('<p>'.repeat(40)),
  }))
  const project = new Project(pages)
  expect(
    await filesNamedBy(
      project,
      () => true,
      async () => false,
    ),
  ).toBeNull()
})

test.each([
  ['a/B.PNG', 'picture'],
  ['x.svg', 'picture'],
  ['lamp.woff2', 'face'],
  ['main.tsx', 'script'],
  ['x.mp4', 'sound or film'],
  ['index.html', 'page'],
  ['base.scss', 'style sheet'],
  ['LICENSE', 'other'],
])('%s is a %s', (path, kind) => expect(fileKind(path)).toBe(kind))
