import { expect, test } from 'vitest'
import { colorPlaces, recolorable, recolored } from './color-places'
import { Project } from './project'

const TEAL = '#0f5b66'

test.each([
  ['#0f5b66', 'red'],
  ['#0F5B66', 'red'],
  ['rgb(15 91 102)', 'red'],
  ['rgba(15, 91, 102, 1)', 'red'],
  ['1px solid #0f5b66', '1px solid red'],
  ['linear-gradient(#0f5b66, #fff 20%, rgb(15, 91, 102))', 'linear-gradient(red, #fff 20%, red)'],
  ['0 1px #0f5b66, inset 0 0 #000', '0 1px red, inset 0 0 #000'],
  // Others, and what is no colour, stay as they are.
  ['#0f5b6680', '#0f5b6680'],
  ['#0f5b67', '#0f5b67'],
  ['url("#0f5b66")', 'url("#0f5b66")'],
  ['"#0f5b66" attr(x)', '"#0f5b66" attr(x)'],
  ['var(--0f5b66)', 'var(--0f5b66)'],
  ['', ''],
])('%s with red for teal is %s', (value, after) => expect(recolored('background', value, TEAL, 'red')).toBe(after))

test.each([
  ['red', '#f00', 'teal', 'teal'],
  ['darkred reddish -red red-x .red', 'red', 'teal', 'darkred reddish -red red-x .red'],
  ['1px solid RED', 'rgb(255, 0, 0)', 'teal', '1px solid teal'],
  ['transparent', 'rgba(0, 0, 0, 0)', 'white', 'white'],
])('%s with another for %s is %s', (value, from, to, after) => expect(recolored('border', value, from, to)).toBe(after))

test('a word that is a name of the author’s is no colour', () => {
  for (const [name, value] of [
    ['font-family', 'Gold, serif'],
    ['animation', 'gold 1s'],
    ['grid-area', 'gold'],
    ['container-name', 'gold'],
  ])
    expect(recolored(name, value, 'gold', 'red')).toBe(value)
  expect(recolored('--accent', 'gold', '#ffd700', 'red')).toBe('red')
})

test('every declaration of the project’s own that says a colour is found with its line, and none of a library', () => {
  const project = new Project(
    Object.entries({
      'index.html': '<style>\n.a { fill: #0F5B66 }\n</style><p style="color: #0f5b66">',
      'quay.css':
        ':root {\n  --deep: #0f5b66;\n}\n@media (width > 9em) {\n  .b, .c { border: 1px solid rgb(15 91 102); color: var(--deep) }\n}\n',
      'vendor/lib.css': '.d { color: #0f5b66 }',
      'lib.min.css': '.d{color:#0f5b66}',
    }).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })),
  )
  expect(
    colorPlaces(project, 'rgb(15, 91, 102)').map(({ path, line, selector, name, value }) => [path, line, selector, name, value]),
  ).toEqual([
    ['quay.css', 2, ':root', '--deep', '#0f5b66'],
    ['quay.css', 5, '.b, .c', 'border', '1px solid rgb(15 91 102)'],
    ['index.html', 2, '.a', 'fill', '#0F5B66'],
  ])
  // The token that is to say it everywhere keeps its value.
  expect(recolorable(colorPlaces(project, TEAL), ' var( --deep )').map(({ name }) => name)).toEqual(['border', 'fill'])
})
