/**
 * `npm run fidelity -- DIR [--edits N] [--seed S] [--controls | --classes] [--json]`: random edits of a site through the product's own live page
 * (elements, properties, values, states, widths and aims at random), each compared, computed value by computed value over
 * the whole page, with the written files loaded afresh from a bare server. Exits 1 when one differs and the product did
 * not say so, or when an edit changed more than its reach. With `--controls` the edits are made by the fields, buttons and
 * lists of Tune, and what the page shows afterwards is compared; with `--classes` they land in class lists,
 * and the bare server serves what a build of the written files compiles.
 */
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'
import { FidelityByControls } from './fidelity-controls'
import { Fidelity, type FidelityResult } from './fidelity-intents'
import { FidelityOfClasses } from './fidelity-classes'
import { flag, folder, option } from './options'

const KINDS = { intents: Fidelity, controls: FidelityByControls, classes: FidelityOfClasses }

/** Runs a proof of a site in two browsers. `by` controls, it drives the interface's own fields in place of its intents; of classes, edits land in class lists. */
export async function runFidelity(dir: string, edits: number, seed: number, by: keyof typeof KINDS = 'intents'): Promise<FidelityResult> {
  const start = performance.now()
  const app = await startApp()
  const [ours, bare] = [await openBrowser(), await openBrowser()]
  try {
    const proof = new KINDS[by](new Studio(ours, app.url), bare, dir, seed)
    await proof.run(edits)
    return {
      ...proof.result,
      kinds: proof.kinds,
      seconds: Number(((performance.now() - start) / 1000).toFixed(1)),
      cases: proof.cases,
    }
  } finally {
    await Promise.all([ours.close(), bare.close()])
    app.stop()
  }
}

if (process.argv[1]?.endsWith('fidelity.ts')) {
  const dir = folder('fidelity', '[--edits N]')
  const { cases, ...result } = await runFidelity(
    dir,
    option('--edits', 200),
    option('--seed', 1),
    flag('controls') ? 'controls' : flag('classes') ? 'classes' : 'intents',
  )
  for (const c of cases.slice(0, 40)) console.log(c.slice(0, 900))
  const { pages, edits, same, flagged, refused, silent, reloaded, seconds, reachWrong, outside, untouchedDiffers, kinds } = result
  console.log(
    `${pages} pages, ${edits} edits: ${same} same, ${flagged} flagged, ${refused} refused, ${silent} silent; ${reloaded} of the same after loading again; ${reachWrong} with another reach than told; ${outside} that changed more; ${untouchedDiffers} untouched pages that differ; ${seconds} s`,
  )
  console.log(
    `by kind: ${Object.entries(kinds)
      .map(([k, n]) => `${k} ${n}`)
      .join(', ')}`,
  )
  if (process.argv.includes('--json')) console.log(JSON.stringify(result))
  process.exitCode = silent || untouchedDiffers || outside ? 1 : 0
}
