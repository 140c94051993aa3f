import { expect, test } from 'vitest'
import { Project } from '../project'
import { placeText } from '../text'
import { isPreprocessed, preprocessedLine, withSourceNames } from './preprocessed'

const SCSS = `// The desk's cards; don't round them
@use 'tokens' as *;
$edge: 1px solid var(--line);

.card {
  border: $edge;
  background: url(//ships.example/a.png);

  &-note,
  &__text { color: red; }
  .dark & { color: white; }
  @media (min-width: 40em) {
    > h2 { margin: 0; }
  }
  &:hover { .card-icon { opacity: 1; } }
}
/* .gone { } */
@mixin wide($n) { width: $n; }
$gap: 4px;
.tide, .fare .tide { gap: $gap; }
@each $n in a, b { .kind-#{$n} { top: 0; } }
`

test('a rule that was compiled is led to the line that it is written on, by its nesting', () => {
  const lineOf = (...selectors: string[]) => preprocessedLine(SCSS, selectors)
  expect([
    lineOf('.card'),
    lineOf('.card-note', '.card__text'),
    lineOf('.card__text'),
    lineOf('.dark .card'),
    lineOf('.card > h2'),
    lineOf('.card>h2'),
    lineOf('.card:hover .card-icon'),
    lineOf('.tide', '.fare .tide'),
  ]).toEqual([5, 9, 9, 11, 13, 13, 15, 20])
  // A loop makes it, or nothing does.
  expect([
    lineOf('.kind-a'),
    lineOf('.gone'),
    lineOf('.card-icon'),
    preprocessedLine('.a {', ['.b']),
    preprocessedLine('', ['.b']),
  ]).toEqual(Array(5).fill(null))
  expect(['a.scss', 'a.SASS', 'a.less', 'a.styl', 'a.stylus', 'a.css', 'a.scss.css', 'scss'].map(isPreprocessed)).toEqual([
    true,
    true,
    true,
    true,
    true,
    false,
    false,
    false,
  ])
})

test('classes of a compiled module have the names of its source again, and no other', () => {
  const source = '.card {\n  &-note { color: red; }\n  .is-on & { top: 0; }\n}\n.a { }\n'
  expect(
    withSourceNames(
      '._card_x1_1 {}\n._card-note_x1_4:hover, .plain[title="._card_x1_1"] {}\n._is-on_x1_9 ._card_x1_1 { content: "._card_x1_1" }\n',
      source,
    ),
  ).toBe('.card {}\n.card-note:hover, .plain[title="._card_x1_1"] {}\n.is-on .card { content: "._card_x1_1" }\n')
  expect(withSourceNames('.Card_card-note__a1B2c > .Card_a__x {}', source)).toBe('.card-note > .a {}')
  expect(withSourceNames('.other {}', source)).toBe('.other {}')
})

test('a rule that no line of the source says is led to the file alone', () => {
  const text = '@each $n in 1, 2 {\n  .m-#{$n} { margin: 0 }\n}\n.a {\n  color: red;\n}\n'
  const project = new Project([{ key: 1, path: 'a.scss', bytes: new TextEncoder().encode(text) }])
  project.setGenerated('a.scss', '.m-1 { margin: 0 }\n.a { color: red }\n', 'a.scss', ['a.scss'])
  const made = project.sheet('a.scss')!
  const places = [...made.sheet.rules()].map(({ statement, rule }) =>
    placeText({ path: made.path, line: project.lineIn(made, statement.start + rule.span.from) }),
  )
  expect(places).toEqual(['a.scss', 'a.scss:4'])
})
