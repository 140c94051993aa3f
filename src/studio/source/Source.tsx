'use client'
import { forceParsing } from '@codemirror/language'
import { Annotation } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import { useEffect, useRef, useState } from 'react'
import { roleOf } from '../../core/language'
import { diffSplice } from '../../core/text'
import type { RuleAim } from '../../core/edit'
import { theDesk } from '../../desk'
import { getStudio, setStudio, useStudio, type SourceSpot } from '../store'
import { onto } from '../session/drafts'
import { useSession } from '../ui/SessionContext'
import { editorState, faultsIn, faultsOf, fromProject, markLine, markSpans, readingTime, showFaults } from './editor'
import { LiteralPicker } from './LiteralPicker'
import { literals, redraw, type Literal } from './literals'
import styles from './Source.module.css'

/** How long typing rests before it is written; ms. */
const REST = 450
/** How long the caret rests before what it stands in is chosen; ms. */
const LOOK = 220

/** Marks a change that is only shown until it is kept. */
const shownOnly = Annotation.define<boolean>()

interface Shown {
  readonly path: string
  readonly revision: number
  /** The text of the file that what is typed starts from. */
  readonly base: string
}

// What is read in part seems to end in the middle of a rule.
const readWhole = (editor: EditorView): void => {
  const { length } = editor.state.doc
  forceParsing(editor, length, readingTime(length))
}

/** A file of the project, at the line that is written: typed here, it is seen on the page; the caret chooses what it stands in. */
export function Source({ spot }: { spot: SourceSpot }) {
  const { session } = useSession()
  const revision = useStudio((s) => s.revision)
  const picked = useStudio((s) => s.picked)
  const place = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const shown = useRef<Shown | null>(null)
  /** Typed and not yet written. */
  const pending = useRef(false)
  /** The element that was brought into sight last; where a line was asked for, that stays in sight. */
  const followed = useRef<number | null>(spot.line > 1 ? (getStudio().picked?.report.info.node ?? null) : null)
  const [fault, setFault] = useState<string | null>(null)
  /** A value of the text that is being chosen again, and where it stands in the window. */
  const [literal, setLiteral] = useState<{
    of: Literal
    at: { left: number; top: number }
    rule: RuleAim | null
  } | null>(null)
  /** What stands in the text in its place. */
  const standing = useRef('')
  const keeping = useRef<((editor: EditorView, path: string, allTheSame?: boolean) => Promise<void>) | null>(null)

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
    let writing: ReturnType<typeof setTimeout> | undefined
    let looking: ReturnType<typeof setTimeout> | undefined

    // Text at fault is a draft of its file; the page keeps what it last had.
    const isDraft = (editor: EditorView, path: string): boolean => {
      readWhole(editor)
      const faults = faultsOf(editor.state)
      // Those that the file had before are not what was typed.
      if (faults.length === 0 || faults.length <= faultsIn(path, shown.current!.base)) {
        showFaults(editor, [])
        return false
      }
      showFaults(editor, faults)
      const told = `Line ${editor.state.doc.lineAt(faults[0].from).number}: ${faults[0].message.toLowerCase()}.`
      session.drafts.keep(path, { base: shown.current!.base, text: editor.state.doc.toString(), fault: told })
      return true
    }
    const write = async (editor: EditorView, path: string, allTheSame = false) => {
      clearTimeout(writing)
      // Another file is in the editor by now; what was typed in this one was written when it was left.
      if (shown.current?.path !== path || !pending.current) return
      if (!allTheSame && isDraft(editor, path)) return
      const text = editor.state.doc.toString()
      const { base } = shown.current
      shown.current = { ...shown.current, base: text }
      pending.current = false
      session.drafts.drop(path)
      const why = await session.making.typed(path, base, text)
      setFault(why)
      if (why === null || shown.current?.path !== path) return
      shown.current = { ...shown.current, base }
      pending.current = true
    }
    const endTyping = session.drafts.onTyping(async () => {
      const [editor, path] = [view.current, shown.current?.path]
      if (editor && path) await write(editor, path)
    })
    keeping.current = write
    const openLiteral = (of: Literal) => {
      const editor = view.current
      const path = shown.current?.path
      const corner = editor?.coordsAtPos(of.from)
      if (!editor || !path || !corner || editor.state.readOnly) return
      void theDesk()
        .places.standsAt(path, of.from)
        .then((found) => {
          const rule: RuleAim | null =
            found && 'rule' in found && !pending.current ? { kind: 'rule', sheet: found.sheet, rule: found.rule } : null
          standing.current = of.text
          setLiteral({ of, at: { left: corner.left, top: corner.top - 6 }, rule })
        })
    }
    // The caret chooses the element or the rule it stands in.
    const look = async (editor: EditorView, path: string) => {
      const found = await theDesk().places.standsAt(path, editor.state.selection.main.head)
      if (!found || shown.current?.path !== path) return
      if ('source' in found) {
        if (getStudio().picked?.report.info.source !== found.source) await session.selection.pickSource(found.source)
        return
      }
      await session.selection.pickByRule(found)
    }
    const listen = EditorView.updateListener.of((u) => {
      const path = shown.current?.path
      if (!path) return
      if (u.docChanged && !u.transactions.some((t) => t.annotation(fromProject) || t.annotation(shownOnly))) {
        pending.current = true
        clearTimeout(writing)
        writing = setTimeout(() => void write(u.view, path), REST)
      } else if (u.selectionSet && u.view.hasFocus && u.transactions.some((t) => t.isUserEvent('select'))) {
        setStudio({ caret: roleOf(path) === 'page' ? { path, offset: u.state.selection.main.head } : null })
        clearTimeout(looking)
        looking = setTimeout(() => void look(u.view, path), LOOK)
      }
    })

    void (async () => {
      const editor = view.current
      if (!editor) return
      const same = shown.current?.path === spot.path
      if (!same || shown.current?.revision !== revision) {
        if (!same && pending.current && shown.current) {
          // What was typed in the file that is left is written; at fault, it waits there as its draft.
          await write(editor, shown.current.path)
          pending.current = false
        }
        const text = await theDesk().current.textOnceRead(spot.path)
        if (stale || text === null) return
        const feeds = text.replace(/\r\n?/g, '\n')
        const kept = getStudio().drafts.get(spot.path)
        const draft = kept && onto(kept, feeds)
        if (draft && draft !== kept) session.drafts.keep(spot.path, draft)
        if (same) {
          shown.current = {
            ...shown.current!,
            revision,
            ...((!pending.current || draft) && { base: draft?.base ?? feeds }),
          }
          // What was typed meanwhile is not taken away; it is written in its turn.
          const change = pending.current && !draft ? null : diffSplice(editor.state.doc.toString(), draft?.text ?? feeds)
          if (change) editor.dispatch({ changes: change, annotations: fromProject.of(true) })
        } else {
          pending.current = draft !== undefined
          const readOnly = getStudio().project?.readOnly.some((f) => f.path === spot.path) ?? false
          editor.setState(
            editorState(spot.path, feeds, readOnly || !getStudio().project?.written.includes(spot.path), [listen, literals(openLiteral)]),
          )
          shown.current = { path: spot.path, revision, base: draft?.base ?? feeds }
          if (draft) {
            editor.dispatch({
              changes: { from: 0, to: editor.state.doc.length, insert: draft.text },
              annotations: fromProject.of(true),
            })
            readWhole(editor)
            showFaults(editor, faultsOf(editor.state))
          }
          setFault(null)
        }
      }
      const line = editor.state.doc.line(Math.min(Math.max(1, spot.line), editor.state.doc.lines))
      // Whoever types here is not taken elsewhere.
      editor.dispatch({
        effects: editor.hasFocus
          ? [markLine.of(line.from)]
          : [markLine.of(line.from), EditorView.scrollIntoView(line.from, { y: 'center' })],
      })
    })()
    return () => {
      stale = true
      endTyping()
    }
  }, [session, spot, revision])

  const draft = useStudio((s) => s.drafts.get(spot.path))
  const hadDraft = useRef(false)
  useEffect(() => {
    const isTakenBack = hadDraft.current && !draft && pending.current
    hadDraft.current = draft !== undefined
    const editor = view.current
    if (!isTakenBack || !editor || shown.current?.path !== spot.path) return
    pending.current = false
    const change = diffSplice(editor.state.doc.toString(), shown.current.base)
    if (change) editor.dispatch({ changes: change, annotations: fromProject.of(true) })
    showFaults(editor, [])
    // The file may have been edited elsewhere meanwhile.
    setStudio({ revision: getStudio().revision + 1 })
  }, [draft, spot.path])

  const tokens = useStudio((s) => s.scale.tokens)
  useEffect(() => {
    if (tokens.length) view.current?.dispatch({ effects: redraw.of(null) })
  }, [tokens])

  // What is being chosen stands in the text and shows on the page; it is written when it is kept, as one edit.
  const put = (text: string) => {
    const editor = view.current
    if (!editor || !literal) return null
    const { of, rule } = literal
    editor.dispatch({
      changes: { from: of.from, to: of.from + standing.current.length, insert: text },
      annotations: shownOnly.of(true),
    })
    standing.current = text
    return (
      rule && {
        rule,
        name: of.property,
        value: of.value.slice(0, of.from - of.valueFrom) + text + of.value.slice(of.to - of.valueFrom),
      }
    )
  }
  const show = (text: string) => {
    const asked = put(text)
    if (asked && text !== literal!.of.text)
      session.edits.show({ kind: 'set', aim: asked.rule, name: asked.name, value: asked.value }, false)
    else void session.edits.cancelPreview()
  }
  const end = async (text: string) => {
    put(text)
    const isOther = text !== literal?.of.text
    setLiteral(null)
    await session.edits.cancelPreview()
    const [editor, path] = [view.current, shown.current?.path]
    editor?.focus()
    if (!isOther || !editor || !path) return
    pending.current = true
    await keeping.current?.(editor, path)
  }

  // The tags of what is chosen, and the rules that match it, where this file has them.
  useEffect(() => {
    let current = true
    void (async () => {
      const rules = picked?.report.matched[0]?.map(({ sheet, rule }) => ({ sheet, rule })) ?? []
      const spans = await theDesk().places.marks(spot.path, picked?.report.info.source ?? null, rules)
      const editor = view.current
      if (!current || !editor || shown.current?.path !== spot.path || pending.current) return
      const marks = spans.filter((s) => s.to <= editor.state.doc.length)
      editor.dispatch({ effects: markSpans.of(marks) })
      // What is chosen on the page is brought into sight here; an edit of it shows its own line.
      const node = picked?.report.info.node ?? null
      const isOther = followed.current !== node
      followed.current = node
      const first = roleOf(spot.path) === 'sheet' ? marks.at(-1) : marks[0]
      if (isOther && first && !editor.hasFocus) editor.dispatch({ effects: EditorView.scrollIntoView(first.from, { y: 'center' }) })
    })()
    return () => {
      current = false
    }
  }, [picked, spot.path])

  return (
    <>
      <div ref={place} className={styles.source} data-testid="source" />
      {literal && (
        <LiteralPicker
          key={literal.of.from}
          literal={literal.of}
          at={literal.at}
          onShow={show}
          onKeep={(text) => void end(text)}
          onCancel={() => void end(literal.of.text)}
        />
      )}
      {(draft || fault) && (
        <p className={styles.fault} role="status" data-testid="source-fault">
          {draft ? <>{draft.fault} The page keeps what it had, and the text is no part of the file. </> : fault}
          {draft && (
            <button type="button" onClick={() => session.drafts.drop(spot.path)}>
              Take it back
            </button>
          )}
          {draft && (
            <button type="button" onClick={() => view.current && void keeping.current?.(view.current, spot.path, true)}>
              Write it all the same
            </button>
          )}
        </p>
      )}
    </>
  )
}
