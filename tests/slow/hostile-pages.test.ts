import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

/** How many frames the interface draws, up to `frames`: a page that held it up would let none come before the script times out. */
const drawsFrames = (studio: Studio, frames: number) =>
  studio.driver.executeAsyncScript<number>(
    `
  const done = arguments[1]
  let drawn = 0
  const frame = () => (++drawn === arguments[0] ? done(drawn) : requestAnimationFrame(frame))
  requestAnimationFrame(frame)`,
    frames,
  )

const stored = (studio: Studio) =>
  studio.driver.executeAsyncScript<string>(`
  const done = arguments[0]
  indexedDB.open('steady-brush').onsuccess = (e) => {
    const t = e.target.result.transaction(['projects', 'edits'])
    t.objectStore('projects').getAllKeys().onsuccess = (a) => t.objectStore('edits').getAll().onsuccess = (b) => done(JSON.stringify([a.target.result, b.target.result.map((x) => [x.project, x.seq, x.after])]))
  }`)

test('a page whose script loops forever leaves the interface responsive, and can be started again', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('looping', {
    'index.html': '<!doctype html><p class="calm">Calm</p><a href="loop.html">loop</a>',
    'loop.html':
      '<!doctype html><p class="busy">Busy</p><script>addEventListener("load", () => setTimeout(() => { if (location.hostname.includes("--")) return; for (;;); }, 1200))</script>',
  })
  await studio.ready()
  await studio.pick('.calm', 0.9)
  await studio.type('padding-top', '9px')
  await studio.until('the edit', async () => (await studio.ledger()).length === 1)
  await studio.verdict()
  const before = await stored(studio)
  await studio.goTo('/loop.html')
  await studio.driver.sleep(1500)
  expect(await drawsFrames(studio, 20)).toBe(20)
  const overlay = await studio.test('overlay')
  await studio.driver.actions().move({ origin: overlay, x: 5, y: 5 }).click().perform()
  expect(await studio.text('page-busy')).toContain('The page does not answer')
  expect(await stored(studio)).toBe(before)
  expect((await studio.ledger()).length).toBe(1)
  await (await studio.test('page-busy')).findElement({ css: 'button' }).then((b) => b.click())
  await studio.until('the page again', () => studio.inPage<boolean>('return !!document.querySelector("[data-steady]")'))
  await studio.pick('.busy', 0.9)
  expect((await studio.ledger()).length).toBe(1)
})

test('a page that was busy for a while is worked on again once it answers; one that waits for a file from elsewhere is worked on at once', async () => {
  const studio = getStudio()
  const silent = createServer(() => {})
  await new Promise<void>((done) => silent.listen(0, '127.0.0.1', done))
  const { port } = silent.address() as AddressInfo
  try {
    await studio.importSite('waiting', {
      'index.html': `<!doctype html><link rel="stylesheet" href="own.css"><p class="calm">Calm</p><script src="http://127.0.0.1:${port}/never.js"></script><p>Not there yet</p>`,
      'own.css': '.calm { padding-top: 2px; }\n',
      'slow.html':
        '<!doctype html><link rel="stylesheet" href="own.css"><p class="calm">Slow</p><script>addEventListener("load", () => setTimeout(() => { for (const end = Date.now() + 7000; Date.now() < end;); }, 700))</script>',
    })
    await studio.ready()
    await studio.pick('.calm', 0.9)
    await studio.edit(() => studio.type('padding-top', '9px'))
    expect(await studio.sourceNow('own.css')).toBe('.calm { padding-top: 9px; }\n')
    await studio.goTo('/slow.html')
    await studio.driver.sleep(1200)
    await studio.driver
      .actions()
      .move({ origin: await studio.test('overlay'), x: 5, y: 5 })
      .click()
      .perform()
    expect(await studio.text('page-busy')).toContain('The page does not answer')
    await studio.until('the notice gone', async () => (await studio.driver.findElements({ css: '[data-testid=page-busy]' })).length === 0)
    await studio.pick('.calm', 0.9)
    await studio.edit(() => studio.type('padding-top', '12px'))
    expect(await studio.sourceNow('own.css')).toBe('.calm { padding-top: 12px; }\n')
  } finally {
    silent.close()
    silent.closeAllConnections()
  }
})

test('a page that posts garbage to its parent and through the port changes nothing', async () => {
  const studio = getStudio()
  const before = await stored(studio)
  await studio.importSite('garbage', {
    'index.html': `<!doctype html><p class="x">X</p><script>
      const junk = [null, 1, 'x', {}, [], { steady: 'hello' }, { steady: 'hello', address: 5, title: {} }, { steadyHost: 'ready' }, { steadyHost: 'failed', reason: 'x' }, { id: 1, answer: { info: 'x' } }, { event: 'frames', picked: 7 }]
      for (let i = 0; i < 300; i++) for (const j of junk) parent.postMessage(j, '*')
      // Takes the port by asking for it, as only the agent should, and answers every question with rubbish.
      addEventListener('message', (e) => {
        const port = e.ports[0]
        if (!port) return
        for (const j of junk) port.postMessage(j)
        port.postMessage({ event: 'frames', hover: null, picked: { boxes: Array(1e5).fill({}) }, reach: [], page: {} })
        port.onmessage = ({ data }) => port.postMessage({ id: data.id, answer: { ancestors: 'none', matched: [[{ sheet: '../../x' }]] } })
      })
      setTimeout(() => parent.postMessage({ steady: 'hello', address: '/index.html', title: 'fake' }, '*'), 300)
    </script>`,
  })
  await studio.driver.sleep(1500)
  expect(await drawsFrames(studio, 20)).toBe(20)
  const overlay = await studio.test('overlay')
  await studio.driver.actions().move({ origin: overlay, x: 5, y: 5 }).click().perform()
  await studio.driver.sleep(300)
  expect(JSON.parse(await stored(studio))[1]).toEqual(JSON.parse(before)[1])
  expect(await studio.driver.executeScript('return document.querySelectorAll("[data-testid=aim]").length')).toBe(1)
})

test('a page that reaches for the interface’s storage or DOM, or another project, gets nothing', async () => {
  const studio = getStudio()
  const before = await stored(studio)
  await studio.importSite('thief', {
    'index.html': `<!doctype html><pre id="out"></pre><script>
      (async () => {
        const tries = {
          dom: () => parent.document.title,
          topDom: () => top.document.body.innerHTML,
          lead: () => { top.location.href = '/elsewhere'; return new Promise((r) => setTimeout(() => r('asked'), 300)) },
          storage: () => parent.localStorage.length,
          database: async () => (await indexedDB.databases()).filter((d) => d.name === 'steady-brush').length || Promise.reject(new Error('none of that name')),
          fetch: async () => (await fetch('http://localhost:' + location.port + '/')).text(),
          frame: () => new Promise((done, fail) => { const f = document.createElement('iframe'); f.src = 'http://localhost:' + location.port + '/'; f.onload = () => { try { done(f.contentDocument.title) } catch (e) { fail(e) } }; document.body.append(f) }),
          other: () => new Promise((done, fail) => { const f = document.createElement('iframe'); f.src = 'http://garbage.localhost:' + location.port + '/__steady/host?studio=' + location.origin; addEventListener('message', (e) => e.data?.steadyHost && done('a host of another project')); f.onload = () => setTimeout(() => fail(new Error('silent')), 500); document.body.append(f) }),
          worker: () => navigator.serviceWorker.register('/own.js'),
        }
        const out = {}
        for (const [name, go] of Object.entries(tries)) { try { out[name] = 'GOT ' + await go() } catch (e) { out[name] = 'no: ' + e.name } }
        document.getElementById('out').textContent = JSON.stringify(out)
      })()
    </script>`,
  })
  const out = JSON.parse(
    await studio.until('the attempts', () => studio.inPage<string>('return document.getElementById("out").textContent')),
  ) as Record<string, string>
  expect(
    Object.entries(out).filter(
      ([name, got]) => got.startsWith('GOT') && !(name === 'lead' && got === 'GOT asked') && !(name === 'frame' && got === 'GOT '),
    ),
  ).toEqual([])
  expect(Object.keys(out).length).toBe(9)
  expect(await studio.driver.getCurrentUrl()).toContain('project=thief')
  expect(JSON.parse(await stored(studio))[1]).toEqual(JSON.parse(before)[1])
})
