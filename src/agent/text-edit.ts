import type { ChangedText } from './protocol'
import { sourceOf } from './sources'

const SKIPPED = /^(script|style|textarea|select|iframe|svg|math|template|noscript)$/

/**
 * Lets the text of an element be typed where it stands. Only characters of its own texts change: tags in it stay as they
 * are, and what was there is given back before the source says it again.
 */
export class TextEdit {
  private element: HTMLElement | null = null
  private texts = new Map<Text, string>()
  private editable: string | null = null
  private last: Text | null = null

  constructor(private readonly tell: (keep: boolean) => void) {}

  /** Why it cannot be, in words; null when it can. */
  begin(element: Element): string | null {
    this.end()
    if (!('contentEditable' in element) || SKIPPED.test(element.localName))
      return `The text of <${element.localName}> is not typed on the page.`
    const found = new Map<Text, string>()
    const walker = element.ownerDocument.createTreeWalker(element, NodeFilter.SHOW_TEXT)
    for (let n = walker.nextNode() as Text | null; n; n = walker.nextNode() as Text | null) {
      const parent = n.parentElement!
      if (sourceOf(parent) !== null && !parent.closest('script, style, textarea, select, svg')) found.set(n, n.data)
    }
    const first = [...found.keys()].find((t) => t.data.trim() !== '')
    if (!first) return 'It has no text of its own in the source.'
    this.element = element as HTMLElement
    this.texts = found
    this.editable = element.getAttribute('contenteditable')
    this.last = first
    element.setAttribute('contenteditable', 'true')
    this.element.focus({ preventScroll: true })
    const selection = element.ownerDocument.getSelection()!
    const [from, to] = bounds(first.data)
    selection.setBaseAndExtent(first, from, first, to)
    for (const type of ['beforeinput', 'keydown', 'paste', 'drop', 'blur'] as const) this.element.addEventListener(type, this.listen, true)
    return null
  }

  private readonly listen = (e: Event) => {
    e.stopImmediatePropagation()
    if (e.type === 'blur') this.tell(true)
    else if (e.type === 'drop') e.preventDefault()
    else if (e.type === 'paste') {
      e.preventDefault()
      this.put((e as ClipboardEvent).clipboardData?.getData('text/plain') ?? '')
    } else if (e.type === 'keydown') this.key(e as KeyboardEvent)
    else this.input(e as InputEvent)
  }

  private key(e: KeyboardEvent): void {
    if (e.isComposing || (e.key !== 'Enter' && e.key !== 'Escape')) return
    e.preventDefault()
    this.tell(e.key === 'Enter')
  }

  private input(e: InputEvent): void {
    // What an input method composes cannot be kept back; it stays within one text.
    if (e.inputType === 'insertCompositionText') return
    e.preventDefault()
    if (!/^(insert(Text|ReplacementText|FromYank)|delete)/.test(e.inputType)) return
    const range = this.own(e.inputType) ?? e.getTargetRanges()[0]
    this.put(e.inputType.startsWith('delete') ? '' : (e.data ?? e.dataTransfer?.getData('text/plain') ?? ''), range)
  }

  // The engine takes a caret after a blank at a line's end for one before it, since that blank does not show.
  private own(type: string): StaticRange | null {
    const selection = this.element!.ownerDocument.getSelection()!
    const { anchorNode: node, anchorOffset: at } = selection
    if (!selection.isCollapsed || !this.texts.has(node as Text) || !/^(insertText|deleteContent(Backward|Forward))$/.test(type)) return null
    const text = (node as Text).data
    const near =
      type === 'deleteContentBackward'
        ? -graphemes(text.slice(0, at)).at(-1)!.length
        : type === 'deleteContentForward'
          ? graphemes(text.slice(at))[0].length
          : 0
    return new StaticRange({
      startContainer: node!,
      startOffset: Math.min(at, at + near),
      endContainer: node!,
      endOffset: Math.max(at, at + near),
    })
  }

  // Puts characters in the place of a range that lies in one text; tags are never taken out by the way.
  private put(typed: string, range?: StaticRange): void {
    const text = typed.replace(/\s*[\r\n]+\s*/g, ' ')
    const selection = this.element!.ownerDocument.getSelection()!
    const at = range ?? (selection.rangeCount ? selection.getRangeAt(0) : null)
    const node =
      at && at.startContainer === at.endContainer && this.texts.has(at.startContainer as Text) ? (at.startContainer as Text) : null
    const target = node ?? (at && at.startContainer !== at.endContainer ? null : this.last)
    if (!target) return
    const [from, to] = node ? [at!.startOffset, at!.endOffset] : [target.length, target.length]
    target.replaceData(from, to - from, text)
    this.last = target
    selection.collapse(target, from + text.length)
  }

  /** Ends it, gives the page its texts back, and says which were changed. */
  end(): ChangedText[] {
    const { element } = this
    if (!element) return []
    this.element = null
    for (const type of ['beforeinput', 'keydown', 'paste', 'drop', 'blur'] as const) element.removeEventListener(type, this.listen, true)
    if (this.editable === null) element.removeAttribute('contenteditable')
    else element.setAttribute('contenteditable', this.editable)
    element.blur()
    element.ownerDocument.getSelection()?.removeAllRanges()
    const changed: ChangedText[] = []
    for (const [node, before] of this.texts) {
      const parent = node.parentElement
      if (!parent || node.data === before) continue
      const index = [...parent.childNodes].filter((n) => n.nodeType === Node.TEXT_NODE).indexOf(node)
      changed.push({ source: sourceOf(parent)!, index, was: before, text: node.data })
      node.data = before
    }
    this.texts = new Map()
    return changed
  }
}

const graphemes = (text: string): string[] =>
  text === '' ? [''] : [...new Intl.Segmenter(undefined, { granularity: 'grapheme' }).segment(text)].map((s) => s.segment)

// The characters that show: white space around them is how the file is laid out.
function bounds(text: string): [number, number] {
  const lead = /^\s*/.exec(text)![0].length
  return [lead, Math.max(lead, text.trimEnd().length)]
}
