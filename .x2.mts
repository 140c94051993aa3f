import { __unstable__loadDesignSystem as load } from 'tailwindcss'
import { readFileSync } from 'node:fs'
const css = `@import "tailwindcss";\n@theme { --color-sea: #0f5b66; }`
const loadStylesheet = async (id: string, base: string) => {
  const name = id === 'tailwindcss' ? 'index.css' : id.replace(/^tailwindcss\//,'').replace(/(\.css)?$/, '.css')
  return { path: name, base, content: readFileSync('node_modules/tailwindcss/'+name,'utf8') }
}
let t=performance.now()
const lap=(s:string)=>{console.log(s, (performance.now()-t).toFixed(0)+'ms'); t=performance.now()}
const ds = await load(css,{loadStylesheet}); lap('load')
const list = ds.getClassList(); lap('classlist '+list.length)
let n=0
for (const [c] of list) { for (const cand of ds.parseCandidate(c)) { n+=ds.compileAstNodes(cand).length; break } } lap('ast '+n)
console.log(JSON.stringify(ds.compileAstNodes(ds.parseCandidate('space-x-4')[0]),null,0))
console.log(JSON.stringify(ds.compileAstNodes(ds.parseCandidate('md:hover:border-x-2')[0]),null,0))
console.log(JSON.stringify(ds.parseCandidate('md:hover:p-[1_3px]/50!')))
console.log(list.filter(c=>c[1].modifiers.length).slice(0,3).map(x=>JSON.stringify(x).slice(0,200)))
console.log(list.filter(c=>/^(bg|text)-/.test(c[0])).length, ds.utilities.keys('functional').length, ds.utilities.keys('functional').join(' '))
