/** Properties that are inherited, by their longhands (CSS Cascade 5 §7.2). */
const INHERITED = new Set([
  'color', 'font-size', 'font-family', 'font-weight', 'font-style', 'font-stretch', 'font-variant-caps', 'line-height', 'letter-spacing', 'word-spacing', 'text-align', 'text-transform', 'text-indent', 'text-shadow',
  'text-wrap-mode', 'text-wrap-style', 'text-wrap', 'white-space', 'white-space-collapse', 'word-break', 'overflow-wrap', 'hyphens', 'tab-size', 'list-style-type', 'list-style-position', 'list-style-image',
  'visibility', 'cursor', 'direction', 'writing-mode', 'quotes', 'border-collapse', 'border-spacing', 'caption-side', 'empty-cells', 'fill', 'stroke', 'stroke-width', 'stroke-linecap', 'stroke-linejoin',
  'stroke-dasharray', 'fill-rule', 'fill-opacity', 'stroke-opacity', 'pointer-events', 'accent-color', 'caret-color', 'color-scheme', 'image-rendering', 'orphans', 'widows',
])

export const isInherited = (name: string): boolean => INHERITED.has(name) || name.startsWith('--')
