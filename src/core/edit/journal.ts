import { applySplices, mapOffset, textMark, type Splices } from '../text'
import type { DeclarationIntent, NewFile, TagPart } from './intent'

/** Whether the page, read again, shows what was asked for. */
export type Verdict =
  | { readonly state: 'pending' }
  /** On all chosen elements. Of others in reach, `of` in all, some may show another value, as `except` says. */
  | { readonly state: 'holds'; readonly elements: number; readonly of?: number; readonly except?: string }
  | { readonly state: 'differs'; readonly elements: number; readonly of: number; readonly example: string }
  | { readonly state: 'unread'; readonly why: string }

/** What an edit did to one file, and what undoes it. */
export interface FileChange {
  readonly path: string
  readonly splices: Splices
  readonly inverse: Splices
  /** The mark of the text that it was made on, by which any other is refused; left out by older journals. */
  readonly of?: string
}

/** One edit: changes of files that name the texts they start from by their place in the journal. */
export interface JournalEdit {
  /** 1-based place in the journal. */
  readonly seq: number
  readonly changes: readonly FileChange[]
  /** Files that it brought in. */
  readonly adds?: readonly NewFile[]
  /** The file that the ledger names. */
  readonly path: string
  readonly name: string
  readonly before: string | null
  readonly after: string
  /** Offset of what was written, in the file right after this edit. */
  readonly at: number
  readonly label: string
  /** The source of the element whose own tag was changed; left out for rules. */
  readonly element?: string
  readonly part?: TagPart
  readonly did?: DeclarationIntent['kind']
  /** Elements within reach on the page when it was made. */
  readonly reach: number
  readonly made: number
  /** Why it landed where it did, in words. */
  readonly because?: string
  /** The earlier edits that it takes out again. */
  readonly discards?: readonly number[]
  /** It is an undo that was carried over what someone else changed: doing again takes it out. */
  readonly undoes?: true
  /** It was made by someone else, in the folder. */
  readonly outside?: true
  /** It is what was chosen where edits and what someone else changed in the folder met. */
  readonly settles?: true
  readonly verdict: Verdict
}

/** Whether a change can have been made on a text: its mark is the text's, and what it takes out stands there. */
export function fits(change: FileChange, text: string): boolean {
  if (change.of !== undefined && change.of !== textMark(text)) return false
  let by = 0
  return (
    change.splices.length === change.inverse.length &&
    change.splices.every((s, i) => {
      const back = change.inverse[i]
      const ok =
        s.from >= 0 &&
        s.to >= s.from &&
        s.to <= text.length &&
        back.from === s.from + by &&
        back.to === back.from + s.insert.length &&
        back.insert === text.slice(s.from, s.to)
      by += s.insert.length - (s.to - s.from)
      return ok
    })
  )
}

/** How many edits at the start of a journal apply, each to the text that it was made on. `original` gives the text of a file before the first; null where there is none. */
export function applicable(edits: readonly JournalEdit[], original: (path: string) => string | null): number {
  const texts = new Map<string, string>()
  for (const [i, edit] of edits.entries()) {
    if (edit.seq !== i + 1) return i
    for (const change of edit.changes) {
      const text = texts.get(change.path) ?? original(change.path)
      if (text === null || !fits(change, text)) return i
      texts.set(change.path, applySplices(text, change.splices))
    }
  }
  return edits.length
}

/** The edits of a project in order, and how many of them are in force. */
export class Journal {
  constructor(
    private list: JournalEdit[] = [],
    private count = list.length,
  ) {}

  get edits(): readonly JournalEdit[] {
    return this.list
  }

  /** Edits `1..done` are in force; the rest can be done again. */
  get done(): number {
    return this.count
  }

  add(edit: JournalEdit): void {
    if (edit.seq !== this.count + 1) throw new RangeError(`Edit ${edit.seq} cannot follow ${this.count}`)
    this.list = [...this.list.slice(0, this.count), edit]
    this.count++
  }

  get undoable(): JournalEdit | null {
    return this.list[this.count - 1] ?? null
  }

  get redoable(): JournalEdit | null {
    return this.list[this.count] ?? null
  }

  /** Drops the edits that could be done again: they were made on a text that is not there any more. */
  forgetUndone(): void {
    this.list = this.list.slice(0, this.count)
  }

  moved(by: number): void {
    if (this.count + by < 0 || this.count + by > this.list.length)
      throw new RangeError(`No edit to step to from ${this.count} of ${this.list.length}`)
    this.count += by
  }

  judge(seq: number, verdict: Verdict): JournalEdit | null {
    const at = this.list.findIndex((e) => e.seq === seq)
    if (at < 0) return null
    const edit = { ...this.list[at], verdict }
    this.list = this.list.map((e, i) => (i === at ? edit : e))
    return edit
  }

  /** Where what edit `seq` wrote stands in its file now, after the edits that followed it. */
  offsetNow(seq: number): number {
    const edit = this.list[seq - 1]
    let at = edit.at
    for (const later of this.list.slice(seq, this.count)) {
      for (const c of later.changes) if (c.path === edit.path) at = mapOffset(c.splices, at, 'before')
    }
    return at
  }
}
