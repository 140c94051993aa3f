import { benchSite } from './bench/bench-page'
import { Project } from './src/core/project'
import { LearnedVocabulary } from './src/core/utility'
const { html, css } = benchSite()
const b = (s: string) => new TextEncoder().encode(s)
const p = new Project([{ key: 1, path: 'index.html', bytes: b(html) }, { key: 2, path: 'bench.css', bytes: b(css) }])
let t = performance.now()
const v = LearnedVocabulary.of(p)
console.log(v?.all().length, performance.now() - t)
