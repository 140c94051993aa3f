/**
 * `npm run interleave -- [--runs N] [--acts N] [--seed S] [--browser | --served] [--json]`: random acts of ours and of another program on a
 * project linked to a folder, saves that fail, are raced or end in the middle among them, held against a model of who wrote
 * what. The folder is in memory; with `--browser`, Chromium's own storage and an origin-private folder; with `--served`, a folder on the disk
 * through the local server, where git is used by hand too. Exits 1 on a
 * difference, with the shortest sequence that was found.
 */
import fc from 'fast-check'
import type { Act } from './interleave-acts'
import { flag, option } from './options'

const [runs, count, seed] = [option('--runs', 500), option('--acts', 40), option('--seed', 1)]
const { anAct, anActWithGit } = await import('./interleave-acts')
const { play, close } = flag('served')
  ? await (await import('./interleave-served')).playground()
  : flag('browser')
    ? await (await import('./interleave-browser')).playground()
    : await (await import('./interleave-memory')).playground()

/** Leaves acts out while what is left is still at fault, ever fewer at a time. */
async function shortest(acts: readonly Act[]): Promise<readonly Act[]> {
  let left = acts
  for (let size = Math.ceil(left.length / 2); size >= 1; size = Math.floor(size / 2)) {
    for (let at = 0; at < left.length;) {
      const fewer = [...left.slice(0, at), ...left.slice(at + size)]
      if (await play(fewer)) left = fewer
      else at += size
    }
  }
  return left
}

let acts = 0
let done = 0
let differences = 0
try {
  for (const list of fc.sample(fc.array(flag('served') ? anActWithGit : anAct, { minLength: count, maxLength: count, size: 'max' }), {
    numRuns: runs,
    seed,
  })) {
    const why = await play(list)
    done++
    acts += list.length
    if (done % 250 === 0) console.error(`${done} runs`)
    if (!why) continue
    differences++
    const least = await shortest(list)
    console.log(least.map((a) => JSON.stringify(a)).join('\n'))
    console.log((await play(least)) ?? why)
    break
  }
} finally {
  await close()
}
console.log(`${done} runs, ${acts} acts, ${differences} differences`)
if (flag('json')) console.log(JSON.stringify({ runs: done, acts, differences, seed }))
process.exitCode = differences ? 1 : 0
