#!/usr/bin/env node
process.env.NEXT_TELEMETRY_DISABLED = '1'
process.env.NODE_ENV = 'production'
await import('../build/server/main.mjs')
