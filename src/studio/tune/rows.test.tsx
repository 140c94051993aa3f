// @vitest-environment jsdom
import { act } from 'react'
import { createRoot, type Root } from 'react-dom/client'
import { afterEach, beforeAll, describe, expect, test, vi } from 'vitest'
import type { PropertyAim } from '../../core/aim'
import { INITIAL, setStudio, type Picked } from '../store'
import { SessionContext, type SessionValue } from '../ui/SessionContext'
import { moreOf, SECTIONS, type Row } from './properties'
import { TunePanel } from './TunePanel'

/** What the controls asked for, in order. */
let asked: unknown[][] = []

/** A session that notes what is asked of its edits, and says that it is done. */
const session = {
  edits: new Proxy(
    {},
    {
      get:
        (_, name: string) =>
        (...args: unknown[]) => {
          asked.push([name, ...args])
          return Promise.resolve(true)
        },
    },
  ),
  selection: new Proxy(
    {},
    {
      get: (_, name: string) => {
        if (name === 'currentAim')
          return () => ({ ref: { kind: 'rule', sheet: 'a.css', rule: 1 }, label: '.a', current: null, conditions: [] })
        if (name === 'landings') return () => []
        return () => Promise.resolve(null)
      },
    },
  ),
  layout: {},
} as unknown as SessionValue['session']

const aimOf = (property: string, computed: string, written: string | null): PropertyAim =>
  ({
    property,
    computed,
    written,
    writtenWhole: written,
    origin: { kind: written === null ? 'initial' : 'rule', label: '.a', path: 'a.css', line: 1, text: written },
    important: false,
    candidates: [{ ref: { kind: 'rule', sheet: 'a.css', rule: 1 }, label: '.a', wins: true, conditions: [], overridden: [] }],
    chosen: -1,
    because: '',
    without: [],
    noEffect: null,
    besides: [],
  }) as unknown as PropertyAim

/** The value that was asked for last. */
const valueAsked = (): unknown => {
  const [method, first, second] = asked.at(-1) ?? []
  return method === 'commitAll' ? (first as [string, string][])[0][1] : second
}

/** A page's word for an element with these values; all other rows have their initial ones. */
function pickedWith(values: Readonly<Record<string, string>>): Picked {
  const computed: Record<string, string> = { display: 'block', position: 'static', 'font-size': '16px', ...values }
  const aims = new Map<string, PropertyAim>()
  const rows = SECTIONS.flatMap((s) => s.rows)
  for (const property of new Set(rows.flatMap((r) => [r.property, r.with ?? r.property])))
    aims.set(
      property,
      aimOf(
        property,
        computed[property] ?? (rows.find((r) => r.property === property)?.kind === 'length' ? '0px' : 'normal'),
        values[property] ?? null,
      ),
    )
  const report = {
    info: { node: 1, source: '1.2', tag: 'div', id: '', classes: ['a'] },
    computed,
    parent: { display: computed['--parent'] ?? 'block' },
    isSvg: false,
    parentFontSize: 16,
    rootFontSize: 16,
    matched: [[]],
    parts: [],
    ancestors: [],
    geometry: { boxes: [], rects: [] },
    children: [],
    facts: {
      viewport: { width: 1000, height: 800 },
      around: { width: 500, height: 300 },
      ch: 8,
      lineHeight: 20,
      rootLineHeight: 20,
      container: null,
      weights: ['400', '700'],
      renderedFamily: 'Quay',
      children: [],
      backdrop: null,
      states: [],
      partsPossible: [],
      textLines: 1,
      naturalWidth: 80,
      stickyHindered: null,
    },
  }
  return { report, aims, place: null } as unknown as Picked
}

let root: Root | null = null
let host: HTMLElement

async function show(values: Readonly<Record<string, string>>): Promise<void> {
  asked = []
  setStudio({ ...INITIAL, picked: pickedWith(values), open: new Set(SECTIONS.flatMap((s) => [s.title, moreOf(s.title)])), connected: true })
  host = document.body.appendChild(document.createElement('div'))
  root = createRoot(host)
  await act(async () =>
    root!.render(
      <SessionContext value={{ session, openProject: () => {} }}>
        <TunePanel />
      </SessionContext>,
    ),
  )
}

const row = (property: string): HTMLElement => {
  const found = host.querySelector<HTMLElement>(`[data-testid="row-${property}"]`)
  if (!found)
    throw new Error(
      `no row ${property}: ${[...host.querySelectorAll('[data-testid^=row-]')].map((e) => e.getAttribute('data-testid')).join(' ')}`,
    )
  return found
}
const within = <T extends Element>(property: string, selector: string): T => {
  const found = row(property).querySelector<T>(selector)
  if (!found) throw new Error(`${property} has no ${selector}: ${row(property).innerHTML.slice(0, 600)}`)
  return found
}

/** Types into a field as a person does, and presses a key. */
async function type(field: HTMLInputElement, text: string, key = 'Enter'): Promise<void> {
  await act(async () => {
    field.focus()
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!.call(field, text)
    field.dispatchEvent(new Event('input', { bubbles: true }))
  })
  await act(async () => void field.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true })))
}

async function choose(list: HTMLSelectElement, value: string): Promise<void> {
  await act(async () => {
    list.value = value
    list.dispatchEvent(new Event('change', { bubbles: true }))
  })
}

const press = (button: HTMLElement) => act(async () => button.click())
async function key(e: HTMLElement, name: string, more: KeyboardEventInit = {}): Promise<void> {
  for (const event of ['keydown', 'keyup'])
    await act(async () => void e.dispatchEvent(new KeyboardEvent(event, { key: name, bubbles: true, ...more })))
}

beforeAll(() => {
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true })
  vi.stubGlobal('CSS', {
    supports: (_: string, value?: string) => value === undefined || !/nonsense|^$/.test(value),
    escape: (s: string) => s,
  })
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      disconnect() {}
    },
  )
  vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: () => {}, removeEventListener: () => {} }))
})

afterEach(async () => {
  await act(async () => root?.unmount())
  root = null
  document.body.replaceChildren()
  vi.useRealTimers()
})

describe('each kind of row asks for just the value that was meant', () => {
  test('length: typed, with arithmetic; what is no value is told and not asked for', async () => {
    await show({ width: '40px' })
    const field = within<HTMLInputElement>('width', 'input[aria-label="width value"]')
    await type(field, '20px + 4')
    expect(asked).toEqual([['commit', 'width', '24px']])
    await type(field, 'nonsense')
    expect(asked).toHaveLength(1)
    expect(within('width', '[role=alert]').textContent).toMatch(/not a value of width/)
    await type(field, '9px', 'Escape')
    expect(asked).toHaveLength(1)
  })

  test('length: the tape goes by keys, shows each step and writes them as one', async () => {
    vi.useFakeTimers()
    await show({ width: '40px' })
    const tape = within<HTMLElement>('width', '[role=slider]')
    await key(tape, 'ArrowRight')
    await key(tape, 'ArrowRight')
    await key(tape, 'ArrowRight', { shiftKey: true })
    expect(asked.map(([method]) => method)).not.toContain('commit')
    await act(async () => void vi.advanceTimersByTime(1000))
    const commits = asked.filter(([method]) => method === 'commit')
    expect(commits).toHaveLength(1)
    expect(parseFloat(String(commits[0][2]))).toBeGreaterThan(42)
  })

  test('pair: both sides at once, and told apart where they differ', async () => {
    await show({ 'padding-top': '4px', 'padding-bottom': '4px' })
    const field = within<HTMLInputElement>('padding-top', 'input')
    const pair =
      [...host.querySelectorAll<HTMLInputElement>('input')].find((i) =>
        /padding-top and padding-bottom/.test(i.getAttribute('aria-label') ?? ''),
      ) ?? field
    await type(pair, '6px')
    expect(asked.at(-1)).toEqual([
      'commitAll',
      [
        ['padding-top', '6px'],
        ['padding-bottom', '6px'],
      ],
    ])
  })

  test('number: typed', async () => {
    await show({ opacity: '1' })
    await type(within('opacity', 'input[aria-label="opacity value"]'), '0.5')
    expect(asked).toEqual([['commit', 'opacity', '0.5']])
  })

  test('choice: pressed; by arrow keys it is shown first', async () => {
    await show({ display: 'block' })
    await press(within('display', '[role=radio][data-value=grid]'))
    expect(asked).toEqual([['commit', 'display', 'grid']])
    const now = within<HTMLElement>('display', '[role=radio][data-value=block]')
    now.focus()
    await key(now, 'ArrowRight')
    expect(asked[1]).toEqual(['preview', 'display', 'flex'])
  })

  test('list and weight: chosen; the weights that the face has come first', async () => {
    await show({ cursor: 'auto', 'font-weight': '400' })
    await choose(within('cursor', 'select'), 'pointer')
    await choose(within('font-weight', 'select'), '700')
    expect(asked).toEqual([
      ['commit', 'cursor', 'pointer'],
      ['commit', 'font-weight', '700'],
    ])
    expect(within('font-weight', 'optgroup').getAttribute('label')).toBe('Weights of Quay')
  })

  test('text: typed as it is', async () => {
    await show({ display: 'grid' })
    await type(within('grid-auto-columns', 'input'), 'minmax(0, 1fr)')
    expect(asked).toEqual([['commit', 'grid-auto-columns', 'minmax(0, 1fr)']])
  })

  test('color: says what is written, and opens its chooser', async () => {
    await show({ color: 'rgb(1, 2, 3)' })
    const button = within<HTMLElement>('color', 'button[aria-haspopup=dialog][class*=color]')
    expect(button.getAttribute('aria-label')).toBe('color: rgb(1, 2, 3)')
  })

  test('corner: one radius, or one across and one down', async () => {
    await show({ 'border-top-left-radius': '4px' })
    await type(within('border-top-left-radius', 'input[aria-label$=" down"]'), '8px')
    expect(asked.at(-1)).toEqual(['commit', 'border-top-left-radius', '4px 8px'])
  })

  test('shadow: parts of one, the others as they were; one more and one fewer', async () => {
    await show({ 'box-shadow': '0 1px 2px red, 0 4px 8px blue' })
    const blur = [...row('box-shadow').querySelectorAll<HTMLInputElement>('input[aria-label=Blur]')]
    await type(blur[1], '10px')
    expect(valueAsked()).toBe('0 1px 2px red, 0 4px 10px blue')
    await press(within('box-shadow', 'button[aria-label="Remove shadow 1"]'))
    expect(valueAsked()).toBe('0 4px 8px blue')
  })

  test('tracks: one of them; names of lines stay', async () => {
    await show({ display: 'grid', 'grid-template-columns': '[first] 1fr [mid] 200px' })
    await type(
      within('grid-template-columns', 'input[aria-label="Track 3"], input[aria-label="Track 2"], input[aria-label="Track 4"]'),
      '2fr',
    )
    expect(valueAsked()).toMatch(/^\[first\] (2fr \[mid\] 200px|1fr \[mid\] 2fr)$/)
  })

  test('areas: a cell, and a row more', async () => {
    await show({ display: 'grid', 'grid-template-areas': '"head head" "side main"' })
    await type(within('grid-template-areas', 'input[aria-label="Area in row 2, column 1"]'), 'main')
    expect(asked.at(-1)).toEqual(['commit', 'grid-template-areas', '"head head" "main main"'])
  })

  test('functions: arguments of one, and one taken out', async () => {
    await show({ filter: 'blur(2px) contrast(2)' })
    await type(within('filter', 'input[aria-label="Arguments of blur"]'), '3px')
    expect(valueAsked()).toBe('blur(3px) contrast(2)')
    await press(within('filter', 'button[aria-label="Remove blur"]'))
    expect(valueAsked()).toBe('contrast(2)')
  })

  test('transition: its time, with the rest of it', async () => {
    await show({ transition: 'color 200ms ease-in' })
    const time = [...row('transition').querySelectorAll<HTMLInputElement>('input')].find((i) => i.value === '200ms')!
    await type(time, '300ms')
    expect(valueAsked()).toBe('color 300ms ease-in')
  })

  test('gradient: a layer is taken out, the others stay', async () => {
    await show({ 'background-image': 'linear-gradient(red, blue), url("a.png")' })
    const remove = [...row('background-image').querySelectorAll('button')].find((b) =>
      /Remove|without|Take/i.test(b.getAttribute('aria-label') ?? b.textContent ?? ''),
    )!
    await press(remove)
    expect(asked.at(-1)?.[2]).toBe('url("a.png")')
  })

  test('family: typed', async () => {
    await show({ 'font-family': 'Quay, serif' })
    await type(within('font-family', 'input[aria-label="font-family value"]'), 'Pier, serif')
    expect(asked.at(-1)).toEqual(['commit', 'font-family', 'Pier, serif'])
  })
})

test('every row of Tune can be drawn for an element of each kind of layout, and has a name', async () => {
  const drawn = new Set<string>()
  for (const [display, parent] of [
    ['block', 'block'],
    ['flex', 'grid'],
    ['grid', 'flex'],
    ['inline', 'block'],
  ]) {
    await show({ display, '--parent': parent, position: 'absolute' })
    for (const e of host.querySelectorAll('[data-testid^=row-]')) drawn.add(e.getAttribute('data-testid')!.slice(4))
    for (const control of host.querySelectorAll('input, select, [role=slider], [role=radiogroup]'))
      expect([
        control.outerHTML.slice(0, 80),
        Boolean(control.getAttribute('aria-label') ?? control.getAttribute('aria-labelledby') ?? control.closest('label')),
      ]).toEqual([control.outerHTML.slice(0, 80), true])
    await act(async () => root?.unmount())
    host.remove()
  }
  const always = (r: Row) => r.when === undefined
  expect(SECTIONS.flatMap((s) => s.rows).filter((r) => always(r) && !drawn.has(r.property))).toEqual([])
})
