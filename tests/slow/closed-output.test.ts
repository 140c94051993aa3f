import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { freePort } from '../support/server'

/** Time that a process has worked; ms, in steps of 10 (proc(5), `utime` and `stime`). */
function worked(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ')
  return 10 * (Number(fields[11]) + Number(fields[12]))
}

test('a server whose output nobody reads any more still answers, and rests', async () => {
  const port = await freePort()
  const child = spawn(process.execPath, ['scripts/start.mjs', 'demo/brinewick', '--no-open', '--port', String(port)])
  try {
    // As where its terminal is closed: what it says next cannot be written.
    await new Promise((done) => child.stdout.once('data', done))
    for (const stream of [child.stdout, child.stderr]) stream.destroy()
    let status = 0
    while (status !== 200) {
      await new Promise((done) => setTimeout(done, 200))
      status = await fetch(`http://localhost:${port}/`).then(
        (r) => r.status,
        () => 0,
      )
    }
    const before = worked(child.pid!)
    await new Promise((done) => setTimeout(done, 3000))
    expect(worked(child.pid!) - before).toBeLessThan(1000)
  } finally {
    child.kill('SIGKILL')
  }
})
