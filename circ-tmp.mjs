import { readdirSync, readFileSync, existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
const files = readdirSync('src', { recursive: true, withFileTypes: true }).filter((e) => e.isFile() && /\.tsx?$/.test(e.name) && !/\.test\./.test(e.name)).map((e) => join(e.parentPath, e.name))
const importsOf = (f) => [...readFileSync(f, 'utf8').matchAll(/(?:from|import)\s*\(?\s*'([^']+)'/g)].map((m) => m[1])
const resolve = (f, s) => { const b = s.startsWith('.') ? join(dirname(f), s) : null; return b && [b + '.ts', b + '.tsx', b + '/index.ts'].find((x) => existsSync(x)) }
const g = new Map(files.map((f) => [f, importsOf(f).flatMap((s) => resolve(f, s) ?? [])]))
// tarjan
let idx = 0; const st = [], on = new Set(), ix = new Map(), low = new Map(), out = []
const visit = (v) => { ix.set(v, idx); low.set(v, idx++); st.push(v); on.add(v); for (const w of g.get(v) ?? []) { if (!ix.has(w)) { visit(w); low.set(v, Math.min(low.get(v), low.get(w))) } else if (on.has(w)) low.set(v, Math.min(low.get(v), ix.get(w))) } if (low.get(v) === ix.get(v)) { const c = []; let w; do { w = st.pop(); on.delete(w); c.push(w) } while (w !== v); if (c.length > 1) out.push(c) } }
for (const f of files) if (!ix.has(f)) visit(f)
for (const c of out) { console.log('CIRCLE', c.length); for (const f of c) console.log('  ', f, '->', (g.get(f)).filter((x) => c.includes(x)).map((x) => x.split('/').slice(-2).join('/')).join(', ')) }
const past = files.flatMap((f) => (g.get(f)).filter((t) => dirname(t) !== dirname(f) && existsSync(join(dirname(t), 'index.ts')) && !t.endsWith('/index.ts')).map((t) => `${f} -> ${t}`))
const by = {}; for (const p of past) { const t = p.split(' -> ')[1]; by[t] = (by[t] ?? 0) + 1 }
console.log('past index', past.length, by)
