// @vitest-environment jsdom
import { beforeAll, expect, test, vi } from 'vitest'
import { outlineSheet, Sheet } from '../core/css'

// The engine's own writing of a selector is not asked for here.
beforeAll(() => {
  vi.stubGlobal(
    'CSSStyleSheet',
    class {
      cssRules: CSSRule[] = []
      replaceSync(text: string) {
        this.cssRules = rulesOf(text)
      }
    },
  )
})

function rulesOf(text: string): CSSRule[] {
  const style = document.createElement('style')
  style.textContent = text
  document.head.append(style)
  const rules = [...style.sheet!.cssRules]
  style.remove()
  return rules
}

const read = async (live: string, source: string) => {
  const { ScopedNames } = await import('./scoped-names')
  return ScopedNames.read(rulesOf(live), outlineSheet(new Sheet(source)))
}

test('selectors are those of the page, and new ones get what the compiler would add', async () => {
  const vue = (await read(
    '.page .at[data-v-7a]:hover, .lead > b[data-v-7a] {} .card[data-v-7a] time {} @media (width > 9px) { .lead[data-v-7a] {} }',
    '.page .at:hover,\n.lead > b {} .card :deep(time) {} @media (width > 9px) { .lead {} }',
  ))!
  expect(vue.selector('.lead > b')).toBe('.lead > b[data-v-7a]')
  expect(vue.selector('.card :deep(time)')).toBe('.card[data-v-7a] time')
  expect(vue.selector('.lead')).toBe('.lead[data-v-7a]')
  expect(vue.selector('.new .one:focus::before')).toBe('.new .one[data-v-7a]:focus::before')
  const svelte = (await read(
    '.page.s-XsEmFtvddWTw {} .page.s-XsEmFtvddWTw .at:where(.s-XsEmFtvddWTw) {} body {}',
    '.page {} .gone .at {} .page .at {} :global(body) {}',
  ))!
  expect(svelte.selector('.page .at')).toBe('.page.s-XsEmFtvddWTw .at:where(.s-XsEmFtvddWTw)')
  expect(svelte.selector(':global(body)')).toBe('body')
  expect(svelte.selector('.a > .b')).toBe('.a.s-XsEmFtvddWTw > .b:where(.s-XsEmFtvddWTw)')
  // A style block that is of the whole page has its own.
  expect((await read('body {}', 'body {}'))!.selector('.a .b')).toBe('.a .b')
  const moving = (await read(
    '.a[data-v-7a] { animation: x-7a 1s } @keyframes x-7a { from { top: 0 } }',
    '.a { animation: x 1s } @keyframes x { from { top: 0 } }',
  ))!
  expect(moving.rules('.b { animation-name: x; content: "x" } @keyframes x { to { left: 0 } }')).toBe(
    '.b[data-v-7a] { animation-name: x-7a; content: "x" } @keyframes x-7a { to { left: 0 } }',
  )
})

test('rules are put on the page by their selectors alone: what stands in strings, brackets and comments is passed over', async () => {
  const names = (await read('.a[data-v-1] {}', '.a {}'))!
  expect(names.rules('/* .b { */ .a { content: "{ .c }"; background: url(x{y) }\n@media (min-width: 1px) {\n  .d, .a { top: 0 }\n}')).toBe(
    '/* .b { */ .a[data-v-1] { content: "{ .c }"; background: url(x{y) }\n@media (min-width: 1px) {\n  .d[data-v-1], .a[data-v-1] { top: 0 }\n}',
  )
})
