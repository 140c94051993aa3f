/** Bundles the scripts that live origins serve: the agent, the host frame's and the service worker. */
import { build } from 'esbuild'

await build({
  entryPoints: { agent: 'src/agent/main.ts', host: 'src/live/host.ts', 'service-worker': 'src/live/service-worker.ts' },
  outdir: 'build/live',
  bundle: true,
  minify: true,
  format: 'iife',
  target: 'es2022',
  logLevel: 'warning',
})
