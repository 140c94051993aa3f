import { tailwindOf } from './proof/tailwind-files'
import { planClasses, changeClassList } from './src/core/utility'
import { applySplices } from './src/core/text'
let t=performance.now()
const v = await tailwindOf('@import "tailwindcss";\n@theme { --color-sea: #0f5b66; --spacing-deck: 18px }')
console.log((performance.now()-t).toFixed(0)+'ms')
const go=(list:string, prop:string, value:string|null, variant='')=>{
  t=performance.now()
  const p=planClasses(v,list,variant,false,[{property:prop,value}])
  const ms=(performance.now()-t).toFixed(1)
  console.log(`${list}  [${variant}] ${prop}: ${value}  →  ${p.ok?applySplices(list,changeClassList(list,p.change)):p.why}   ${ms}ms`)
}
go('flex p-4 text-sm','padding-left','20px')
go('flex py-4 pr-4 pl-5 text-sm','padding-left','1rem')
go('flex p-4','padding','13px'); go('flex p-4','padding-left','13px'); go('flex','padding-left','52px'); go('p-4 pl-5','padding-left','24px')
go('pt-4 pr-4 pb-4 pl-4','padding-left','20px'); go('px-4 py-2','padding-left','20px')
go('text-sm','font-size','18px'); go('text-sm leading-6','font-size','15px'); go('text-lg/7','line-height','24px'); go('text-lg','line-height','24px')
go('bg-white','background-color','#0f5b66'); go('bg-white','background-color','rgb(15 91 102 / .5)'); go('bg-white','background-color','#abc'); go('','background-color','var(--color-sea)'); go('', 'background-color','var(--other)')
go('shadow-md ring-2','box-shadow','0 0 0 2px currentcolor, 0 1px 2px 0 rgb(0 0 0 / 0.05)'); go('shadow-md','box-shadow','0 1px 2px #0003'); go('shadow-md','box-shadow','none')
go('blur-sm','filter','blur(3px) brightness(1.1)'); go('','translate','8px 4px'); go('','scale','1.5'); go('','rotate','12deg'); go('','transform','rotate(3deg)')
go('md:p-4 p-2','padding','24px','md'); go('hover:p-4! p-2','padding','24px','hover'); go('','margin-top','-8px'); go('mx-auto','margin-left','0'); go('','margin-left','auto')
go('','flex-grow','1');go('block','display','flex'); go('w-4 h-4','width','20px'); go('size-4','width','20px'); go('','grid-template-columns','repeat(3, minmax(0, 1fr))'); go('','grid-template-columns','1fr 2fr'); go('','grid-column','span 2 / span 2')
go('border','border-top-width','4px'); go('','border-left-width','2px'); go('border border-red-500','border-color','#0f5b66'); go('rounded-lg','border-top-left-radius','0'); go('','border-radius','5px')
go('truncate','white-space','normal'); go('','font-weight','600'); go('','font-weight','bold'); go('','letter-spacing','.025em'); go('','opacity','.37'); go('','z-index','7'); go('','aspect-ratio','16 / 9'); go('','inset','0'); go('','font-family','var(--font-mono)')
go('','background-image','linear-gradient(to right, red, blue)'); go('','transition','all 200ms ease'); go('','text-decoration-line','underline'); go('','flex','1'); go('','flex','1 1 0%'); go('','gap','12px'); go('gap-4','row-gap','12px'); go('','overflow','hidden'); go('','width','50%'); go('','width','100%'); go('','height','100vh'); go('','max-width','640px'); go('','padding','18px')
for (const c of ['ring-2','shadow-xs','shadow-[0_1px_2px_#0003]','text-lg/6','bg-sea/50','blur-[3px]','brightness-110']) console.log(c, [...v.effect(v.read(c)!)], v.all().includes(c))
for (const c of ['border-x','flex-1','border-t-4']) console.log(c, [...v.effect(v.read(c)!)])
