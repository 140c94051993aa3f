import { expect, test } from 'vitest'
import { deadLinks } from './dead-links'
import { Project } from './project'

/** What leads nowhere in a project of these texts and further files. */
async function dead(files: Readonly<Record<string, string>>, ...others: string[]): Promise<string[]> {
  const project = new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))
  const found = await deadLinks(
    project,
    (path) => project.has(path) || others.includes(path),
    async () => true,
  )
  return found!.map(({ path, line, url, of }) => `${path}:${line} ${url} ${of}`)
}

const page = (body: string) => `<!doctype html>\n<title>Quay</title>\n${body}`

test.each([
  ['what is there', '<a href="tides.html">a</a> <img src="/img/a b.png"> <img src="img/a%20b.png?v=2#x">'],
  [
    'folders, and pages without their extension',
    '<a href="./">a</a> <a href="harbour/">b</a> <a href="/harbour">c</a> <a href="tides">d</a>',
  ],
  ['what is elsewhere', '<a href="https://example.org/x">a</a> <a href="mailto:a@b">b</a> <img src="data:,x"> <a href="//cdn/x.js">c</a>'],
  ['what is filled in later', '<a href="{{ url }}">a</a> <a href="${x}">b</a> <a href="">c</a> <a href="#">d</a> <a href="#top">e</a>'],
  ['places of the page', '<a href="#fares">a</a> <a href="#old">b</a> <h2 id="fares"></h2><a name="old"></a>'],
  [
    'what names no file',
    '<link rel="canonical" href="/x"><link rel="preconnect" href="/y"><svg><use href="#boat"/></svg><map><p href="#x">',
  ],
  ['each of a set of images', '<img srcset="/img/a%20b.png 1x, /img/a%20b.png 2x">'],
])('%s is not listed', async (_, body) =>
  expect(await dead({ 'index.html': page(body), 'tides.html': '', 'harbour/index.html': '' }, 'img/a b.png')).toEqual([]),
)

test('what leads nowhere is listed with its line, in pages, in sets of images and in sheets', async () => {
  expect(
    await dead(
      {
        'index.html': page(
          '<a href="gone.html">a</a>\n<img src="img/a.png" srcset="img/a.png 1x, img/b.png 2x">\n<a href="#gone">b</a>\n<style>\n.a { background: url(x.png) }\n</style>',
        ),
        'css/quay.css': '.a {\n  background: url("../img/a.png"), url(c.png);\n}\n.b { clip-path: url(#cut) }\n',
        'vendor/lib.css': '.a { background: url(gone.png) }',
      },
      'img/a.png',
    ),
  ).toEqual([
    'index.html:3 gone.html file',
    'index.html:4 img/b.png file',
    'index.html:5 #gone id',
    'css/quay.css:2 c.png file',
    'index.html:7 x.png file',
  ])
})

test('a base leads addresses elsewhere', async () => {
  expect(
    await dead({
      'deep/index.html': '<!doctype html><base href="/"><a href="tides.html">a</a><a href="gone.html">b</a>',
      'tides.html': '',
    }),
  ).toEqual(['deep/index.html:1 gone.html file'])
})
