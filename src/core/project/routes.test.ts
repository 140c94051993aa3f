import { expect, test } from 'vitest'
import { routesOf } from './routes'

test('files of routes give the addresses that their framework makes, and no others', () => {
  const files = {
    'app/page.tsx': '/',
    'app/fares/page.jsx': '/fares',
    'src/app/(desk)/berths/page.tsx': '/berths',
    'app/@aside/boats/page.tsx': '/boats',
    'app/boats/[name]/page.tsx': null,
    'app/_drafts/page.tsx': null,
    'app/fares/layout.tsx': null,
    'lib/app/page.tsx': null,
    'pages/index.tsx': '/',
    'pages/notes/index.mdx': '/notes',
    'src/pages/tides.astro': '/tides',
    'pages/_app.tsx': null,
    'pages/api/fares.ts': null,
  }
  for (const [path, route] of Object.entries(files)) expect([path, routesOf([path])]).toEqual([path, route === null ? [] : [route]])
  expect(routesOf(Object.keys(files))).toEqual(['/', '/berths', '/boats', '/fares', '/notes', '/tides'])
})
