/** Random acts of ours and of another program on one project, each held against a model of who wrote what. */
import fc from 'fast-check'
import Dexie from 'dexie'
import { Database } from '../src/storage/db'
import { createProject, removeProject } from '../src/storage/projects'
import { KeepingDesk } from '../src/studio/desk/keeping-desk'
import '../tests/support/blob-reader'
import { asHandle, Folder } from '../tests/support/memory-folder'

const { backUp, restore } = await import('../src/storage/backup')

const bytes = (text: string) => new TextEncoder().encode(text)
const SHEETS = ['a.css', 'b.css']
const RULES = 4
const PAGE = '<p>'

/** One rule of a sheet, the smallest thing that somebody finishes. */
interface Cell {
  readonly sheet: number
  readonly rule: number
}

export type Act =
  | { readonly act: 'set' | 'theirs'; readonly cell: Cell }
  | { readonly act: 'backup' | 'look' | 'save' | 'undo' | 'redo' | 'open again' | 'new take' | 'next take' | 'from saved' }
  /** What happens at the `at`th step of the writing. */
  | { readonly act: 'save that fails' | 'save that is cut off'; readonly at: number }
  | { readonly act: 'save in a race'; readonly at: number; readonly cell: Cell }
  | { readonly act: 'leave out' | 'discard'; readonly at: number }
  | { readonly act: 'line ends'; readonly sheet: number }

const cell = fc.record({ sheet: fc.nat(SHEETS.length - 1), rule: fc.nat(RULES - 1) })
const at = fc.nat(5)

/** Acts that are made often stand more than once. */
export const anAct: fc.Arbitrary<Act> = fc.oneof(
  { weight: 6, arbitrary: fc.record({ act: fc.constant('set' as const), cell }) },
  { weight: 5, arbitrary: fc.record({ act: fc.constant('theirs' as const), cell }) },
  { weight: 9, arbitrary: fc.record({ act: fc.constantFrom('look' as const, 'save' as const, 'undo' as const, 'redo' as const, 'open again' as const, 'new take' as const, 'next take' as const, 'next take' as const, 'from saved' as const) }) },
  { weight: 2, arbitrary: fc.record({ act: fc.constantFrom('save that fails' as const, 'save that is cut off' as const), at }) },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('save in a race' as const), at, cell }) },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('backup' as const) }) },
  { weight: 2, arbitrary: fc.record({ act: fc.constantFrom('leave out' as const, 'discard' as const), at }) },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('line ends' as const), sheet: fc.nat(SHEETS.length - 1) }) },
)

const startOf = () => `${Array.from({ length: RULES }, (_, i) => `.r${i} {\n  top: 0;\n}\n`).join('\n')}`
const valueIn = (text: string, rule: number): string => new RegExp(`\\.r${rule} \\{\\s*top: ([^;]+);`).exec(text)?.[1] ?? 'gone'
const keyOf = (c: Cell) => `${SHEETS[c.sheet]} .r${c.rule}`
const CELLS: readonly Cell[] = SHEETS.flatMap((_, sheet) => Array.from({ length: RULES }, (_, rule) => ({ sheet, rule })))

let runs = 0

/**
 * Makes the acts one after the other. Ours are lengths in px, theirs in em, each another one, so that a value tells who
 * finished it. @returns how many acts were made. @throws Error with what the model says otherwise.
 */
export async function interleave(acts: readonly Act[]): Promise<number> {
  const world = new World()
  try {
    await world.begin()
    for (const act of acts) await world.make(act)
    await world.end()
  } finally {
    await world.db.delete()
  }
  return acts.length
}

class World {
  readonly db = new Database(`interleave ${++runs}`)
  private readonly disk = new Folder('site', (doing, path) => this.hook(doing, path))
  private hook: (doing: string, path: string) => void | Promise<void> = () => {}
  private desk!: KeepingDesk
  private id = ''
  private next = 0
  /** Their last word on each rule, while the folder is to have it. */
  private readonly theirs = new Map<string, string>()
  /** Words of theirs that a person here decided about: by an edit over one that the page showed, or by a choice. */
  private readonly decided = new Set<string>()
  private doing = ''

  private fail(why: string): never {
    throw new Error(`${this.doing}: ${why}`)
  }

  async begin(): Promise<void> {
    const files = [{ path: 'index.html', bytes: bytes(PAGE) }, ...SHEETS.map((path) => ({ path, bytes: bytes(startOf()) }))]
    for (const f of files) this.disk.put(f.path, new TextDecoder().decode(f.bytes))
    this.id = await createProject(this.db, 'Pier', files)
    const stamps = await Promise.all(files.map(async (f) => ({ project: this.id, path: f.path, bytes: null, modified: (await (await this.disk.getFileHandle(f.path)).getFile()).lastModified, size: f.bytes.length })))
    await this.db.onDisk.bulkPut(stamps)
    // A folder in memory is no handle that a database could hold.
    Object.assign(this.db.folders, { get: (id: string) => Dexie.Promise.resolve(id === this.id ? { project: id, handle: asHandle(this.disk), include: [] } : undefined) })
    await this.open()
  }

  private async open(): Promise<void> {
    this.desk = Object.assign(new KeepingDesk(), { db: this.db })
    const opened = await this.desk.open(this.id, '')
    if (!opened) this.fail('the project cannot be opened')
    if (opened.lost) this.fail(`${opened.lost} edits of the journal do not fit its files`)
  }

  private now = (c: Cell): string => valueIn(this.desk.text(SHEETS[c.sheet])!, c.rule)
  private there = (c: Cell): string => valueIn(this.disk.text(SHEETS[c.sheet])!, c.rule)
  private page = (): Map<string, string> => new Map(CELLS.map((c) => [keyOf(c), this.now(c)]))

  private write(c: Cell): void {
    const path = SHEETS[c.sheet]
    const value = `${++this.next}em`
    this.disk.put(path, this.disk.text(path)!.replace(new RegExp(`(\\.r${c.rule} \\{\\s*top: )[^;]+`), `$1${value}`))
    this.theirs.set(keyOf(c), value)
  }

  /** What an act of ours changed on the page was seen there, and so decided about. */
  private async decide(work: () => Promise<unknown>): Promise<void> {
    const before = this.page()
    await work()
    for (const [key, value] of this.page()) if (before.get(key) !== value) this.decided.add(before.get(key)!)
  }

  private async look(): Promise<boolean> {
    const before = (await this.desk.history()).edits.length
    const check = (await this.desk.checkFolder())!
    for (const path of check.conflicts) {
      const { parts } = this.desk.conflict(path)!
      const shown = JSON.stringify(parts)
      // While it is open nothing is written, and their word is in sight.
      if ((await this.desk.save([])).ok) this.fail(`${path} is in conflict and was saved`)
      const sheet = SHEETS.indexOf(path)
      for (const c of CELLS) if (c.sheet === sheet && this.there(c) !== this.now(c) && this.theirs.get(keyOf(c)) === this.there(c) && !this.decided.has(this.there(c)) && !shown.includes(`top: ${this.there(c)};`)) this.fail(`${this.there(c)} of ${path} is not shown in the conflict`)
      const places = parts.filter((p) => p.kind === 'conflict')
      const choices = places.map((_, i) => ((this.next + i) % 2 ? 'ours' as const : 'theirs' as const))
      places.forEach((p, i) => {
        if (choices[i] === 'ours') for (const [, value] of p.theirs.join('').matchAll(/top: ([^;]+);/g)) this.decided.add(value)
      })
      await this.desk.settle(path, choices)
    }
    if (check.reopen.length) this.fail(`opened anew for ${check.reopen.join()}`)
    return (await this.desk.history()).edits.length !== before
  }

  private async save(leave: readonly number[] = []): Promise<void> {
    await this.look()
    await this.desk.save(leave)
  }

  async make(act: Act): Promise<void> {
    this.doing = JSON.stringify(act)
    const history = await this.desk.history()
    const journal = history.edits.slice(0, history.done).map((e) => e.after)
    switch (act.act) {
      case 'set': {
        const value = `${++this.next}px`
        const sheet = SHEETS[act.cell.sheet]
        const stands = this.desk.standsAt(sheet, this.desk.text(sheet)!.replaceAll('\r\n', '\n').indexOf(`.r${act.cell.rule}`))
        if (!stands || !('rule' in stands)) this.fail(`${keyOf(act.cell)} is gone`)
        await this.decide(() => this.desk.commit({ kind: 'set', aim: { kind: 'rule', sheet, rule: stands.rule }, name: 'top', value }, 1))
        if (this.now(act.cell) !== value) this.fail(`${keyOf(act.cell)} is ${this.now(act.cell)}`)
        break
      }
      case 'theirs':
        this.write(act.cell)
        break
      case 'line ends': {
        const text = this.disk.text(SHEETS[act.sheet])!
        this.disk.put(SHEETS[act.sheet], text.includes('\r\n') ? text.replaceAll('\r\n', '\n') : text.replaceAll('\n', '\r\n'))
        break
      }
      case 'look':
        await this.look()
        break
      case 'save':
        await this.save()
        break
      case 'leave out': {
        await this.look()
        const { edits } = this.desk.review([])
        const one = edits[act.at % Math.max(1, edits.length)]
        if (one && this.desk.review([one.seq]).dependents.length === 0) await this.desk.save([one.seq])
        break
      }
      case 'discard': {
        const { edits } = await this.desk.history()
        const ours = edits.filter((e) => e.inForce && !e.outside && e.discardedBy === null)
        const one = ours[act.at % Math.max(1, ours.length)]
        if (one) await this.decide(() => this.desk.discard(one.seq))
        break
      }
      case 'undo':
      case 'redo': {
        const { edits, done } = await this.desk.history()
        const settled = edits[act.act === 'undo' ? done - 1 : done]?.name === 'settled'
        const before = this.page()
        // It is refused, in words, where theirs stands on it.
        await this.desk.step(act.act).catch(() => {})
        for (const [key, value] of this.page()) {
          const was = before.get(key)!
          if (was === value) continue
          if (was.endsWith('em') && this.theirs.get(key) === was && !this.decided.has(was) && !settled && act.act === 'undo') this.fail(`an undo took back their ${was} of ${key}`)
          this.decided.add(was)
        }
        break
      }
      case 'open again': {
        const before = this.page()
        await this.open()
        for (const [key, value] of this.page()) if (value !== before.get(key)) this.fail(`opened again, ${key} is ${value}, not ${before.get(key)}`)
        break
      }
      case 'new take':
        await this.desk.newTake(`take ${++this.next}`, 'here')
        break
      case 'from saved': {
        await this.look()
        await this.desk.newTake(`take ${++this.next}`, 'saved')
        break
      }
      case 'next take': {
        const { current, list } = await this.desk.takes()
        if (list.length > 1) await this.desk.switchTake(list[(list.findIndex((t) => t.id === current) + 1) % list.length].id)
        break
      }
      case 'backup': {
        const before = this.page()
        const [{ id, lost }] = await restore(this.db, await backUp(this.db))
        if (id === this.id) this.fail('a backup took the place of the project')
        if (lost) this.fail(`${lost} edits were left out of a backup`)
        const desk = Object.assign(new KeepingDesk(), { db: this.db })
        await desk.open(id, '')
        for (const path of SHEETS) if (desk.text(path) !== this.desk.text(path)) this.fail(`${path} came back from the backup as another`)
        if ((await desk.takes()).list.length !== (await this.desk.takes()).list.length) this.fail('a take did not come back from the backup')
        await removeProject(this.db, id)
        for (const [key, value] of this.page()) if (value !== before.get(key)) this.fail(`${key} is ${value}`)
        break
      }
      case 'save in a race':
        await this.look()
        this.hook = this.once(act.at, () => this.write(act.cell))
        await this.desk.save([])
        break
      case 'save that fails': {
        await this.look()
        const before = SHEETS.map((p) => this.disk.text(p))
        this.hook = this.once(act.at, () => {
          throw new DOMException('', 'QuotaExceededError')
        })
        const saved = await this.desk.save([])
        if (!saved.ok && SHEETS.some((p, i) => this.disk.text(p) !== before[i])) this.fail('a save that failed changed a file')
        break
      }
      case 'save that is cut off': {
        await this.look()
        const before = SHEETS.map((p) => this.disk.text(p))
        const after = SHEETS.map((p) => this.desk.text(p))
        const cut = new Promise<void>((isCut) => {
          this.hook = this.once(act.at, () => {
            isCut()
            return new Promise<void>(() => {})
          })
        })
        await Promise.race([this.desk.save([]), cut])
        SHEETS.forEach((p, i) => {
          if (this.disk.text(p) !== before[i] && this.disk.text(p) !== after[i]) this.fail(`${p} is neither as before the save nor as after it`)
        })
        this.hook = () => {}
        await this.open()
      }
    }
    this.hook = () => {}
    await this.check(act, journal)
  }

  private once(at: number, work: () => void | Promise<void>): () => void | Promise<void> {
    let n = 0
    return () => (n++ === at ? work() : undefined)
  }

  private async check(act: Act, journal: readonly string[]): Promise<void> {
    for (const c of CELLS) {
      const word = this.theirs.get(keyOf(c))
      if (word === undefined || this.there(c) === word) continue
      if (!this.decided.has(word)) this.fail(`their ${word} of ${keyOf(c)} is ${this.there(c)} in the folder, and nobody here decided that`)
      this.theirs.delete(keyOf(c))
    }
    const { edits } = await this.desk.history()
    // Edits that were undone go with the next one; all others stay, and so do those of the take that was left.
    if (!['set', 'discard', 'undo', 'new take', 'next take', 'from saved'].includes(act.act)) {
      const kept = edits.map((e) => e.after)
      const gone = journal.find((after, i) => kept[i] !== after)
      if (gone) this.fail(`the edit to ${gone} is not in the journal any more`)
    }
  }

  /** All is looked at and saved; then the folder, the page and what is said of both are the same. */
  async end(): Promise<void> {
    this.doing = 'at the end'
    for (let n = 0; n < 3; n++) {
      await this.look()
      if ((await this.desk.save([])).ok) break
    }
    await this.check({ act: 'look' }, [])
    for (const path of SHEETS) if (this.disk.text(path) !== this.desk.text(path)) this.fail(`${path} is not in the folder as it is here`)
    if (this.desk.review([]).files.length) this.fail('all is saved, and a save would write something')
    const before = this.page()
    await this.open()
    for (const [key, value] of this.page()) if (value !== before.get(key)) this.fail(`opened again, ${key} is ${value}, not ${before.get(key)}`)
  }
}
