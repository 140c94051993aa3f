import type { SyncOp } from '../agent/protocol'
import { changedRun, cutBodies, outlineSheet, Sheet, type PackedOutline, type Statement } from '../core/css'
import type { Project, Touched } from '../core/project'

/** What the page is sent so that it shows what the sources say: of sheets only what it does not have yet. */
export class PageSync {
  /** The statements of sheets as the page has them. */
  private readonly onPage = new Map<Sheet, readonly Statement[]>()

  /** `savedText` gives a file as it was saved last. */
  constructor(
    private readonly opened: () => Project,
    private readonly savedText: (path: string) => string,
  ) {}

  /** Counts what the page was sent, and when each sheet was sent last. */
  private told = 0
  private readonly toldAt = new Map<string, number>()

  private tellsPage(sheet: Sheet): void {
    this.onPage.set(sheet, [...sheet.statements])
  }

  /** What the page has of sheets is not known any more: it is sent whole ones next. */
  forget(): void {
    this.onPage.clear()
  }

  /** Sheets as the page is to tie its own to them; `at` is for {@link since}. */
  outlines(keys: readonly string[]): { readonly at: number; readonly sheets: Record<string, PackedOutline> } {
    const sheets = Object.fromEntries(
      keys.flatMap((key) => {
        const ref = this.opened().sheet(key)
        if (!ref) return []
        this.tellsPage(ref.sheet)
        return [[key, this.opened().outline(key)]]
      }),
    )
    return { at: this.told, sheets }
  }

  /** Sheets that the page was sent since their outlines were asked for: where it had not tied them yet, it took nothing in. */
  since(at: number, keys: readonly string[]): SyncOp[] {
    return this.wholeSheets(keys.filter((key) => (this.toldAt.get(key) ?? 0) > at))
  }

  /** How many rules sheets have at their top as they were saved last; those of `asNow` as they are. */
  savedCounts(keys: readonly string[], asNow: readonly string[] = []): Record<string, number> {
    return Object.fromEntries(
      keys.flatMap((key) => {
        const ref = this.opened().sheet(key)
        if (!ref || ref.path !== key || ref.generated !== null) return []
        const saved = this.savedText(key)
        const sheet = asNow.includes(key) || saved === this.opened().text(key) ? ref.sheet : new Sheet(saved)
        return [[key, outlineSheet(sheet).filter((r) => r.kind !== 'charset').length]]
      }),
    )
  }

  /** Those of the sheets that have edits since the last save, as a whole. */
  unsaved(keys: readonly string[]): SyncOp[] {
    return this.wholeSheets(
      keys.filter((key) => {
        const ref = this.opened().sheet(key)
        if (!ref || ref.generated !== null) return false
        const saved = this.savedText(ref.path)
        return saved !== this.opened().text(ref.path) && this.opened().sheetTextIn(ref, saved) !== ref.sheet.text
      }),
    )
  }

  /** Sheets as a whole, where the page could not take in a part of them. */
  wholeSheets(keys: readonly string[]): SyncOp[] {
    return keys.flatMap((key) => {
      const ref = this.opened().sheet(key)
      if (!ref) return []
      this.tellsPage(ref.sheet)
      return [this.wholeSheet(key)]
    })
  }

  private wholeSheet(key: string): SyncOp {
    const { sheet } = this.opened().sheet(key)!
    return { op: 'sheet', sheet: key, text: sheet.text, outline: this.opened().outline(key), bodies: cutBodies(sheet.statements) }
  }

  // Only what changed of a sheet, where that can be determined. What a `<style>` element holds is its text, which scripts may read.
  private changedSheet(key: string): SyncOp {
    const { sheet } = this.opened().sheet(key)!
    const known = this.onPage.get(sheet)
    const run = known && !key.startsWith('#') ? changedRun(known, sheet.statements) : null
    this.tellsPage(sheet)
    this.toldAt.set(key, ++this.told)
    return run ? { op: 'rules', sheet: key, run } : this.wholeSheet(key)
  }

  // Each sheet once, as it is at this moment; attributes in the order they changed.
  of(touched: readonly Touched[]): SyncOp[] {
    return this.by(touched, (key) => this.changedSheet(key))
  }

  /** The same with whole sheets, of a state that is shown for now. */
  whole(touched: readonly Touched[]): SyncOp[] {
    this.forget()
    return this.by(touched, (key) => this.wholeSheet(key))
  }

  private by(touched: readonly Touched[], sheetOp: (key: string) => SyncOp): SyncOp[] {
    const keys = [...new Set(touched.flatMap((t) => t.sheets))].filter((key) => this.opened().sheet(key))
    return [
      ...keys.map(sheetOp),
      ...touched.flatMap((t): SyncOp[] => [
        ...t.attributes.map((a): SyncOp => ({ op: 'attribute', ...a })),
        ...t.texts.map((x): SyncOp => ({ op: 'text', ...x })),
      ]),
    ]
  }
}
