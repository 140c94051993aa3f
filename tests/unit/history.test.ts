import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { backTo, commonStart, withoutEdits, type JournalEdit } from '../../src/core/edit'
import { Project } from '../../src/core/project'
import {
  applySplices,
  conflictsIn,
  createPatch,
  invertSplices,
  linesOf,
  lineSplices,
  mergedText,
  mergeTexts,
  rebase,
  type Splice,
} from '../../src/core/text'

const text = fc.string({ unit: fc.constantFrom('a', 'b', '{', '\n', 'é', '𝛑'), maxLength: 30 })
const splicesFor = (length: number) =>
  fc.array(fc.tuple(fc.nat(length), fc.nat(length), fc.string({ maxLength: 3 })), { maxLength: 4 }).map((raw) => {
    const points = raw.flatMap(([a, b]) => [a, b]).sort((a, b) => a - b)
    return raw.map(([, , insert], i): Splice => ({ from: points[2 * i], to: points[2 * i + 1], insert }))
  })

test('two sets that are apart give the same text in either order', () => {
  let apart = 0
  fc.assert(
    fc.property(
      text.chain((t) => fc.tuple(fc.constant(t), splicesFor(t.length), splicesFor(t.length))),
      ([t, a, b]) => {
        const r = rebase(a, b)
        if (!r) return
        apart++
        expect(applySplices(applySplices(t, a), r.b)).toBe(applySplices(applySplices(t, b), r.a))
      },
    ),
    { numRuns: 2000 },
  )
  expect(apart).toBeGreaterThan(200)
})

/** A chain of edits of whole lines: each line that is written is the only one of its name. */
function chain(base: readonly string[], steps: readonly { kind: number; at: number }[], name: string) {
  let lines = [...base]
  const edits: JournalEdit[] = []
  const did: { wrote: string | null; took: string | null }[] = []
  for (const [i, { kind, at }] of steps.entries()) {
    const from = lines.slice(0, at % (lines.length + 1)).join('').length
    const old = lines[at % (lines.length + 1)]
    const wrote = kind === 1 || old === undefined ? (kind === 1 ? null : `${name}${i}\n`) : `${name}${i}\n`
    const took = kind > 0 && old !== undefined ? old : null
    if (wrote === null && took === null) continue
    const splices = [{ from, to: from + (took?.length ?? 0), insert: wrote ?? '' }]
    const before = lines.join('')
    lines = linesOf(applySplices(before, splices))
    edits.push({
      seq: edits.length + 1,
      changes: [{ path: 'a', splices, inverse: invertSplices(splices, before) }],
      path: 'a',
      name: '',
      before: null,
      after: '',
      at: 0,
      label: '',
      reach: 0,
      made: i,
      verdict: { state: 'pending' },
    })
    did.push({ wrote, took })
  }
  return { edits, did, text: lines.join('') }
}
const steps = fc.array(fc.record({ kind: fc.nat(2), at: fc.nat(30) }), { minLength: 1, maxLength: 12 })
const BASE = Array.from({ length: 10 }, (_, i) => `line ${i}\n`)

test('an edit from the middle goes by itself, or those that stand on it are told', () => {
  let went = 0
  let told = 0
  fc.assert(
    fc.property(steps, fc.nat(11), (list, which) => {
      const { edits, did, text: now } = chain(BASE, list, 'e')
      fc.pre(edits.length > 0)
      const k = which % edits.length
      const out = withoutEdits(edits, new Set([k + 1]), () => BASE.join(''))
      if (!out.ok) {
        told++
        expect(Math.min(...out.dependents)).toBeGreaterThan(k + 1)
        // Left out with all that stand on it, it goes.
        expect(withoutEdits(edits, new Set([k + 1, ...out.dependents]), () => BASE.join('')).ok).toBe(true)
        return
      }
      went++
      const lines = linesOf(out.changes.reduce((t, c) => applySplices(t, c.splices), now))
      const { wrote, took } = did[k]
      if (wrote !== null) expect(lines).not.toContain(wrote)
      if (took !== null) expect(lines).toContain(took)
      // What the others wrote and took is as it was.
      for (const line of linesOf(now)) if (line !== wrote) expect(lines).toContain(line)
      expect(lines.length).toBe(linesOf(now).length - (wrote !== null ? 1 : 0) + (took !== null ? 1 : 0))
    }),
    { numRuns: 1000 },
  )
  expect(Math.min(went, told)).toBeGreaterThan(20)
})

test('back to any point is the text of that point', () => {
  fc.assert(
    fc.property(steps, fc.nat(12), (list, n) => {
      const { edits, text: now } = chain(BASE, list, 'e')
      const count = n % (edits.length + 1)
      const then = edits.slice(0, count).reduce((t, e) => applySplices(t, e.changes[0].splices), BASE.join(''))
      expect(backTo(edits, count, () => now).reduce((t, c) => applySplices(t, c.splices), now)).toBe(then)
      expect(commonStart(edits, [...edits.slice(0, count), ...edits.slice(count).map((e) => ({ ...e, made: -1 }))])).toBe(count)
    }),
  )
})

test('200 interleavings of ours and theirs end with both, or with a conflict that shows both; none is lost', () => {
  let clean = 0
  let met = 0
  fc.assert(
    fc.property(steps, steps, (mine, others) => {
      const base = BASE.join('')
      const ours = chain(BASE, mine, 'ours ')
      const theirs = chain(BASE, others, 'theirs ')
      const parts = mergeTexts(base, ours.text, theirs.text)
      expect(applySplices(ours.text, lineSplices(ours.text, theirs.text))).toBe(theirs.text)
      const all = [...linesOf(ours.text), ...linesOf(theirs.text)].filter((l) => !BASE.includes(l))
      const shown = new Set(parts.flatMap((p) => (p.kind === 'same' ? p.lines : [...p.ours, ...p.theirs])))
      for (const line of all) expect(shown).toContain(line)
      const conflicts = conflictsIn(parts)
      const merged = linesOf(
        mergedText(
          parts,
          Array.from({ length: conflicts }, () => 'both'),
        ),
      )
      for (const line of all) expect(merged).toContain(line)
      if (conflicts === 0) {
        clean++
        // What either took away is gone.
        for (const line of BASE) if (!ours.text.includes(line) || !theirs.text.includes(line)) expect(merged).not.toContain(line)
        expect(mergedText(mergeTexts(base, ours.text, ours.text))).toBe(ours.text)
      } else {
        met++
        expect(
          mergedText(
            parts,
            Array.from({ length: conflicts }, () => 'theirs'),
          ),
        ).not.toBe(
          mergedText(
            parts,
            Array.from({ length: conflicts }, () => 'ours'),
          ),
        )
      }
    }),
    { numRuns: 400 },
  )
  expect(Math.min(clean, met)).toBeGreaterThan(20)
})

test.each(['a\r\nb\r\n', 'a\nb', '', '\n\n', 'a\rb\r\nc\n'])('the lines of %j are all of it', (t) => expect(linesOf(t).join('')).toBe(t))

test('the patch of 200 random chains of edits passes git and gives the very bytes', () => {
  const dir = mkdtempSync(join(tmpdir(), 'steady-chains-'))
  const bytes = (t: string) => new TextEncoder().encode(t)
  const start: Readonly<Record<string, Uint8Array>> = {
    'a b/ü "quoted".css': bytes('.a { color: red; }\n\n.b {\n  margin: 0;\n}'),
    'crlf.css': bytes('.a {\r\n  top: 0;\r\n}\r\n'),
    'bom.html': bytes('\ufeff<p class="x">Tide</p>\n<p>Pier</p>\n'),
    '<script>.html': bytes('<ul>\n  <li>1</li>\n</ul>'),
  }
  execFileSync('git', ['init', '-q', dir])
  // Each chain in a folder of its own, so that git is asked twice and not 400 times.
  const chains: { folder: string; project: Project }[] = []
  let patch = ''
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.nat(3), fc.nat(60), fc.nat(8), fc.constantFrom('x', '\n', '/* é */\n', '', '\r\n', '<b>')), {
        minLength: 1,
        maxLength: 12,
      }),
      (list) => {
        const project = new Project(Object.entries(start).map(([path, b], i) => ({ key: i + 1, path, bytes: b })))
        for (const [file, at, length, insert] of list) {
          const path = Object.keys(start)[file]
          const now = project.text(path)
          const from = at % (now.length + 1)
          project.apply(path, [{ from, to: Math.min(now.length, from + length), insert }])
        }
        const changed = project.changedPaths()
        if (changed.length === 0) return
        const folder = `chain ${chains.length}`
        for (const [path, b] of Object.entries(start)) {
          mkdirSync(dirname(join(dir, folder, path)), { recursive: true })
          writeFileSync(join(dir, folder, path), b)
        }
        patch += createPatch(
          changed.map((path) => ({
            path: `${folder}/${path}`,
            before: project.original(path),
            after: project.text(path),
            bom: project.hasBom(path),
          })),
        )
        chains.push({ folder, project })
      },
    ),
    { numRuns: 220 },
  )
  expect(chains.length).toBeGreaterThanOrEqual(200)
  for (const check of [['--check'], []]) execFileSync('git', ['apply', '--whitespace=nowarn', ...check, '-'], { cwd: dir, input: patch })
  for (const { folder, project } of chains)
    for (const path of Object.keys(start)) expect(new Uint8Array(readFileSync(join(dir, folder, path)))).toEqual(project.bytes(path))
}, 120_000)
