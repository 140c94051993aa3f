/** `npm run bench [-- --json]`: the budgets of the design, each as a ratio within this one run. */
import { cpus, totalmem } from 'node:os'
import { benchCore } from './core'
import { benchDevServers } from './dev-server'
import { benchFolder } from './folder'
import { benchFirstLoad } from './first-load'
import { benchInterface } from './interface'

const rows = [...(await benchInterface()), await benchFirstLoad(), ...(await benchDevServers()), ...(await benchFolder()), ...benchCore()]
const [cpu] = cpus()
console.log(`${cpus().length} cores, ${cpu.model}, ${Math.round(totalmem() / 2 ** 30)} GiB, Node ${process.version}`)
for (const r of rows)
  console.log(`${r.ok ? 'ok  ' : 'OVER'} ${r.name}: ${r.value} ${r.unit}; ${r.ratio} times ${r.baseline}; budget: ${r.budget}`)
if (process.argv.includes('--json')) console.log(JSON.stringify({ rows }))
process.exitCode = rows.every((r) => r.ok) ? 0 : 1
