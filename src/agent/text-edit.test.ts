// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { ID_ATTRIBUTE } from '../core/html'
import { TextEdit } from './text-edit'

// What jsdom does not have of editing.
Object.defineProperty(HTMLElement.prototype, 'contentEditable', {
  get() {
    return this.getAttribute('contenteditable') ?? 'inherit'
  },
  configurable: true,
})
class RangeOfTexts {
  startContainer!: Node
  startOffset!: number
  endContainer!: Node
  endOffset!: number

  constructor(of: StaticRangeInit) {
    Object.assign(this, of)
  }
}
Object.assign(globalThis, { StaticRange: RangeOfTexts })

let told: boolean[]
let edit: TextEdit

beforeEach(() => {
  told = []
  edit = new TextEdit((keep) => told.push(keep))
})

afterEach(() => {
  edit.end()
  document.body.replaceChildren()
})

/** Puts markup on the page; `~` stands for an id of the source, one after the other. */
function page(html: string): HTMLElement {
  let n = 0
  document.body.innerHTML = html.replaceAll('~', () => `${ID_ATTRIBUTE}="1.${++n}"`)
  return document.body.firstElementChild as HTMLElement
}

/** A caret, or a range, in a text of the page. */
function select(node: Node, from: number, to = from): void {
  document.getSelection()!.setBaseAndExtent(node, from, node, to)
}

/** Types as an engine says it: what it would put where the selection is. */
function input(element: Element, inputType: string, data: string | null = null): boolean {
  const e = new Event('beforeinput', { bubbles: true, cancelable: true })
  const selection = document.getSelection()!
  const range = selection.rangeCount ? selection.getRangeAt(0) : null
  Object.assign(e, { inputType, data, dataTransfer: null, getTargetRanges: () => (range ? [range] : []) })
  element.dispatchEvent(e)
  return e.defaultPrevented
}

const key = (element: Element, name: string, isComposing = false) => {
  const e = new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, isComposing })
  element.dispatchEvent(e)
  return e.defaultPrevented
}

describe('text typed where it stands', () => {
  test('changes characters of one text; what is told is which of the texts of which element, and the page has it as before', () => {
    const p = page('<p ~>Boats leave <b ~>daily</b> at nine</p>')
    const html = p.outerHTML
    expect(edit.begin(p)).toBeNull()
    expect(p.getAttribute('contenteditable')).toBe('true')
    select(p.lastChild!, 4, 8)
    expect(input(p, 'insertText', 'ten')).toBe(true)
    expect(p.textContent).toBe('Boats leave daily at ten')
    select(p.querySelector('b')!.firstChild!, 0, 5)
    input(p, 'insertText', 'hourly')
    // In the order of the page.
    expect(edit.end()).toEqual([
      { source: '1.2', index: 0, was: 'daily', text: 'hourly' },
      { source: '1.1', index: 1, was: ' at nine', text: ' at ten' },
    ])
    expect(p.outerHTML).toBe(html)
  })

  test('what would take a tag out is not done', () => {
    const p = page('<p ~>one <b ~>two</b> three</p>')
    edit.begin(p)
    document.getSelection()!.setBaseAndExtent(p.firstChild!, 1, p.lastChild!, 2)
    expect(input(p, 'deleteContentBackward')).toBe(true)
    expect(p.innerHTML).toContain('two</b>')
    expect(edit.end()).toEqual([])
  })

  test.each(['formatBold', 'insertParagraph', 'insertLineBreak', 'historyUndo', 'insertHorizontalRule'])(
    '%s is kept from the page',
    (type) => {
      const p = page('<p ~>one</p>')
      edit.begin(p)
      select(p.firstChild!, 1)
      expect(input(p, type)).toBe(true)
      expect(p.innerHTML).toBe('one')
    },
  )

  test('a letter is what a person takes for one: a flag or an accent goes whole', () => {
    const p = page('<p ~>a👩‍🚀é</p>')
    edit.begin(p)
    const text = p.firstChild as Text
    select(text, text.length)
    input(p, 'deleteContentBackward')
    select(text, text.length)
    input(p, 'deleteContentBackward')
    expect(text.data).toBe('a')
    select(text, 0)
    input(p, 'deleteContentForward')
    expect(text.data).toBe('')
  })

  test('lines that are pasted become one', () => {
    const p = page('<p ~>ab</p>')
    edit.begin(p)
    select(p.firstChild!, 1)
    const e = new Event('paste', { bubbles: true, cancelable: true })
    Object.assign(e, { clipboardData: { getData: () => 'one\n  two\r\nthree' } })
    p.dispatchEvent(e)
    expect(p.textContent).toBe('aone two threeb')
  })

  test('Enter keeps it, Escape does not, leaving it keeps it; within an input method both are its own', () => {
    const p = page('<p ~>ab</p>')
    edit.begin(p)
    expect(key(p, 'Enter', true)).toBe(false)
    expect(told).toEqual([])
    expect([key(p, 'Enter'), key(p, 'Escape'), key(p, 'a')]).toEqual([true, true, false])
    p.dispatchEvent(new Event('blur'))
    expect(told).toEqual([true, false, true])
  })

  test('texts that the source does not have are not typed in, and an element without one says so', () => {
    const p = page('<p ~>own <i>by a script</i></p>')
    edit.begin(p)
    select(p.querySelector('i')!.firstChild!, 0, 2)
    input(p, 'insertText', 'X')
    expect(p.querySelector('i')!.textContent).toBe('by a script')
    expect(edit.begin(page('<p ~><i>by a script</i></p>'))).toBe('It has no text of its own in the source.')
    expect(edit.begin(page('<textarea ~>a</textarea>'))).toBe('The text of <textarea> is not typed on the page.')
  })

  test('what the page had of contenteditable is given back, and a second one ends the first', () => {
    const p = page('<p ~ contenteditable="false">a</p>')
    edit.begin(p)
    expect(p.getAttribute('contenteditable')).toBe('true')
    const other = document.body.appendChild(document.createElement('p'))
    other.setAttribute(ID_ATTRIBUTE, '1.9')
    other.textContent = 'b'
    edit.begin(other)
    expect(p.getAttribute('contenteditable')).toBe('false')
    edit.end()
    expect(other.hasAttribute('contenteditable')).toBe(false)
    expect(edit.end()).toEqual([])
  })
})
