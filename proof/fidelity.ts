/**
 * `npm run fidelity -- DIR [--edits N] [--seed S] [--jobs N] [--controls | --classes] [--json]`: random edits of a site through the product's own live page
 * (elements, properties, values, states, widths and aims at random), each compared, computed value by computed value over
 * the whole page, with the written files loaded afresh from a bare server. Exits 1 when one differs and the product did
 * not say so, or when an edit changed more than its reach. With `--controls` the edits are made by the fields, buttons and
 * lists of Tune, and what the page shows afterwards is compared; with `--classes` they land in class lists,
 * and the bare server serves what a build of the written files compiles. `--jobs` shares the edits out among pairs of browsers.
 */
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'
import { FidelityByControls } from './fidelity-controls'
import { Fidelity, type FidelityResult } from './fidelity-intents'
import { FidelityOfClasses } from './fidelity-classes'
import { flag, folder, option } from './options'

const KINDS = { intents: Fidelity, controls: FidelityByControls, classes: FidelityOfClasses }

/** Runs a proof of a site in pairs of browsers. `by` controls, it drives the interface's own fields in place of its intents; of classes, edits land in class lists. */
export async function runFidelity(dir: string, edits: number, seed: number, by: keyof typeof KINDS = 'intents', jobs = 1): Promise<FidelityResult> {
  const start = performance.now()
  const app = await startApp()
  const run = async (job: number) => {
    const [ours, bare] = [await openBrowser(), await openBrowser()]
    try {
      const proof = new KINDS[by](new Studio(ours, app.url), bare, dir, seed + job * 1000)
      await proof.run(Math.floor((edits + job) / jobs))
      return proof
    } finally {
      await Promise.all([ours.close(), bare.close()])
    }
  }
  try {
    const proofs = await Promise.all(Array.from({ length: jobs }, (_, job) => run(job)))
    const sum = <K extends string>(of: readonly Readonly<Record<K, number>>[]) => of.reduce<Record<string, number>>((all, one) => {
      for (const [name, n] of Object.entries<number>(one)) all[name] = (all[name] ?? 0) + n
      return all
    }, {})
    return {
      ...(sum(proofs.map((p) => p.result)) as unknown as typeof proofs[0]['result']), pages: new Set(proofs.flatMap((p) => [...p.tried])).size,
      kinds: sum(proofs.map((p) => p.kinds)), seconds: Number(((performance.now() - start) / 1000).toFixed(1)), cases: proofs.flatMap((p) => p.cases),
    }
  } finally {
    app.stop()
  }
}

if (process.argv[1]?.endsWith('fidelity.ts')) {
  const dir = folder('fidelity', '[--edits N]')
  const { cases, ...result } = await runFidelity(dir, option('--edits', 200), option('--seed', 1), flag('controls') ? 'controls' : flag('classes') ? 'classes' : 'intents', option('--jobs', 1))
  for (const c of cases.slice(0, 40)) console.log(c.slice(0, 900))
  const { pages, edits, same, flagged, refused, silent, reloaded, seconds, reachWrong, outside, untouchedDiffers, kinds } = result
  console.log(`${pages} pages, ${edits} edits: ${same} same, ${flagged} flagged, ${refused} refused, ${silent} silent; ${reloaded} of the same after loading again; ${reachWrong} with another reach than told; ${outside} that changed more; ${untouchedDiffers} untouched pages that differ; ${seconds} s`)
  console.log(`by kind: ${Object.entries(kinds).map(([k, n]) => `${k} ${n}`).join(', ')}`)
  if (process.argv.includes('--json')) console.log(JSON.stringify(result))
  process.exitCode = silent || untouchedDiffers || outside ? 1 : 0
}
