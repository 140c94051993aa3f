/**
 * `npm run interleave -- [--runs N] [--acts N] [--seed S] [--json]`: random acts of ours and of another program on a project
 * linked to a folder in memory, saves that fail, are cut off or raced at each step among them, held against a model of who
 * wrote what. Exits 1 on a difference, with the shortest sequence that was found.
 */
import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { option } from './options'

const { anAct, interleave } = await import('./interleave-run')
const [runs, most, seed] = [option('--runs', 500), option('--acts', 40), option('--seed', 1)]
let acts = 0
const found = await fc.check(fc.asyncProperty(fc.array(anAct, { minLength: Math.min(5, most), maxLength: most, size: 'max' }), async (list) => {
  acts += await interleave(list)
}), { numRuns: runs, seed })
if (found.failed) {
  console.log(found.counterexample![0].map((a) => JSON.stringify(a)).join('\n'))
  console.log(String(found.errorInstance))
}
console.log(`${found.numRuns} runs, ${acts} acts, ${found.failed ? 1 : 0} differences`)
if (process.argv.includes('--json')) console.log(JSON.stringify({ runs: found.numRuns, acts, differences: found.failed ? 1 : 0, seed }))
process.exitCode = found.failed ? 1 : 0
