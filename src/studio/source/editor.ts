import {
  autocompletion,
  closeBrackets,
  type CompletionContext,
  type CompletionResult,
  type CompletionSource,
} from '@codemirror/autocomplete'
import { defaultKeymap, indentWithTab } from '@codemirror/commands'
import { css, cssLanguage } from '@codemirror/lang-css'
import { html, htmlLanguage } from '@codemirror/lang-html'
import { javascript } from '@codemirror/lang-javascript'
import {
  bracketMatching,
  ensureSyntaxTree,
  foldGutter,
  foldKeymap,
  HighlightStyle,
  indentUnit,
  syntaxHighlighting,
  syntaxTree,
} from '@codemirror/language'
import { setDiagnostics, type Diagnostic } from '@codemirror/lint'
import { highlightSelectionMatches, searchKeymap } from '@codemirror/search'
import { Annotation, EditorState, StateEffect, StateField, type Extension } from '@codemirror/state'
import { Decoration, EditorView, highlightActiveLine, keymap, lineNumbers, type DecorationSet } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import { languageNameOf } from '../../core/language'
import { theDesk } from '../../desk'
import styles from './Source.module.css'

/** Marks a change that came from the project and was not typed here. */
export const fromProject = Annotation.define<boolean>()

export const markLine = StateEffect.define<number | null>()
export const markSpans = StateEffect.define<readonly { readonly from: number; readonly to: number }[]>()

const field = <T>(effect: ReturnType<typeof StateEffect.define<T>>, draw: (value: T, state: EditorState) => DecorationSet) =>
  StateField.define<DecorationSet>({
    create: () => Decoration.none,
    update: (set, tr) => {
      for (const e of tr.effects) if (e.is(effect)) return draw(e.value, tr.state)
      return set.map(tr.changes)
    },
    provide: (f) => EditorView.decorations.from(f),
  })

const markedLine = field(markLine, (at) =>
  at === null ? Decoration.none : Decoration.set([Decoration.line({ class: styles.marked }).range(at)]),
)
const chosen = Decoration.mark({ class: styles.chosen })
const markedSpans = field(markSpans, (spans, state) =>
  Decoration.set(
    spans.filter((s) => s.to <= state.doc.length).map((s) => chosen.range(s.from, s.to)),
    true,
  ),
)

const colors = HighlightStyle.define([
  { tag: [tags.tagName, tags.keyword, tags.definitionKeyword, tags.atom], color: 'var(--primary)' },
  { tag: [tags.className, tags.labelName, tags.attributeName], color: 'var(--ink)', fontWeight: '400' },
  { tag: [tags.string, tags.number, tags.unit, tags.color, tags.attributeValue], color: 'var(--holds)' },
  { tag: tags.comment, color: 'var(--quiet)', fontStyle: 'italic' },
])

/** Lines of minified files stay as they are: wrapping them takes long. */
const LONG_LINE = /[^\n]{1000}/

type Names = Awaited<ReturnType<ReturnType<typeof theDesk>['reading']['names']>>

// The project's own names: custom properties in values, classes and ids in selectors and attributes.
const ownNames: CompletionSource = async (context: CompletionContext) => {
  const line = context.state.doc.lineAt(context.pos)
  const before = line.text.slice(0, context.pos - line.from)
  const result = async (typed: string, of: keyof Names, type: string): Promise<CompletionResult> => ({
    from: context.pos - typed.length,
    options: (await theDesk().reading.names())[of].map((label) => ({ label, type, boost: 1 })),
    validFor: /^[\w-]*$/,
  })
  const token = /var\(\s*(--[\w-]*)$/.exec(before) ?? /:[^;{}]*?(--[\w-]*)$/.exec(before)
  if (token) return result(token[1], 'tokens', 'variable')
  const inAttribute = /\b(class|id|for|aria-labelledby|aria-describedby|aria-controls)\s*=\s*["'](?:[^"']*\s)?([\w-]*)$/.exec(before)
  if (inAttribute) return result(inAttribute[2], inAttribute[1] === 'class' ? 'classes' : 'ids', 'constant')
  const inSelector = /^[^:;{}<]*([.#])([\w-]*)$/.exec(before)
  return inSelector && syntaxTree(context.state).topNode.name === 'StyleSheet'
    ? result(inSelector[2], inSelector[1] === '.' ? 'classes' : 'ids', 'constant')
    : null
}

const languageOf = (path: string): Extension[] => {
  const own = { autocomplete: ownNames }
  const language = languageNameOf(path)
  if (language === 'css') return [css(), cssLanguage.data.of(own)]
  if (/\.[mc]?[jt]sx?$/i.test(path))
    return [javascript({ typescript: /ts/i.test(path.slice(path.lastIndexOf('.'))), jsx: /x$/i.test(path) })]
  return language === 'html' ? [html({ matchClosingTags: true, autoCloseTags: true }), htmlLanguage.data.of(own)] : []
}

/** An editor of a file. There is one history for all of the project, so the editor has none of its own. */
export function editorState(path: string, text: string, readOnly: boolean, listen: Extension): EditorState {
  const unit = /\n(\t|  +)\S/.exec(text)?.[1]
  return EditorState.create({
    doc: text,
    extensions: [
      lineNumbers(),
      foldGutter(),
      markedLine,
      markedSpans,
      syntaxHighlighting(colors),
      bracketMatching(),
      highlightSelectionMatches(),
      highlightActiveLine(),
      languageOf(path),
      autocompletion({ icons: false }),
      readOnly ? [EditorState.readOnly.of(true)] : closeBrackets(),
      indentUnit.of(unit === '\t' ? '\t' : ' '.repeat(Math.min(8, unit?.length ?? 2))),
      keymap.of([...searchKeymap, ...foldKeymap, indentWithTab, ...defaultKeymap]),
      LONG_LINE.test(text) ? [] : EditorView.lineWrapping,
      listen,
      EditorView.contentAttributes.of({ 'aria-label': 'Source', tabindex: '0' }),
    ],
  })
}

/** How long a text is read for before it is said to be at fault, on a busy machine too; ms. Of a very long one only a part is. */
const READING = 3000
const READING_LONG = 200
const LONG = 1_000_000

export const readingTime = (length: number): number => (length > LONG ? READING_LONG : READING)

/** The text that faults were counted in last: while it is typed in, it stays the same. */
let counted: { readonly path: string; readonly text: string; readonly faults: number } | null = null

/** How many faults a text has, up to where counting ends. */
export function faultsIn(path: string, text: string): number {
  if (counted?.path === path && counted.text === text) return counted.faults
  const state = EditorState.create({ doc: text, extensions: languageOf(path) })
  const tree = ensureSyntaxTree(state, text.length, readingTime(text.length)) ?? syntaxTree(state)
  const faults = faultsOf(state, tree).length
  counted = { path, text, faults }
  return faults
}

/** Faults of the text, by its grammar, the first ones: `[from, to)`. */
export function faultsOf(state: EditorState, tree = syntaxTree(state)): Diagnostic[] {
  const out: Diagnostic[] = []
  tree.iterate({
    enter: (node) => {
      if (out.length > 20) return false
      if (!node.type.isError) return
      const parent = node.node.parent
      const what =
        parent?.name === 'OpenTag' || parent?.name === 'Element'
          ? 'A tag is not closed'
          : parent?.name === 'CloseTag' || parent?.name === 'MismatchedCloseTag'
            ? 'This end tag has no start'
            : parent?.name === 'Block' || parent?.name === 'RuleSet'
              ? 'The rule is not finished'
              : parent?.name === 'Declaration'
                ? 'The declaration is not finished'
                : 'This cannot be read'
      out.push({
        from: node.from,
        to: Math.max(node.to, Math.min(state.doc.length, node.from + 1)),
        severity: 'error',
        message: what,
      })
    },
  })
  return out
}

export const showFaults = (view: EditorView, faults: readonly Diagnostic[]): void => view.dispatch(setDiagnostics(view.state, faults))
