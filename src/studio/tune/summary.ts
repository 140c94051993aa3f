import type { PickReport } from '../../agent/protocol'

const four = (c: PickReport['computed'], name: (side: string) => string): string => {
  const sides = ['top', 'right', 'bottom', 'left'].map((s) => parseFloat(c[name(s)] ?? '') || 0)
  const [t, r, b, l] = sides.map((n) => Number(n.toFixed(1)))
  return t === b && r === l ? (t === r ? `${t}` : `${t} ${r}`) : `${t} ${r} ${b} ${l}`
}

/** A section in one line, so that folded it still tells what it holds. */
export function summaryOf(title: string, report: PickReport): string {
  const c = report.computed
  const box = report.geometry.boxes[0]
  switch (title) {
    case 'Layout':
      return [
        c.display,
        /flex/.test(c.display ?? '') ? c['flex-direction'] : '',
        /flex|grid/.test(report.parent.display ?? '') ? `in ${report.parent.display}` : '',
      ]
        .filter(Boolean)
        .join(', ')
    case 'Space':
      return `padding ${four(c, (s) => `padding-${s}`)} · margin ${four(c, (s) => `margin-${s}`)}`
    case 'Size':
      return box ? `${Number(box.w.toFixed(1))} × ${Number(box.h.toFixed(1))}` : ''
    case 'Place':
      return c.position === 'static'
        ? 'in the flow'
        : [c.position, c['z-index'] === 'auto' ? '' : `layer ${c['z-index']}`].filter(Boolean).join(', ')
    case 'Type':
      return `${report.facts.renderedFamily} ${c['font-size'] ?? ''} ${c['font-weight'] ?? ''}`
    case 'Colour':
      return ''
    case 'Edges':
      return [
        parseFloat(c['border-top-width'] ?? '') > 0 ? `${c['border-top-width']} ${c['border-top-style']}` : 'no border',
        parseFloat(c['border-top-left-radius'] ?? '') > 0 ? `radius ${c['border-top-left-radius']}` : '',
      ]
        .filter(Boolean)
        .join(', ')
    case 'Effects':
      return (
        [c.opacity !== '1' ? `opacity ${c.opacity}` : '', c['box-shadow'] !== 'none' ? 'shadow' : ''].filter(Boolean).join(', ') || 'none'
      )
    default:
      return ''
  }
}
