import type { PublishedFile } from '../../src/live/protocol'
import type { SyncOp } from '../../src/agent/protocol'
import { Sheet, textOf, unpackOutline, type PackedOutline } from '../../src/core/css'
import { PageBusyError } from '../../src/page'
import type { LivePage } from '../../src/studio/session/live-page'

interface RuleOnPage {
  readonly id: number
  /** As the source wrote it when the page was told. */
  readonly text: string
}

/** The top-level rules of a text, by the ids that the desk has for them. */
function rulesOf(outline: PackedOutline, text: string): RuleOnPage[] {
  const texts = [...new Sheet(text).rules()].filter((s) => s.parents.length === 0).map((s) => textOf(s, s.rule.span))
  return unpackOutline(outline).map(({ id }, i) => ({ id, text: texts[i] }))
}

/** What a live page does with what it is told, without a browser: its sheets are the top-level rules that it has been given. */
export class MemoryPage {
  readonly sheets = new Map<string, RuleOnPage[]>()
  /** What it was asked, in order; of the desk's own port too. */
  readonly asked: string[] = []
  readonly served = Promise.resolve()
  readonly files = new Map<string, PublishedFile>()
  left = false
  here = true
  reloads = 0
  /** What it shows of each property that is read. */
  values: Record<string, string> = {}
  /** Called before it answers; what it gives is answered instead, and what it throws is not answered. */
  before: (type: string, ask: unknown) => unknown = () => undefined
  private readonly channel = new MessageChannel()

  constructor() {
    this.channel.port2.onmessage = ({ data }: MessageEvent<{ id: number; type: string; ask: unknown }>) => {
      void this.answer(data.type, data.ask).then((answer) => this.channel.port2.postMessage({ id: data.id, answer }))
    }
  }

  /** The port that the desk shows previews by. */
  get port(): MessagePort {
    return this.channel.port1 as unknown as MessagePort
  }

  /** Loaded again: its sheets, with these texts, are tied to the sources as they are. */
  tie(outlines: Readonly<Record<string, PackedOutline>>, texts: (key: string) => string): void {
    this.sheets.clear()
    for (const [key, outline] of Object.entries(outlines)) this.sheets.set(key, rulesOf(outline, texts(key)))
  }

  private async answer(type: string, ask: unknown): Promise<unknown> {
    this.asked.push(type)
    const instead = await this.before(type, ask)
    if (instead !== undefined) return instead
    if (type === 'sync') {
      const { ops } = ask as { ops: readonly SyncOp[] }
      const reload = ops.some((op) => op.op === 'reload') || !ops.every((op) => this.takeOther(op))
      return { reload, whole: ops.flatMap((op) => this.take(op)) }
    }
    if (type === 'read') {
      const { nodes, props } = ask as { nodes: readonly number[]; props: readonly string[] }
      return nodes.map(() => props.map((p) => this.values[p] ?? ''))
    }
    if (type === 'judge') return []
    return this.own(type, ask)
  }

  /** What a page of some kind answers besides; null of what it knows nothing of. */
  protected own(_type: string, _ask: unknown): unknown {
    return null
  }

  /** Takes in what is of no sheet; false where it has to be loaded again for it. */
  protected takeOther(_op: SyncOp): boolean {
    return true
  }

  private take(op: SyncOp): string[] {
    if (op.op === 'sheet') this.sheets.set(op.sheet, rulesOf(op.outline, op.text))
    if (op.op !== 'rules') return []
    const { before, after, gone, outline, text } = op.run
    const rules = this.sheets.get(op.sheet) ?? []
    const from = before === null ? 0 : rules.findIndex((r) => r.id === before) + 1
    const to = after === null ? rules.length : rules.findIndex((r) => r.id === after)
    const out = rules.slice(from, to).filter((r) => !gone.includes(r.id))
    // What stands between is what the source said is gone; else the page has another sheet than the desk thinks.
    if ((before !== null && from === 0) || to < from || out.length > 0) return [op.sheet]
    this.sheets.set(op.sheet, [...rules.slice(0, from), ...rulesOf(outline, text), ...rules.slice(to)])
    return []
  }

  /** As the session has it. */
  get asLivePage(): LivePage {
    const page = {
      ask: async (type: string, ask: unknown) => {
        if (!this.here) throw new PageBusyError('The page was left')
        return structuredClone(await this.answer(type, structuredClone(ask)))
      },
      guard: async (work: () => Promise<unknown>) => {
        try {
          return await work()
        } catch (error) {
          if (!(error instanceof PageBusyError)) throw error
          return null
        }
      },
      serve: (files: readonly PublishedFile[]) => {
        for (const f of files) this.files.set(f.path, f)
      },
      reload: () => this.reloads++,
      served: this.served,
      focus: () => {},
      blur: () => {},
    }
    Object.defineProperties(page, { here: { get: () => this.here }, left: { get: () => this.left } })
    return page as unknown as LivePage
  }

  close(): void {
    this.left = true
    this.channel.port1.close()
    this.channel.port2.close()
  }
}
