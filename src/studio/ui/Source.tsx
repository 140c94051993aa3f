'use client'
import { css } from '@codemirror/lang-css'
import { html } from '@codemirror/lang-html'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { EditorState, StateEffect, StateField, type Extension } from '@codemirror/state'
import { Decoration, EditorView, lineNumbers, type DecorationSet } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import { useEffect, useRef } from 'react'
import { diffSplice } from '../../core/text'
import { theDesk } from '../desk/desk'
import { useStudio, type SourceSpot } from '../store'
import styles from './Source.module.css'

const markLine = StateEffect.define<number | null>()

const markedLine = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update: (set, tr) => {
    for (const effect of tr.effects) {
      if (!effect.is(markLine)) continue
      return effect.value === null ? Decoration.none : Decoration.set([Decoration.line({ class: styles.marked }).range(effect.value)])
    }
    return set.map(tr.changes)
  },
  provide: (field) => EditorView.decorations.from(field),
})

const colors = HighlightStyle.define([
  { tag: [tags.tagName, tags.keyword, tags.definitionKeyword, tags.atom], color: 'var(--primary)' },
  { tag: [tags.className, tags.labelName, tags.attributeName], color: 'var(--ink)', fontWeight: '400' },
  { tag: [tags.string, tags.number, tags.unit, tags.color, tags.attributeValue], color: 'var(--holds)' },
  { tag: tags.comment, color: 'var(--quiet)', fontStyle: 'italic' },
])

/** Lines of minified files stay as they are: wrapping them takes long. */
const LONG_LINE = /[^\n]{1000}/

const languageOf = (path: string): Extension => (/\.css$/i.test(path) ? css() : /\.html?$/i.test(path) ? html() : [])

/** The file that is written, at the line that is written. */
export function Source({ spot }: { spot: SourceSpot }) {
  const revision = useStudio((s) => s.revision)
  const place = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const shown = useRef<{ path: string; revision: number } | null>(null)

  useEffect(() => {
    view.current = new EditorView({ parent: place.current! })
    return () => {
      view.current?.destroy()
      view.current = null
      shown.current = null
    }
  }, [])

  useEffect(() => {
    let stale = false
    void (async () => {
      const editor = view.current
      if (!editor) return
      if (shown.current?.path !== spot.path || shown.current.revision !== revision) {
        const text = await theDesk().text(spot.path)
        if (stale || text === null) return
        const same = shown.current?.path === spot.path
        shown.current = { path: spot.path, revision }
        // The editor reads every kind of line end as one; a change of the same file is read by itself.
        const change = same ? diffSplice(editor.state.doc.toString(), text.replace(/\r\n?/g, '\n')) : null
        if (change) editor.dispatch({ changes: change })
        else if (!same) editor.setState(EditorState.create({
          doc: text,
          extensions: [lineNumbers(), markedLine, syntaxHighlighting(colors), languageOf(spot.path), EditorState.readOnly.of(true), LONG_LINE.test(text) ? [] : EditorView.lineWrapping, EditorView.editable.of(false),
            EditorView.contentAttributes.of({ 'aria-label': 'Source', tabindex: '0' })],
        }))
      }
      const line = editor.state.doc.line(Math.min(Math.max(1, spot.line), editor.state.doc.lines))
      editor.dispatch({ effects: [markLine.of(line.from), EditorView.scrollIntoView(line.from, { y: 'center' })] })
    })()
    return () => {
      stale = true
    }
  }, [spot, revision])

  return <div ref={place} className={styles.source} data-testid="source" />
}
