/** Random acts of ours and of another program on one project, each held against a model of who wrote what. */
import Dexie from 'dexie'
import { folderOf, type FolderPlace } from '../src/folder'
import { backUp, restore } from '../src/storage/backup'
import { Database } from '../src/storage/db'
import { createProject, removeProject } from '../src/storage/projects'
import { Desk, type Saved } from '../src/desk'
import type { Hook } from '../tests/support/memory-folder'
import { RULES, SHEETS, type Act, type Cell } from './interleave-acts'

/** A folder that this and another program write; what is done through `place` asks a hook before each step. */
export interface Disk {
  readonly place: FolderPlace
  put(path: string, text: string): Promise<void>
  /** Null where it has no such file. */
  read(path: string): Promise<string | null>
  remove(path: string): Promise<void>
  /** Runs git there; whether it did what it was asked. Null where the folder is in no repository. */
  readonly git: ((...args: readonly string[]) => Promise<boolean>) | null
  /** Closes what a window that was ended had open, as the platform does. */
  closeAll(): Promise<void>
}

export type MakeDisk = (hook: Hook) => Promise<Disk>

const bytes = (text: string) => new TextEncoder().encode(text)
const PAGE = '<p>'

const startOf = () => `${Array.from({ length: RULES }, (_, i) => `.r${i} {\n  top: 0;\n}\n`).join('\n')}`
const valueIn = (text: string, rule: number): string => new RegExp(`\\.r${rule} \\{\\s*top: ([^;]+);`).exec(text)?.[1] ?? 'gone'
const keyOf = (c: Cell) => `${SHEETS[c.sheet]} .r${c.rule}`
const CELLS: readonly Cell[] = SHEETS.flatMap((_, sheet) => Array.from({ length: RULES }, (_, rule) => ({ sheet, rule })))

const ELSEWHERE = 'It is edited in another window.'

/** The desk of one window, with a connection of its own to the storage that can be cut. */
class Window {
  readonly desk: Desk
  private readonly db: Database
  /** How many writes there are until all ends; what is asked for after that is never done. */
  private left = Infinity
  private isDead = false
  private tellDead = () => {}

  constructor(name: string, place: FolderPlace, project: () => string) {
    this.db = new Database(name)
    this.db.use({
      stack: 'dbcore',
      name: 'ends',
      create: (down) => ({
        ...down,
        table: (table) => {
          const below = down.table(table)
          return {
            ...below,
            mutate: (request) => (this.mayWrite() ? below.mutate(request) : Promise.reject(new Error('ended'))),
          }
        },
      }),
    })
    // A folder that asks before each step is no handle that a database could hold.
    if (place.served === undefined)
      Object.assign(this.db.folders, {
        get: (id: string) => Dexie.Promise.resolve(id === project() ? { project: id, ...place, include: [] } : undefined),
      })
    this.desk = new Desk()
    Object.assign(this.desk.current, { db: this.db })
  }

  /** Counts a write. Whether it may be made. */
  mayWrite(): boolean {
    if (!this.isDead && this.left-- > 0) return true
    this.isDead = true
    this.tellDead()
    return false
  }

  /** Does `work`, and ends all at the `at`th write of it. */
  async endIn(at: number, work: () => Promise<unknown>): Promise<void> {
    const isEnded = new Promise<void>((tell) => {
      this.tellDead = tell
    })
    this.left = at
    await Promise.race([work().catch(() => {}), isEnded])
    this.isDead = true
    // A transaction under way is over before its storage is opened again, as in a browser.
    await new Promise((done) => setTimeout(done))
    this.db.close()
  }

  close(): void {
    this.db.close()
  }
}

let runs = 0

/**
 * Makes the acts one after the other. Ours are lengths in px, theirs in em, each another one, so that a value tells who
 * finished it. @returns how many acts were made. @throws Error with what the model says otherwise.
 */
export async function interleave(acts: readonly Act[], makeDisk: MakeDisk): Promise<number> {
  const world = new World()
  try {
    await world.begin(makeDisk)
    for (const act of acts) await world.make(act)
    await world.end()
  } finally {
    await world.close()
  }
  return acts.length
}

type Values = ReadonlyMap<string, string>

class World {
  private readonly name = `interleave ${++runs}`
  private readonly db = new Database(this.name)
  private disk!: Disk
  private hook: Hook = () => {}
  private window!: Window
  private id = ''
  private next = 0
  /** Their last word on each rule, while the folder is to have it. */
  private readonly theirs = new Map<string, string>()
  /** Words of theirs that a person here decided about: by an edit over one that the page showed, or by a choice. */
  private readonly decided = new Set<string>()
  /** Files that another program deleted, and that nobody here asked for since. */
  private readonly gone = new Set<string>()
  /** Files that a person here chose to leave deleted, and that were not seen in the folder since: an edit asks for them again. */
  private readonly leftGone = new Set<string>()
  /** Files that a save is to write again, and that the folder was not seen to have since. */
  private readonly wanted = new Set<string>()
  private doing = ''

  private get desk(): Desk {
    return this.window.desk
  }

  private fail(why: string): never {
    throw new Error(`${this.doing}: ${why}`)
  }

  async begin(makeDisk: MakeDisk): Promise<void> {
    this.disk = await makeDisk(async (doing, path) => {
      if (this.window && !this.window.mayWrite()) await new Promise(() => {})
      await this.hook(doing, path)
    })
    const files = [{ path: 'index.html', bytes: bytes(PAGE) }, ...SHEETS.map((path) => ({ path, bytes: bytes(startOf()) }))]
    for (const f of files) await this.disk.put(f.path, new TextDecoder().decode(f.bytes))
    await this.disk.git?.('init', '-q')
    await this.disk.git?.('add', '-A')
    await this.disk.git?.('commit', '-qm', 'Pier')
    const { place } = this.disk
    const listing = await folderOf(place).list(new Set())
    if (place.served === undefined) {
      this.id = await createProject(this.db, 'Pier', files)
      await this.db.onDisk.bulkPut(
        listing.files.map(({ path, modified, size }) => ({ project: this.id, path, bytes: null, modified, size })),
      )
    } else
      this.id = await createProject(
        this.db,
        'Pier',
        files.map((f) => ({ path: f.path, bytes: null })),
        { place, include: [], kept: null, stamps: new Map(listing.files.map(({ path, modified, size }) => [path, { modified, size }])) },
      )
    await this.open()
    await this.desk.opening.readRest(() => {})
  }

  async close(): Promise<void> {
    this.window?.close()
    await this.db.delete()
  }

  private async open(): Promise<void> {
    this.window?.close()
    this.window = new Window(this.name, this.disk.place, () => this.id)
    const opened = await this.desk.opening.open(this.id, '')
    if (!opened) this.fail('the project cannot be opened')
    if (opened.lost) this.fail(`${opened.lost} edits of the journal do not fit its files`)
  }

  private valuesOf = (text: (path: string) => string | null): Values =>
    new Map(CELLS.map((c) => [keyOf(c), valueIn(text(SHEETS[c.sheet]) ?? '', c.rule)]))
  private page = (): Values => this.valuesOf((path) => this.desk.current.text(path))
  private async onDisk(): Promise<Map<string, string | null>> {
    return new Map(await Promise.all(SHEETS.map(async (path) => [path, await this.disk.read(path)] as const)))
  }
  private async there(): Promise<Values> {
    const texts = await this.onDisk()
    return this.valuesOf((path) => texts.get(path) ?? null)
  }

  private async write(c: Cell): Promise<void> {
    const path = SHEETS[c.sheet]
    const value = `${++this.next}em`
    await this.disk.put(
      path,
      ((await this.disk.read(path)) || startOf()).replace(new RegExp(`(\\.r${c.rule} \\{\\s*top: )[^;]+`), `$1${value}`),
    )
    this.theirs.set(keyOf(c), value)
    this.gone.delete(path)
  }

  private async delete(sheet: number): Promise<void> {
    if ((await this.disk.read(SHEETS[sheet])) === null) return
    await this.disk.remove(SHEETS[sheet])
    if (!this.wanted.has(SHEETS[sheet])) this.gone.add(SHEETS[sheet])
    for (const c of CELLS) if (c.sheet === sheet) this.theirs.delete(keyOf(c))
  }

  /** What an act of ours changed on the page was seen there, and so decided about; so was a file that it writes to. */
  private async decide(work: () => Promise<unknown>): Promise<void> {
    const before = this.page()
    await work()
    this.noteSeen(before)
    for (const [key, value] of this.page()) {
      const [path] = key.split(' ')
      if (before.get(key) === value || !this.leftGone.delete(path)) continue
      this.gone.delete(path)
      this.wanted.add(path)
    }
  }

  private noteSeen(before: Values): void {
    for (const [key, value] of this.page()) if (before.get(key) !== value) this.decided.add(before.get(key)!)
  }

  private async look(): Promise<void> {
    for (const [path, text] of await this.onDisk()) {
      if (text === null) continue
      this.wanted.delete(path)
      this.leftGone.delete(path)
    }
    const check = (await this.desk.folder.check())!
    for (const path of check.conflicts) {
      // A file that nobody edits any more once another was settled goes without being asked about.
      if (await this.settle(path)) continue
      await this.open()
      await this.desk.folder.check()
      return
    }
    if (check.unreadable.length) this.fail(check.unreadable[0].why)
    // With nothing of ours in it, it stays deleted without being asked about.
    for (const path of this.gone) if (!check.conflicts.includes(path) && this.desk.current.text(path) !== null) this.leftGone.add(path)
    if (check.reopen.length === 0) return
    if (check.reopen.some((path) => path === 'index.html')) this.fail(`opened again for ${check.reopen.join()}`)
    await this.open()
    await this.desk.folder.check()
  }

  /** Whether the project stays open with it. */
  private async settle(path: string): Promise<boolean> {
    const conflict = await this.desk.folder.conflict(path)
    if (!conflict) this.fail(`the conflict of ${path} cannot be looked at`)
    // While it is open nothing is written, and their word is in sight.
    const saved = await this.desk.saving.save([])
    if (saved.ok) this.fail(`${path} is in conflict and was saved`)
    if (saved.check?.reopen.length) return false
    const [now, there] = [this.page(), await this.there()]
    const shown = JSON.stringify(conflict.parts)
    for (const c of CELLS) {
      const [key, word] = [keyOf(c), there.get(keyOf(c))!]
      if (
        SHEETS[c.sheet] === path &&
        word !== now.get(key) &&
        this.theirs.get(key) === word &&
        !this.decided.has(word) &&
        !shown.includes(`top: ${word};`)
      )
        this.fail(`${word} of ${path} is not shown in the conflict`)
    }
    const places = conflict.parts.filter((p) => p.kind === 'conflict')
    const choices = places.map((_, i) => ((this.next + i) % 2 ? ('ours' as const) : ('theirs' as const)))
    places.forEach((p, i) => {
      if (choices[i] === 'ours') for (const [, value] of p.theirs.join('').matchAll(/top: ([^;]+);/g)) this.decided.add(value)
    })
    if (conflict.isDeleted && choices[0] === 'ours') {
      this.gone.delete(path)
      this.wanted.add(path)
    } else if (conflict.isDeleted) this.leftGone.add(path)
    await this.desk.folder.settle(path, choices)
    return true
  }

  private async trySave(leave: readonly number[] = [], others: readonly string[] = []): Promise<Saved> {
    const saved = await this.desk.saving.save(leave, others)
    // Written by a save, a file is in the folder as any other.
    if (saved.ok) for (const [path, text] of await this.onDisk()) if (text !== null) this.wanted.delete(path)
    // What came or went in the folder meanwhile opens the project again, as the window does then.
    if (!saved.ok && saved.check?.reopen.length) await this.open()
    return saved
  }

  private async save(leave: readonly number[] = []): Promise<void> {
    await this.look()
    const saved = await this.trySave(leave)
    if (!saved.ok || leave.length) return
    // The words on the screen are true: what was saved is in the folder.
    const there = await this.onDisk()
    for (const path of SHEETS)
      if (!this.gone.has(path) && this.desk.current.text(path) !== null && there.get(path) !== this.desk.current.text(path))
        this.fail(`saved, and ${path} is not in the folder as it is here`)
    if (saved.state.rows.length || saved.state.changed.length)
      this.fail(`saved, and ${[...saved.state.changed, ...saved.state.rows.map((r) => r.after)].join()} is said not to be`)
  }

  /** A save that leaves out what is not of this take, or was undone: that file stays as it is in the folder. */
  private async leaveOther(path: string): Promise<void> {
    const before = await this.disk.read(path)
    if ((await this.trySave([], [path])).ok && (await this.disk.read(path)) !== before)
      this.fail(`${path} was left out of a save, and written`)
  }

  private async set(c: Cell): Promise<void> {
    const value = `${++this.next}px`
    const sheet = SHEETS[c.sheet]
    const text = this.desk.current.text(sheet)
    if (text === null) return
    const stands = await this.desk.places.standsAt(sheet, text.replaceAll('\r\n', '\n').indexOf(`.r${c.rule}`))
    if (!stands || !('rule' in stands)) this.fail(`${keyOf(c)} is gone`)
    await this.decide(() =>
      this.desk.editing.commit({ kind: 'set', aim: { kind: 'rule', sheet, rule: stands.rule }, name: 'top', value }, 1),
    )
  }

  private async nextTake(): Promise<void> {
    const { current, list } = await this.desk.takes.all()
    if (list.length > 1) await this.desk.takes.switchTake(list[(list.findIndex((t) => t.id === current) + 1) % list.length].id)
  }

  async make(act: Act): Promise<void> {
    this.doing = JSON.stringify(act)
    const history = await this.desk.history.read()
    const journal = history.edits.slice(0, history.done).map((e) => e.after)
    switch (act.act) {
      case 'set':
        await this.set(act.cell)
        if (this.desk.current.text(SHEETS[act.cell.sheet]) !== null && this.page().get(keyOf(act.cell)) !== `${this.next}px`)
          this.fail(`${keyOf(act.cell)} is ${this.page().get(keyOf(act.cell))}`)
        break
      case 'theirs':
        await this.write(act.cell)
        break
      case 'delete':
        await this.delete(act.sheet)
        break
      case 'put back':
        if (this.gone.has(SHEETS[act.sheet])) {
          await this.disk.put(SHEETS[act.sheet], startOf())
          this.gone.delete(SHEETS[act.sheet])
        }
        break
      case 'line ends': {
        const text = await this.disk.read(SHEETS[act.sheet])
        if (text !== null)
          await this.disk.put(SHEETS[act.sheet], text.includes('\r\n') ? text.replaceAll('\r\n', '\n') : text.replaceAll('\n', '\r\n'))
        break
      }
      case 'git':
        await this.git(act.does)
        break
      case 'look':
        await this.look()
        break
      case 'save':
        await this.save()
        break
      case 'leave out': {
        await this.look()
        const { edits, others } = await this.desk.saving.review([])
        const one = edits[act.at % Math.max(1, edits.length)]
        if (one && (await this.desk.saving.review([one.seq])).dependents.length === 0) await this.save([one.seq])
        const other = others.find((o) => !o.isStoodOn)
        if (!one && other) await this.leaveOther(other.path)
        break
      }
      case 'discard': {
        const { edits } = await this.desk.history.read()
        const ours = edits.filter((e) => e.inForce && !e.outside && e.discardedBy === null)
        const one = ours[act.at % Math.max(1, ours.length)]
        if (one) await this.decide(() => this.desk.history.discard(one.seq))
        break
      }
      case 'undo':
      case 'redo':
        await this.step(act.act)
        break
      case 'open again':
        await this.openAgain()
        break
      case 'new take':
        await this.desk.takes.newTake(`take ${++this.next}`, 'here')
        break
      case 'from saved':
        await this.look()
        await this.desk.takes.newTake(`take ${++this.next}`, 'saved')
        break
      case 'next take':
        await this.nextTake()
        break
      case 'backup':
        await this.backUp()
        break
      case 'other window':
        await this.otherWindow(act.takesOver, act.cell)
        break
      case 'save in a race':
        await this.look()
        // Between the last look at a file and its change no platform lets another program be heard.
        this.hook = this.once(act.at, (doing) => (doing === 'close' ? 'later' : this.write(act.cell)))
        await this.trySave()
        break
      case 'save that fails': {
        await this.look()
        const before = await this.onDisk()
        this.hook = this.once(act.at, () => {
          throw new DOMException('', 'QuotaExceededError')
        })
        const saved = await this.trySave()
        const there = await this.onDisk()
        if (!saved.ok && SHEETS.some((p) => there.get(p) !== before.get(p))) this.fail('a save that failed changed a file')
        break
      }
      case 'killed':
        await this.killed(act)
    }
    this.hook = () => {}
    await this.check(act, journal)
  }

  private isStashed = false

  /** By hand: what the folder has after it is what somebody wants it to have. */
  private async git(does: 'checkout' | 'stash' | 'pop' | 'commit'): Promise<void> {
    const git = this.disk.git
    if (!git || (does === 'stash' || does === 'commit' ? this.isStashed : does === 'pop' && !this.isStashed)) return
    const [before, files] = [await this.there(), await this.onDisk()]
    if (does === 'checkout') await git('checkout', '-q', '--', '.')
    else if (does === 'commit') await git('commit', '-qam', 'more')
    // There may be nothing to put aside; and it stays aside where files are in its way.
    else if (does === 'stash') this.isStashed = (await git('diff', '--quiet')) ? false : await git('stash', '-q')
    else this.isStashed = !(await git('stash', 'pop', '-q'))
    const [after, texts] = [await this.there(), await this.onDisk()]
    for (const path of SHEETS) {
      if (files.get(path) !== null && texts.get(path) === null) {
        if (!this.wanted.has(path)) this.gone.add(path)
        for (const c of CELLS) if (SHEETS[c.sheet] === path) this.theirs.delete(keyOf(c))
      } else if (files.get(path) === null && texts.get(path) !== null) this.gone.delete(path)
    }
    for (const [key, value] of after) {
      if (before.get(key) === value || value === 'gone') continue
      // What was saved here comes back as ours.
      if (value.endsWith('px')) this.theirs.delete(key)
      else this.theirs.set(key, value)
    }
  }

  private async step(by: 'undo' | 'redo'): Promise<void> {
    const { edits, done } = await this.desk.history.read()
    const settled = edits[by === 'undo' ? done - 1 : done]?.name === 'settled'
    const before = this.page()
    // It is refused, in words, where theirs stands on it.
    await this.desk.history.step(by).catch(() => {})
    for (const [key, value] of this.page()) {
      const was = before.get(key)!
      if (was !== value && was.endsWith('em') && this.theirs.get(key) === was && !this.decided.has(was) && !settled && by === 'undo')
        this.fail(`an undo took back their ${was} of ${key}`)
    }
    this.noteSeen(before)
  }

  private async openAgain(): Promise<void> {
    const before = this.page()
    await this.open()
    for (const [key, value] of this.page())
      if (value !== before.get(key)) this.fail(`opened again, ${key} is ${value}, not ${before.get(key)}`)
  }

  private async backUp(): Promise<void> {
    const before = this.page()
    const [{ id, lost }] = await restore(this.db, await backUp(this.db))
    if (id === this.id) this.fail('a backup took the place of the project')
    if (lost) this.fail(`${lost} edits were left out of a backup`)
    const beside = new Window(this.name, this.disk.place, () => this.id)
    await beside.desk.opening.open(id, '')
    for (const path of SHEETS)
      if (beside.desk.current.text(path) !== this.desk.current.text(path)) this.fail(`${path} came back from the backup as another`)
    if ((await beside.desk.takes.all()).list.length !== (await this.desk.takes.all()).list.length)
      this.fail('a take did not come back from the backup')
    beside.close()
    await removeProject(this.db, id)
    for (const [key, value] of this.page()) if (value !== before.get(key)) this.fail(`${key} is ${value}`)
  }

  /** Another window shows the project and changes nothing of it; or it takes it over, and this one changes nothing more. */
  private async otherWindow(takesOver: boolean, c: Cell): Promise<void> {
    const before = this.page()
    const other = new Window(this.name, this.disk.place, () => this.id)
    await other.desk.opening.open(this.id, '')
    const [reads, writes] = takesOver ? [this.window, other] : [other, this.window]
    reads.desk.current.setReadOnly(ELSEWHERE)
    const count = (await writes.desk.history.read()).edits.length
    const sheet = SHEETS[c.sheet]
    const stands =
      reads.desk.current.text(sheet) === null
        ? null
        : await reads.desk.places.standsAt(sheet, reads.desk.current.text(sheet)!.replaceAll('\r\n', '\n').indexOf(`.r${c.rule}`))
    const tries: (() => Promise<unknown>)[] = [
      () => reads.desk.folder.check(),
      () => reads.desk.saving.save([]),
      () => reads.desk.history.step('undo'),
      () => reads.desk.history.step('redo'),
      () => reads.desk.takes.newTake('none', 'here'),
      ...(stands && 'rule' in stands
        ? [
            () =>
              reads.desk.editing.commit(
                { kind: 'set', aim: { kind: 'rule' as const, sheet, rule: stands.rule }, name: 'top', value: '0.5px' },
                1,
              ),
          ]
        : []),
    ]
    const there = JSON.stringify([...(await this.onDisk())])
    // Each is refused, as a value or in words.
    for (const attempt of tries) await attempt().catch(() => {})
    if (JSON.stringify([...(await this.onDisk())]) !== there) this.fail('a window that only looks at the project wrote to its folder')
    if ((await writes.desk.history.read()).edits.length !== count) this.fail('a window that only looks at the project edited it')
    reads.close()
    this.window = writes
    for (const [key, value] of this.page())
      if (value !== before.get(key)) this.fail(`in the other window ${key} is ${value}, not ${before.get(key)}`)
    if (!takesOver) await this.openAgain()
  }

  private async killed(act: Extract<Act, { act: 'killed' }>): Promise<void> {
    await this.look()
    const before = await this.onDisk()
    const page = this.page()
    const work = {
      set: () => this.set(act.cell),
      save: () => this.desk.saving.save([]),
      look: () => this.desk.folder.check(),
      undo: () => this.desk.history.step('undo'),
      redo: () => this.desk.history.step('redo'),
      'next take': () => this.nextTake(),
      'new take': () => this.desk.takes.newTake(`take ${++this.next}`, 'here'),
    }[act.in]
    if (act.in === 'look') await this.write(act.cell)
    const written = await this.onDisk()
    await this.window.endIn(act.at, work)
    await this.disk.closeAll()
    // What was set was asked for, whether or not it came to be.
    if (act.in === 'set') this.noteSeen(page)
    const saved = new Map(SHEETS.map((p) => [p, this.desk.current.text(p)]))
    await this.open()
    const there = await this.onDisk()
    for (const p of SHEETS) {
      if (act.in === 'save' && there.get(p) !== before.get(p) && there.get(p) !== saved.get(p))
        this.fail(`${p} is neither as before the save nor as after it`)
      if (act.in !== 'save' && there.get(p) !== written.get(p)) this.fail(`${p} was written`)
    }
    if (act.in === 'save') for (const p of SHEETS) if (there.get(p) !== null && there.get(p) === saved.get(p)) this.wanted.delete(p)
    if (act.in === 'undo' || act.in === 'redo') this.noteSeen(page)
  }

  private once(at: number, work: (doing: string) => void | 'later' | Promise<void>): Hook {
    let left = at
    let isDone = false
    return async (doing) => {
      if (isDone || left-- > 0) return
      isDone = true
      if ((await work(doing)) === 'later') isDone = false
    }
  }

  private async check(act: Act, journal: readonly string[]): Promise<void> {
    const [texts, there] = [await this.onDisk(), await this.there()]
    for (const path of this.gone)
      if (texts.get(path) !== null) this.fail(`${path} was deleted by another program, and nobody here asked for it to be written`)
    for (const c of CELLS) {
      const word = this.theirs.get(keyOf(c))
      if (word === undefined || there.get(keyOf(c)) === word) continue
      if (!this.decided.has(word))
        this.fail(`their ${word} of ${keyOf(c)} is ${there.get(keyOf(c))} in the folder, and nobody here decided that`)
      this.theirs.delete(keyOf(c))
    }
    const { edits } = await this.desk.history.read()
    // Edits that were undone go with the next one; all others stay, and so do those of the take that was left.
    const replaces = ['set', 'discard', 'undo', 'new take', 'next take', 'from saved']
    if (!replaces.includes(act.act === 'killed' ? act.in : act.act)) {
      const kept = edits.map((e) => e.after)
      const lost = journal.find((after, i) => kept[i] !== after)
      if (lost) this.fail(`the edit to ${lost} is not in the journal any more`)
    }
  }

  /** All is looked at and saved; then the folder, the page and what is said of both are the same. */
  async end(): Promise<void> {
    this.doing = 'at the end'
    for (let n = 0; n < 3; n++) {
      await this.look()
      if ((await this.trySave()).ok) break
    }
    await this.check({ act: 'look' }, [])
    const there = await this.onDisk()
    for (const path of SHEETS)
      if (!this.gone.has(path) && there.get(path) !== this.desk.current.text(path)) this.fail(`${path} is not in the folder as it is here`)
    if ((await this.desk.saving.review([])).files.length) this.fail('all is saved, and a save would write something')
    await this.openAgain()
  }
}
