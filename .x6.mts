import { FidelityOfClasses } from './proof/fidelity-classes'
import { readSite } from './proof/site'
const f = new FidelityOfClasses({ until: async () => {} } as never, {} as never, '.corpus/flowbite-admin-dashboard', 1) as any
f.ready = true
for (const [p, b] of f.originals) f.served.set(p, b)
await f.build()
const t = (p: string) => new TextDecoder().decode(f.served.get(p))
const css1 = t('__compiled-utilities.css'), page1 = t('layouts/_default/main.html')
f.served.set('layouts/_default/main.html', f.originals.get('layouts/_default/main.html'))
await f.build()
const css2 = t('__compiled-utilities.css'), page2 = t('layouts/_default/main.html')
console.log(css1.length, css2.length, css1 === css2, page1 === page2); console.log(page2.slice(0, 200))
let i = 0; while (css1[i] === css2[i] && i < css1.length) i++
console.log(css1.slice(i - 200, i + 200)); console.log('-----'); console.log(css2.slice(i - 200, i + 200))
import { Project } from './src/core/project'
import { openTailwind } from './src/core/utility/load'
import { tailwindInput } from './src/core/utility/tailwind-project'
import { librarySheet } from './proof/project-vocabularies'
const paths = [...f.served.keys()] as string[]
const project = new Project(paths.filter((p) => /\.(html?|css)$/i.test(p)).map((path, i) => ({ key: i + 1, path, bytes: f.served.get(path)! })))
const input = tailwindInput(project, paths)
console.log(input?.path, input?.target, input?.config, input?.linked)
const r = await openTailwind(input!, { own: (path) => (f.served.has(path) ? t(path) : null), library: librarySheet })
console.log(r.notes, !!r.tailwind)
