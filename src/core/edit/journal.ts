import { mapOffset, type Splices } from '../text'
import type { NewFile } from './intent'

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
  /** Elements within reach on the page when it was made. */
  readonly reach: number
  readonly made: number
  /** Why it landed where it did, in words. */
  readonly because?: string
  /** The earlier edits that it takes out again. */
  readonly discards?: readonly number[]
  /** It was made by someone else, in the folder. */
  readonly outside?: true
  readonly verdict: Verdict
}

/** The edits of a project in order, and how many of them are in force. */
export class Journal {
  constructor(private list: JournalEdit[] = [], private count = list.length) {}

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

  moved(by: number): void {
    if (this.count + by < 0 || this.count + by > this.list.length) throw new RangeError(`No edit to step to from ${this.count} of ${this.list.length}`)
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
