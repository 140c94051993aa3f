import { describe, expect, test } from 'vitest'
import { Sheet, specificityOf } from '../css'
import { LayerOrder, NO_EFFECT_CODES, whyNoEffect, type EffectFacts } from '.'

describe('specificity', () => {
  test.each<[string, [number, number, number]]>([
    ['*', [0, 0, 0]],
    ['li', [0, 0, 1]],
    ['ul li', [0, 0, 2]],
    ['ul ol + li', [0, 0, 3]],
    ['h1 + *[rel=up]', [0, 1, 1]],
    ['li.red.level', [0, 2, 1]],
    ['#x34y', [1, 0, 0]],
    ['#s12:not(foo)', [1, 0, 1]],
    [':is(em, #foo)', [1, 0, 0]],
    ['.qux:where(em, #foo#bar#baz)', [0, 1, 0]],
    [':nth-child(even, li)', [0, 1, 0]],
    [':nth-child(2n of .a, #b)', [1, 1, 0]],
    ['a::before', [0, 0, 2]],
    ['a:before', [0, 0, 2]],
    [':has(> img.a)', [0, 1, 1]],
    ['a:hover', [0, 1, 1]],
  ])('%s', (selector, expected) => expect(specificityOf(selector)).toEqual(expected))
})

test('layers follow their first mention, inner before outer, unlayered last', () => {
  const sheet = new Sheet('@layer b, a;\n@layer a { .x{} @layer c { .y{} } }\n@layer b { .z{} }\n.w{}')
  const order = new LayerOrder([{ sheet }])
  const at = (name: string) =>
    order.orderOf(
      [...sheet.rules()].find((s) => s.rule.kind === 'style' && s.statement.text.slice(s.rule.prelude.from, s.rule.prelude.to) === name)!
        .rule,
    )
  expect(['.z', '.y', '.x', '.w'].map(at)).toEqual(['.z', '.y', '.x', '.w'].map(at).sort((a, b) => a - b))
  expect(new Set(['.z', '.y', '.x', '.w'].map(at)).size).toBe(4)
})

describe('why a value has no effect', () => {
  const facts = (computed: Record<string, string>, more: Partial<EffectFacts> = {}): EffectFacts => ({
    tag: 'div',
    isSvg: false,
    computed: { display: 'block', position: 'static', ...computed },
    parent: { display: 'block' },
    value: '1px',
    ...more,
  })
  test.each<[string, EffectFacts, string | null]>([
    ['gap', facts({}), 'gap-without-container'],
    ['gap', facts({ display: 'flex' }), null],
    ['gap', facts({ 'column-count': '2' }), null],
    ['width', facts({ display: 'inline' }), 'size-on-inline'],
    ['width', facts({ display: 'inline' }, { tag: 'img' }), null],
    ['margin-top', facts({ display: 'inline' }), 'vertical-margin-on-inline'],
    ['margin-left', facts({ display: 'inline' }), null],
    ['z-index', facts({}), 'z-index-static'],
    ['z-index', facts({}, { parent: { display: 'grid' } }), null],
    ['top', facts({}), 'offset-static'],
    ['top', facts({ position: 'absolute' }), null],
    ['float', facts({}, { parent: { display: 'flex' } }), 'float-on-item'],
    ['vertical-align', facts({}), 'vertical-align-on-block'],
    ['vertical-align', facts({ display: 'inline-block' }), null],
    ['flex-grow', facts({}), 'flex-item-outside-flex'],
    ['grid-column', facts({}, { parent: { display: 'flex' } }), 'grid-item-outside-grid'],
    ['text-overflow', facts({ 'overflow-x': 'visible' }), 'ellipsis-needs-overflow'],
    ['text-overflow', facts({ 'overflow-x': 'hidden', 'white-space': 'normal' }), 'ellipsis-needs-one-line'],
    ['color', facts({ display: 'inline' }, { tag: 'img' }), 'color-on-image'],
    ['fill', facts({}), 'svg-paint-on-html'],
    ['fill', facts({}, { isSvg: true }), null],
    ['fill', facts({}, { tag: 'svg' }), null],
    ['margin-left', facts({ display: 'table-cell' }, { tag: 'td' }), 'margin-on-table-part'],
    ['padding-left', facts({ display: 'table-cell' }, { tag: 'td' }), null],
    ['padding-left', facts({ display: 'none' }), 'not-rendered'],
    ['border-spacing', facts({ display: 'table', 'border-collapse': 'collapse' }), 'spacing-collapsed'],
  ])('%s %#', (property, given, code) => expect(whyNoEffect(property, given)?.code ?? null).toBe(code))

  test('each reason names its specification', () => {
    expect(new Set(NO_EFFECT_CODES).size).toBe(NO_EFFECT_CODES.length)
    expect(NO_EFFECT_CODES.length).toBeGreaterThanOrEqual(30)
  })
})
