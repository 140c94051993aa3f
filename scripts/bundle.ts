/** Bundles what Next.js does not: the scripts that live origins serve (the agent, the host frame's and the service worker), and the server. */
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

await build({
  entryPoints: { picture: 'src/agent/picture.ts', findings: 'src/agent/findings.ts' },
  outdir: 'build/live',
  bundle: true,
  minify: true,
  format: 'esm',
  target: 'es2022',
  logLevel: 'warning',
})

await build({
  entryPoints: {
    main: 'src/server/main.ts',
    'vite-child': 'src/server/dev/vite-child.ts',
    'copy-child': 'src/server/dev/copy-child.ts',
    'astro-start': 'src/server/dev/astro-start.ts',
  },
  outdir: 'build/server',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  packages: 'external',
  platform: 'node',
  format: 'esm',
  target: 'node20',
  logLevel: 'warning',
})
