import { tailwindOf } from './proof/tailwind-files'
import { planClasses, changeClassList } from './src/core/utility'
import { applySplices } from './src/core/text'
const v = await tailwindOf('@import "tailwindcss";')
for (const [l,p,val] of [['','background-size','10px auto'],['','background-size','cover'],['bg-gray-50','background-size','10px auto']] as const) { const r = planClasses(v,l,'',false,[{property:p,value:val}]); console.log(l,p,val,r.ok?applySplices(l,changeClassList(l,r.change)):r.why) }
console.log(v.read('[background-size:10px_auto]'), v.read('bg-size-[10px_auto]'))
