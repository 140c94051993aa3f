import { HAND_OFF_SCHEMA, handOffText, type HandOff, type JournalEdit } from '../core/edit'
import type { Project } from '../core/project'
import type { SharedChoice, SharedElement } from '../folder'
import type { ProjectRow, WishRow } from '../storage/db'
import type { LinkedFolder } from './linked-folder'
import type { LedgerRow } from './types'

/** A wish, with an id. */
export type KeptWish = WishRow & { readonly id: string }

/** What is handed over is made of. */
interface Parts {
  folder(): LinkedFolder | null
  opened(): Project
  /** The edits that no save has, as the ledger shows them. */
  unsaved(): readonly { readonly edit: JournalEdit; readonly row: LedgerRow }[]
  row(): Promise<{ readonly id: string } & Partial<ProjectRow>>
  keep(wishes: readonly KeptWish[]): Promise<void>
}

/** What is wished for, and what colleagues and assistants are told of it and of the edits. */
export class Handing {
  constructor(private readonly parts: Parts) {}

  /** Keeps words about elements that are no edit. */
  async setWishes(wishes: readonly KeptWish[]): Promise<void> {
    await this.parts.keep(wishes)
  }

  async wishes(): Promise<readonly KeptWish[]> {
    const rows = (await this.parts.row()).wishes ?? []
    return rows.map((w, i) => ({ ...w, id: w.id ?? `wish-${i + 1}` }))
  }

  /** Whether assistants can be shown what is chosen and wished for. */
  async hasAssistants(): Promise<boolean> {
    return this.parts.folder()?.assistants != null
  }

  /** Takes in what assistants said of wishes; those that are others now. */
  async takeInNews(): Promise<readonly KeptWish[]> {
    const news = new Map((await this.parts.folder()?.assistants?.news())?.map((n) => [n.id, n]))
    const all = await this.wishes()
    const now = all.map((w) => ({ ...w, ...news.get(w.id) }))
    const changed = now.filter((w, i) => w.state !== all[i].state)
    if (changed.length) await this.setWishes(now)
    return changed
  }

  /** Shows assistants what is chosen on a page, what is wished for, and what is not saved. */
  async share(page: string, chosen: readonly { readonly source: string; readonly values: SharedChoice['values'] }[]): Promise<void> {
    const assistants = this.parts.folder()?.assistants
    if (!assistants) return
    const row = await this.parts.row()
    const wishes = await this.wishes()
    await assistants.share({
      project: row.name ?? row.id,
      page,
      chosen: chosen.flatMap(({ source, values }) => this.placeOf(source).map((e) => ({ ...e, values }))),
      wishes: wishes.map((w) => ({
        id: w.id,
        words: w.words,
        state: w.state ?? 'open',
        elements: w.sources.flatMap((source) => this.placeOf(source)),
      })),
      edits: this.editsTold().map(({ file, line, where, what, before, after, why }) => ({
        file,
        line,
        where,
        what,
        before,
        after,
        why,
      })),
    })
  }

  // An element by its place; none where it is gone.
  private placeOf(source: string): SharedElement[] {
    const found = this.parts.opened().element(source)
    const tag = found?.element.startTag
    return found && tag
      ? [
          {
            file: found.path,
            line: found.tree.lineAt(tag.from),
            selector: found.tree.uniqueSelector(found.element),
            html: found.tree.text.slice(tag.from, tag.to),
          },
        ]
      : []
  }

  private editsTold(): HandOff['edits'] {
    const verdicts = { holds: 'holds', differs: 'differs', unread: 'not read', pending: 'not read' } as const
    return this.parts.unsaved().map(({ edit: e, row: r }) => ({
      file: r.path,
      line: r.line,
      where: r.label,
      what: r.name,
      before: r.before,
      after: r.after,
      why: e.because ?? 'it is about this place itself',
      reach: r.reach,
      verdict: verdicts[r.verdict.state],
    }))
  }

  /** What was changed since the last save and what is wished for, as data and in words. */
  async handOff(): Promise<{ readonly json: string; readonly text: string }> {
    const row = await this.parts.row()
    const note: HandOff = {
      $schema: HAND_OFF_SCHEMA,
      project: row.name ?? row.id,
      made: new Date().toISOString(),
      edits: this.editsTold(),
      wishes: (row.wishes ?? []).map((w) => ({
        words: w.words,
        elements: w.sources.flatMap((source) => this.placeOf(source)),
      })),
    }
    return { json: `${JSON.stringify(note, null, 2)}\n`, text: handOffText(note) }
  }
}
