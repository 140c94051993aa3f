import type { Verdict } from '../../core/edit'
import type { DeskState, Written } from '../../desk'

/** How long an edit that is on the page waits for its verdict before the window shows it without; ms. */
const WITHOUT_VERDICT = 80

const judged = (ledger: DeskState, seq: number, verdict: Verdict): DeskState => ({
  ...ledger,
  rows: ledger.rows.map((row) => (row.seq === seq ? { ...row, verdict } : row)),
})

/** Shows a written edit in the window together with its verdict, so that drawing the window does not keep the page from being read. */
export class Drawing {
  private taken: Written | null = null
  private isDrawn = false
  private timer: ReturnType<typeof setTimeout> | undefined

  /** `note` shows a ledger; `show` all else that an edit changes in the window. */
  constructor(
    private readonly note: (ledger: DeskState) => void,
    private readonly show: (taken: Written) => void,
  ) {}

  /** The page is being given what was written. */
  takeIn(taken: Written): void {
    this.taken = taken
    this.timer = setTimeout(() => this.draw(null), WITHOUT_VERDICT)
  }

  /** Draws the edit with its verdict; with null, as it was written. */
  draw(verdict: Verdict | null): void {
    clearTimeout(this.timer)
    const { taken } = this
    if (!taken) return
    if (verdict || !this.isDrawn) this.note(verdict ? judged(taken.state, taken.edit.seq, verdict) : taken.state)
    if (this.isDrawn) return
    this.isDrawn = true
    // The row of the ledger first: the rest of the window takes longer.
    setTimeout(() => this.show(taken))
  }
}
