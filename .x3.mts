import { __unstable__loadDesignSystem as load } from 'tailwindcss'
import { readFileSync } from 'node:fs'
const css = `@import "tailwindcss" prefix(tw);\n@theme { --color-sea: #0f5b66; }`
const loadStylesheet = async (id: string, base: string) => {
  const name = id === 'tailwindcss' ? 'index.css' : id.replace(/^tailwindcss\//,'').replace(/(\.css)?$/, '.css')
  return { path: name, base, content: readFileSync('node_modules/tailwindcss/'+name,'utf8') }
}
const ds = await load(css,{loadStylesheet})
for (const v of ds.getVariants()) if (/^(hover|focus|md|max|min|before|open|dark|disabled|group|aria|data|supports|motion-safe|@|in|not|starting|even|placeholder)$/.test(v.name)) console.log(v.name, v.isArbitrary, v.values.slice(0,6), JSON.stringify(v.selectors(v.values[0]?{value:v.values[0]}:{})), v.hasDash)
console.log(ds.resolveThemeValue('--spacing'), ds.resolveThemeValue('--color-sea'), ds.theme.prefix, ds.resolveThemeValue('--text-lg'), ds.resolveThemeValue('--breakpoint-md'))
console.log(ds.getClassList().slice(4000,4004), ds.candidatesToCss(['tw:p-4','p-4','tw:md:p-4!','tw:md:!p-4']))
console.log(ds.getClassOrder(['tw:p-4','zzz','tw:md:p-4','tw:pl-4']))
