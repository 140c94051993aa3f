import { __unstable__loadDesignSystem as load, compile } from 'tailwindcss'
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
const out = ds.candidatesToCss(list.map(c=>c[0])); lap('tocss')
console.log(out.slice(0,3), out[out.length-5])
const ord = ds.getClassOrder(list.map(c=>c[0])); lap('order')
for (const c of ['p-4','px-4','pl-5','ps-4','shadow-md','text-lg','bg-sea/50','space-x-4','md:hover:p-4','group-hover:underline','dark:bg-sea','bg-linear-to-r','from-sea','ring-2','blur-sm','rotate-45','size-4','-mt-2','line-clamp-3','has-[img]:p-2','text-lg/7','leading-6','p-4!','hover:p-4!','before:p-2','open:p-1','p-[13px]','text-[13px]','bg-[#123]','border-x-2','rounded-t-lg','container','translate-x-2','grid-cols-3'])
 console.log(ds.candidatesToCss([c])[0])
lap('several')
const v = ds.getVariants(); console.log(v.length, v.slice(0,200).map(x=>x.name+(x.values.length?'('+x.values.length+')':'')).join(' '))
lap('x'); const c = await compile(css,{loadStylesheet}); lap('compile')
let built = c.build(['p-4','md:p-8','bg-sea']); lap('build'); console.log(built.length)
built = c.build(['p-4','md:p-8','bg-sea','pl-[13px]']); lap('build+1'); 
console.log(built.slice(0,300)); console.log(built.slice(-900))
console.log(Object.keys(c))
