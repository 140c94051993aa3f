import type { Random } from './random'

const lengths = ['0', '1px', '4px', '7px', '12px', '20px', '33px', '0.5rem', '1rem', '1.75rem', '2em', '0.25em', '5%', 'calc(1rem + 2px)', 'var(--x)', 'var(--x, 4px)']
const colors = ['red', '#123', '#a1b2c3', '#0008', 'rgb(1 2 3)', 'rgba(1, 2, 3, .5)', 'hsl(200 50% 40%)', 'oklch(60% 0.1 200)', 'currentcolor', 'transparent', 'var(--ink)']
const pair = (list: readonly string[]) => (r: Random) => (r.below(2) ? r.pick(list) : `${r.pick(list)} ${r.pick(list)}`)
const four = (list: readonly string[]) => (r: Random) => Array.from({ length: 1 + r.below(4) }, () => r.pick(list)).join(' ')
const one = (...list: string[]) => (r: Random) => r.pick(list)

/** Properties with values that fit them; what Tune can set, and more. */
export const PROPERTIES: Readonly<Record<string, (r: Random) => string>> = {
  ...Object.fromEntries(['top', 'right', 'bottom', 'left'].flatMap((s) => [
    [`padding-${s}`, one(...lengths)], [`margin-${s}`, one(...lengths, 'auto', '-3px')], [s, one(...lengths, 'auto')],
    [`border-${s}-width`, one('1px', '2px', 'thin', '0')], [`border-${s}-color`, one(...colors)], [`border-${s}-style`, one('solid', 'dashed', 'none')],
    [`border-${s}`, one('1px solid red', '0', 'none', 'thin dotted #abc')],
  ])),
  padding: four(lengths), margin: four([...lengths, 'auto']), gap: pair(['0', '4px', '1rem', 'var(--g)']), 'row-gap': one('3px', '1rem'), 'column-gap': one('3px', '2em'),
  inset: four(['0', '1px', 'auto', '10%']), 'padding-inline': pair(['2px', '1em']), 'margin-block': pair(['2px', 'auto']),
  'border-width': four(['1px', '2px', 'thin']), 'border-color': four(colors), 'border-style': four(['solid', 'dashed']), border: one('1px solid red', 'none', '2px dashed var(--c)'),
  'border-radius': one('4px', '4px 8px', '50%', '10px / 5px', '1px 2px 3px 4px / 5px'), 'border-top-left-radius': one('3px', '3px 5px'), 'border-bottom-right-radius': one('0', '9px'),
  color: one(...colors), 'background-color': one(...colors), background: one('red', 'none', 'url(a.png) no-repeat', 'linear-gradient(red, blue)'), 'background-size': one('cover', '10px auto'), 'background-image': one('none', 'linear-gradient(red, blue)'), 'background-position': one('center', '10px 50%', 'right top'), 'background-repeat': one('no-repeat', 'repeat-x'),
  'font-size': one('14px', '1.2rem', 'larger', '110%'), 'font-weight': one('400', 'bold', '650'), 'font-style': one('italic', 'normal'), 'line-height': one('1', '1.4', '20px', 'normal'),
  'font-family': one('serif', '"A B", sans-serif', "'C'"), font: one('14px serif', 'italic bold 1rem/1.5 "A B", serif'), 'letter-spacing': one('0', '.02em'), 'text-align': one('left', 'center'),
  'text-decoration': one('none', 'underline', 'underline dotted red'), 'text-decoration-color': one(...colors), 'text-decoration-line': one('underline', 'none'), 'text-transform': one('uppercase', 'none'),
  display: one('block', 'flex', 'grid', 'none', 'inline-block'), 'flex-direction': one('row', 'column'), 'flex-wrap': one('wrap', 'nowrap'), 'flex-flow': one('row wrap', 'column'), flex: one('1', 'none', '1 0 10px', 'auto'),
  'flex-grow': one('0', '1', '2'), 'flex-shrink': one('0', '1'), 'flex-basis': one('auto', '10px', '50%'), order: one('1', '-1'), 'align-items': one('center', 'start'), 'justify-content': one('center', 'space-between'),
  'place-items': one('center', 'start end'), 'grid-template-columns': one('1fr 1fr', 'repeat(3, 1fr)', '[a] 10px [b] auto'), 'grid-column': one('1 / 3', 'span 2', 'auto'), 'grid-column-end': one('3', 'span 2'), 'grid-template-rows': one('auto 1fr', '20px'), 'grid-row-start': one('1', 'span 2'), 'grid-area': one('1 / 2', 'main'),
  width: one(...lengths, 'auto', 'fit-content'), 'max-width': one('60ch', 'none', '100%'), height: one('auto', '10px'), overflow: one('hidden', 'auto scroll'), 'overflow-x': one('auto', 'hidden'), position: one('static', 'relative', 'sticky'), 'z-index': one('1', 'auto'),
  opacity: one('0', '.5', '1'), 'box-shadow': one('none', '0 1px 2px rgb(0 0 0 / 20%)', 'inset 0 0 0 1px red, 0 2px 4px #0003'), transform: one('none', 'rotate(3deg) scale(1.1)'), translate: one('none', '0 8px', '10px 1rem', '50% 0'), rotate: one('none', '3deg', '-7deg'), scale: one('none', '1.05', '1 0.5'), 'transition-property': one('color', 'all'), transition: one('none', 'color .2s ease', 'all 1s, color 2s'), 'transition-duration': one('.2s', '100ms'),
  outline: one('none', '1px solid red'), 'outline-color': one(...colors), 'outline-width': one('1px', 'thin'), 'list-style': one('none', 'square inside'), 'list-style-type': one('none', 'square'), cursor: one('pointer', 'auto'), content: one('""', '"a;b}"', "'/*'"), filter: one('none', 'blur(2px)'), '--own': one('1px', 'a b c', '{ a: b }', '#fff'),
}
