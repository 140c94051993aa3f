import { EditorView, Decoration, ViewPlugin, WidgetType, type DecorationSet, type ViewUpdate } from '@codemirror/view'
import { RangeSetBuilder, StateEffect, type EditorState, type Extension } from '@codemirror/state'
import { syntaxTree } from '@codemirror/language'
import { parseColor, parseLength } from '../../core/value'
import { getStudio } from '../store'
import styles from './Source.module.css'

/** A colour or a length in a declaration of the text, `[from, to)` in it. */
export interface Literal {
  readonly kind: 'color' | 'length'
  readonly from: number
  readonly to: number
  readonly text: string
  /** The declaration that it stands in: its property, and its value with where that starts. */
  readonly property: string
  readonly value: string
  readonly valueFrom: number
}

// Strings, addresses and comments are gone over whole: what stands in them is no value.
const VALUE =
  /"[^"]*"|'[^']*'|url\([^)]*\)|\/\*[^]*?\*\/|#[0-9a-f]{3,8}\b|\b(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\((?:[^()]|\([^()]*\))*\)|var\(\s*--[\w-]+\s*\)|(?<![\w.#-])-?\d*\.?\d+(?:e[+-]?\d+)?(?:[a-z]+|%)|(?<![\w#-])[a-z]+(?![\w(-])/gi

const tokenColor = (text: string): string | null => {
  const name = /^var\(\s*(--[\w-]+)\s*\)$/.exec(text)?.[1]
  return name ? (getStudio().scale.tokens.find((t) => t.kind === 'color' && t.name === name)?.text ?? null) : null
}

/** The colour that a literal shows: its own, or that of the token it names. */
export const colorOf = (text: string): string | null => tokenColor(text) ?? (parseColor(text) ? text : null)

const TAKES_LENGTHS =
  /^(-?[a-z]*(width|height|padding|margin|gap|size|radius|spacing|indent|inset|top|right|bottom|left|basis|offset|border|outline|flex|columns|shadow|position|template|auto-rows|auto-columns|transform|translate|font)[a-z-]*|--.*)$/

/** The literals of declarations between two offsets, in order. */
export function literalsIn(state: EditorState, from: number, to: number): Literal[] {
  const out: Literal[] = []
  syntaxTree(state).iterate({
    from,
    to,
    enter: (node) => {
      if (node.name !== 'Declaration') return
      const text = state.sliceDoc(node.from, node.to)
      const [, name = '', colon = ''] = /^(-{0,2}[\w-]+)(\s*:\s*)/.exec(text) ?? []
      const valueFrom = node.from + name.length + colon.length
      const value = text.slice(name.length + colon.length)
      if (!colon || value.length > 4000) return false
      const property = name.toLowerCase()
      for (const m of value.matchAll(VALUE)) {
        const literal = {
          from: valueFrom + m.index,
          to: valueFrom + m.index + m[0].length,
          text: m[0],
          property,
          value,
          valueFrom,
        }
        if (colorOf(m[0]) !== null) out.push({ kind: 'color', ...literal })
        else if (TAKES_LENGTHS.test(property) && parseLength(m[0])?.unit) out.push({ kind: 'length', ...literal })
      }
      return false
    },
  })
  return out
}

/** The literal that the caret stands in or at. */
export const literalAt = (state: EditorState, at: number): Literal | null =>
  literalsIn(state, at, at).find((l) => at >= l.from && at <= l.to) ?? null

class Swatch extends WidgetType {
  constructor(private readonly color: string) {
    super()
  }
  override eq(other: Swatch): boolean {
    return other.color === this.color
  }
  toDOM(): HTMLElement {
    const dot = document.createElement('span')
    dot.className = styles.swatch
    dot.dataset.swatch = this.color
    dot.title = 'Choose another colour (Alt Enter)'
    dot.style.setProperty('--swatch', this.color)
    return dot
  }
  override ignoreEvent(): boolean {
    return false
  }
}

const length = Decoration.mark({
  class: styles.length,
  attributes: { title: 'Pull it as on a tape (click, or Alt Enter)' },
})

function draw(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>()
  let last = -1
  for (const { from, to } of view.visibleRanges) {
    for (const l of literalsIn(view.state, from, to)) {
      if (l.from <= last) continue
      last = l.from
      if (l.kind === 'color') builder.add(l.from, l.from, Decoration.widget({ widget: new Swatch(colorOf(l.text)!), side: -1 }))
      else builder.add(l.from, l.to, length)
    }
  }
  return builder.finish()
}

/** Tokens have other values: the swatches are drawn again. */
export const redraw = StateEffect.define<null>()

/** Draws a swatch before each colour and marks the lengths; `open` is told which one was pressed, or asked for by Alt Enter. */
export function literals(open: (literal: Literal) => void): Extension {
  const plugin = ViewPlugin.fromClass(
    class {
      decorations: DecorationSet
      constructor(view: EditorView) {
        this.decorations = draw(view)
      }
      update(u: ViewUpdate): void {
        if (
          u.docChanged ||
          u.viewportChanged ||
          syntaxTree(u.startState) !== syntaxTree(u.state) ||
          u.transactions.some((t) => t.effects.some((e) => e.is(redraw)))
        )
          this.decorations = draw(u.view)
      }
    },
    { decorations: (p) => p.decorations },
  )
  return [
    plugin,
    EditorView.domEventHandlers({
      click: (e, view) => {
        const target = e.target as HTMLElement
        const isSwatch = target.dataset.swatch !== undefined
        if (!isSwatch && !target.closest(`.${styles.length}`)) return false
        const found = literalAt(view.state, isSwatch ? view.posAtDOM(target) : (view.posAtCoords({ x: e.clientX, y: e.clientY }) ?? -1))
        if (found && (isSwatch ? found.kind === 'color' : found.kind === 'length')) open(found)
        return false
      },
      keydown: (e, view) => {
        if (e.key !== 'Enter' || !e.altKey) return false
        const found = literalAt(view.state, view.state.selection.main.head)
        if (found) open(found)
        return found !== null
      },
    }),
  ]
}
