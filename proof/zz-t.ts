import { tailwindOf } from './tailwind-files'
import { applySplices } from '../src/core/text'
import { changeClassList, planClasses } from '../src/core/utility'
const tw = await tailwindOf('@import "tailwindcss";\n@custom-variant dark (&:where(.dark, .dark *));\n@theme { --color-sea: #0f5b66; --color-ink: #1d2b2f }\n@utility plate { padding: 8px; border-radius: 4px; background: white }')
const media = await tailwindOf('@import "tailwindcss";')
const cases: [string, string, string | null, string][] = [
  ['', 'border-width', '2px', 'border-2'],
  ['border', 'border-width', '2px', 'border-2'],
  ['border-b border-sea/20', 'border-color', '#1d2b2f', 'border-b border-ink'],
  ['border-b border-sea/20', 'border-bottom-color', '#1d2b2f', 'border-b border-ink'],
  ['flex p-4 text-sm', 'padding-left', '20px', 'flex p-4 pl-5 text-sm'],
  ['px-4 py-2', 'padding-left', '20px', 'py-2 pr-4 pl-5'],
  ['rounded-lg', 'border-top-left-radius', '2px', 'rounded-lg rounded-tl-xs'],
  ['h-20 w-16', 'width', '5rem', 'size-20'],
  ['h-20', 'width', '5rem', 'size-20'],
  ['grid grid-cols-2', 'grid-template-columns', 'repeat(3, minmax(0, 1fr))', 'grid grid-cols-3'],
  ['grid grid-cols-2', 'grid-template-columns', 'repeat(2, minmax(0, 1fr)) 1fr', 'grid grid-cols-3'],
  ['grid grid-cols-2', 'grid-template-columns', 'repeat(3, 1fr)', 'grid grid-cols-3'],
  ['', 'grid-column', 'span 2', 'col-span-2'],
  ['', 'grid-column', 'span 2 / span 2', 'col-span-2'],
  ['', 'grid-column-end', 'span 2', 'col-span-2'],
  ['shadow-[0_1px_2px_#000]', 'box-shadow', '0 2px 4px #000', 'shadow-[0_2px_4px_#000]'],
  ['shadow-[0_1px_2px_#000]', 'box-shadow', '0 1px 3px 0 rgb(0 0 0 / 0.1), 0 1px 2px -1px rgb(0 0 0 / 0.1)', 'shadow-sm'],
  ['shadow-lg', 'box-shadow', '0 2px 4px rgb(0 0 0 / 0.3)', 'shadow-[0_2px_4px_rgb(0_0_0_/_0.3)]'],
  ['', 'box-shadow', '0 2px 4px rgb(0 0 0 / 0.3)', 'shadow-[0_2px_4px_rgb(0_0_0_/_0.3)]'],
  ['', 'rotate', '3deg', 'rotate-3'], ['', 'scale', '1.05', 'scale-105'], ['', 'translate', '0 8px', 'translate-y-2'],
  ['', 'transform', 'rotate(3deg)', 'rotate-3'], ['', 'transform', 'scale(1.05)', 'scale-105'], ['', 'transform', 'translateY(8px)', 'translate-y-2'], ['', 'transform', 'skewX(6deg)', 'skew-x-6'],
  ['', 'filter', 'blur(4px)', 'blur-xs'], ['', 'backdrop-filter', 'blur(8px)', 'backdrop-blur-sm'],
  ['', 'transition', 'all 200ms', 'transition-all duration-200'], ['', 'transition', 'opacity 200ms', 'transition-opacity duration-200'], ['transition', 'transition-duration', '200ms', 'transition duration-200'], ['', 'transition', 'color 300ms ease-in', 'transition-[color] duration-300 ease-in'],
  ['flex items-start', 'align-items', 'flex-start', 'flex items-start'], ['flex items-center', 'align-items', 'start', 'flex items-start'], ['flex', 'justify-content', 'end', 'flex justify-end'], ['', 'align-self', 'start', 'self-start'], ['', 'align-self', 'flex-end', 'self-end'],
  ['plate', 'border-radius', '8px', 'plate rounded-lg'], ['plate', 'padding', '16px', 'plate p-4'],
  ['', 'letter-spacing', '0', 'tracking-normal'], ['tracking-wide', 'letter-spacing', '0px', 'tracking-normal'], ['', 'letter-spacing', '-0.05em', 'tracking-tighter'],
  ['leading-[1.2] leading-tight', 'line-height', '1.5', 'leading-normal'],
  ['text-5xl', 'font-size', '50px', 'text-[50px]/[1]'],
  ['mt-1', 'margin-top', '16px', 'mt-4'],
  ['flex', 'display', 'inline-flex', 'inline-flex'], ['', 'font-weight', '700', 'font-bold'], ['', 'opacity', '0.5', 'opacity-50'], ['', 'z-index', '5', 'z-5'], ['', 'aspect-ratio', '16 / 9', 'aspect-video'],
  ['', 'max-width', '28rem', 'max-w-md'], ['', 'width', '100%', 'w-full'], ['', 'width', '50%', 'w-1/2'], ['', 'height', '100vh', 'h-screen'], ['', 'inset', '0', 'inset-0'], ['', 'top', '50%', 'top-1/2'], ['', 'flex', '1 1 0%', 'flex-1'], ['', 'text-decoration-line', 'underline', 'underline'], ['', 'text-transform', 'uppercase', 'uppercase'], ['', 'line-height', '1.5', 'leading-normal'], ['', 'border-style', 'dashed', 'border-dashed'], ['space-x-4', 'gap', '16px', 'gap-4 space-x-4'],
]
let bad = 0
for (const [list, property, value, want] of cases) {
  const plan = planClasses(tw, list, '', false, [{ property, value }])
  const got = plan.ok ? applySplices(list, changeClassList(list, plan.change)) : `refused: ${plan.why}`
  if (got !== want) { bad++; console.log(`${list || '–'}  ${property}: ${value}\n     got  ${got}\n     want ${want}`) }
}
console.log(bad, 'of', cases.length)
for (const v of [tw, media]) console.log(v.variantFor({ state: '.dark &', part: '', media: '' }), v.variantFor({ state: '', part: '', media: '(prefers-color-scheme: dark)' }), v.variantFor({ state: '.group:hover &', part: '', media: '' }), v.variantFor({ state: 'li:hover &', part: '', media: '' }), v.variantFor({ state: ':hover', part: '', media: '' }), v.variantFor({ state: '[data-open]', part: '', media: '' }))
