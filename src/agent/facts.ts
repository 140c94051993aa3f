import type { HoverFacts, NodeFacts } from './protocol'

const FOCUSABLE = 'a[href], area[href], button, input, select, textarea, summary, iframe, [tabindex], [contenteditable]'
const CONTROL = 'input, select, textarea, button, fieldset, optgroup, option'

/** States that the element can be in, as a selector writes them. */
export function statesOf(element: Element): string[] {
  const out = [':hover']
  if (element.matches(FOCUSABLE)) out.push(':focus-visible', ':focus')
  out.push(':active')
  if (!element.matches(FOCUSABLE) && element.querySelector(FOCUSABLE)) out.push(':focus-within')
  if (element.matches('input[type=checkbox], input[type=radio], option')) out.push(':checked')
  if (element.matches('input[type=checkbox], progress')) out.push(':indeterminate')
  if (element.matches(CONTROL)) out.push(':disabled')
  if (element.matches('input, select, textarea, form, fieldset')) out.push(':invalid', ':valid')
  if (element.matches('input, textarea')) out.push(':placeholder-shown', ':required')
  if (element.id) out.push(':target')
  if (element.matches('details, dialog')) out.push('[open]')
  if (element.matches('[popover]')) out.push(':popover-open')
  if (element.querySelector('input[type=checkbox], input[type=radio]')) out.push(':has(:checked)')
  if (element.querySelector(FOCUSABLE)) out.push(':has(:focus-visible)')
  if (!element.matches('form, fieldset') && element.querySelector('input, select, textarea')) out.push(':has(:invalid)')
  return out
}

/** Pseudo-elements that the element can have a box for. */
export function partsPossible(element: Element): string[] {
  if (element.matches('img, video, iframe, canvas, input:not([type=file]), textarea, select, object, embed'))
    return element.matches('input, textarea') ? ['::placeholder'] : []
  const out = ['::before', '::after']
  if (getComputedStyle(element).display === 'list-item' || element.matches('summary')) out.push('::marker')
  if (element.matches('dialog, [popover]')) out.push('::backdrop')
  if (element.matches('input[type=file]')) out.push('::file-selector-button')
  return out
}

const MOST_CHILDREN = 12

let canvas: CanvasRenderingContext2D | null = null

function advanceOfZero(style: CSSStyleDeclaration): number | null {
  canvas ??= document.createElement('canvas').getContext('2d')
  if (!canvas) return null
  canvas.font = `${style.fontStyle} ${style.fontWeight} ${style.fontSize} ${style.fontFamily}`
  return canvas.measureText('0').width
}

const rendered = new Map<string, string>()
let fontsLoaded = -1

/** The face that text of the element is really drawn in: the first of its families that the browser has. */
export function renderedFamily(style: CSSStyleDeclaration): string {
  const known = rendered.get(style.fontFamily)
  if (known !== undefined && fontsLoaded === document.fonts.size) return known
  if (fontsLoaded !== document.fonts.size) rendered.clear()
  fontsLoaded = document.fonts.size
  const found = findRendered(style)
  // A face that is still on its way may be the one in a moment.
  if (document.fonts.status === 'loaded') rendered.set(style.fontFamily, found)
  return found
}

function findRendered(style: CSSStyleDeclaration): string {
  canvas ??= document.createElement('canvas').getContext('2d')
  const families = style.fontFamily.match(/"[^"]*"|'[^']*'|[^,]+/g)?.map((f) => f.trim()) ?? []
  if (!canvas) return families[0] ?? ''
  const widths = (family: string) =>
    ['monospace', 'serif'].map((last) => {
      canvas!.font = `${style.fontWeight} 40px ${family}, ${last}`
      return canvas!.measureText('mmMwWLliI0&@').width
    })
  for (const family of families) {
    if (/^(serif|sans-serif|monospace|cursive|fantasy|system-ui|ui-[\w-]+|math|emoji)$/i.test(family)) return family
    const [mono, serif] = widths(family)
    // A family the browser does not have leaves each of the two its own width.
    const [plainMono, plainSerif] = widths('"no such family"')
    if (mono !== plainMono || serif !== plainSerif) return family.replace(/^["']|["']$/g, '')
  }
  return families.at(-1) ?? ''
}

const WEIGHTS = ['100', '200', '300', '400', '500', '600', '700', '800', '900']
const systemWeights = new Map<string, string[] | null>()

/**
 * The weights that the drawn family has: what its `@font-face` rules say; for a family of the system, those that are
 * drawn with advances of their own (the engine thickens a face that is missing without widening it).
 */
function weightsOf(doc: Document, family: string): string[] | null {
  const own = facesOf(doc).find((f) => f.family.toLowerCase() === family.toLowerCase())
  if (own) return own.weights
  const known = systemWeights.get(family)
  if (known !== undefined) return known
  canvas ??= document.createElement('canvas').getContext('2d')
  if (!canvas || family === '') return null
  const groups = new Map<number, string[]>()
  for (const weight of WEIGHTS) {
    canvas.font = `${weight} 40px ${/^[\w-]+$/.test(family) ? family : `"${family}"`}`
    const width = canvas.measureText('mmMwWLliI0&@').width
    groups.set(width, [...(groups.get(width) ?? []), weight])
  }
  const found = groups.size < 2 ? null : [...groups.values()].map((g) => g.find((w) => w === '400') ?? g.find((w) => w === '700') ?? g[0])
  systemWeights.set(family, found)
  return found
}

const lineHeight = (style: CSSStyleDeclaration): number => parseFloat(style.lineHeight) || parseFloat(style.fontSize) * 1.2

function containerOf(element: Element): { width: number; height: number } | null {
  for (let e = element.parentElement; e; e = e.parentElement) {
    const style = getComputedStyle(e)
    if ((style as unknown as { containerType?: string }).containerType?.match(/size/)) return contentBox(e, style)
  }
  return null
}

function contentBox(element: Element, style: CSSStyleDeclaration): { width: number; height: number } {
  const px = (name: string) => parseFloat(style.getPropertyValue(name)) || 0
  return {
    width: element.clientWidth - px('padding-left') - px('padding-right'),
    height: element.clientHeight - px('padding-top') - px('padding-bottom'),
  }
}

type Rgba = [r: number, g: number, b: number, a: number]

function rgba(text: string): Rgba | null {
  const m = /^rgba?\(([\d.]+), ([\d.]+), ([\d.]+)(?:, ([\d.]+))?\)$/.exec(text)
  return m && [Number(m[1]), Number(m[2]), Number(m[3]), m[4] === undefined ? 1 : Number(m[4])]
}

/** The colour that text of the element stands on, all layers below it taken in; null where a picture or another notation is in between. */
function backdropOf(element: Element): string | null {
  const layers: Rgba[] = []
  for (let e: Element | null = element; e; e = e.parentElement) {
    const style = getComputedStyle(e)
    const color = rgba(style.backgroundColor)
    if (style.backgroundImage !== 'none' || !color || style.opacity !== '1') return null
    layers.push(color)
    if (color[3] === 1) break
  }
  let under: Rgba = [255, 255, 255, 1]
  for (const [r, g, b, a] of layers.reverse())
    under = [r * a + under[0] * (1 - a), g * a + under[1] * (1 - a), b * a + under[2] * (1 - a), 1]
  return `rgb(${under.slice(0, 3).map(Math.round).join(' ')})`
}

/** What is shown of an element that is pointed at. */
export function hoverFactsOf(element: Element): HoverFacts {
  const style = getComputedStyle(element)
  const hasText = [...element.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.nodeValue!.trim() !== '')
  return {
    family: hasText ? renderedFamily(style) : '',
    size: style.fontSize,
    weight: style.fontWeight,
    color: style.color,
    backdrop: hasText ? backdropOf(element) : null,
    padding: style.padding,
    margin: style.margin,
    display: style.display,
    around: element.parentElement ? getComputedStyle(element.parentElement).display : '',
  }
}

/** What Tune shows and measures with, beside computed values. */
export function factsOf(element: Element, part: string): NodeFacts {
  const style = getComputedStyle(element, part || null)
  const view = element.ownerDocument.defaultView!
  const root = getComputedStyle(element.ownerDocument.documentElement)
  const around = part ? element : element.parentElement
  const box = element.getBoundingClientRect()
  const family = renderedFamily(style)
  const children = [...element.children]
    .filter((c) => getComputedStyle(c).display !== 'none' && !/absolute|fixed/.test(getComputedStyle(c).position))
    .slice(0, MOST_CHILDREN)
    .map((c) => {
      const r = c.getBoundingClientRect()
      return { x: r.left - box.left, y: r.top - box.top, w: r.width, h: r.height }
    })
  return {
    states: statesOf(element),
    partsPossible: partsPossible(element),
    children,
    backdrop: backdropOf(element),
    renderedFamily: family,
    weights: weightsOf(element.ownerDocument, family),
    ch: advanceOfZero(style),
    lineHeight: lineHeight(style),
    rootLineHeight: lineHeight(root),
    container: containerOf(element),
    around: around ? contentBox(around, getComputedStyle(around)) : null,
    viewport: { width: view.innerWidth, height: view.innerHeight },
    textLines: linesOf(element),
    naturalWidth: naturalWidth(element, style),
    stickyHindered: style.position === 'sticky' ? stickyHindered(element) : null,
  }
}

function naturalWidth(element: Element, style: CSSStyleDeclaration): number {
  canvas ??= document.createElement('canvas').getContext('2d')
  const text = (element.textContent ?? '').trim().replace(/\s+/g, ' ')
  if (!canvas || text === '' || text.length > 2000) return 0
  canvas.font = `${style.fontStyle} ${style.fontWeight} ${style.fontSize} ${style.fontFamily}`
  const shown = style.textTransform === 'uppercase' ? text.toUpperCase() : text
  return canvas.measureText(shown).width + (parseFloat(style.letterSpacing) || 0) * shown.length
}

// CSS Positioned Layout 3 §3.4: it stays within its parent, and sticks to its nearest scroller.
function stickyHindered(element: Element): string | null {
  const parent = element.parentElement
  const style = getComputedStyle(element)
  if (['top', 'right', 'bottom', 'left'].every((s) => style.getPropertyValue(s) === 'auto')) return 'it has no offset to stick at'
  for (let e = parent; e && e !== document.body && e !== document.documentElement; e = e.parentElement) {
    const { overflowX, overflowY } = getComputedStyle(e)
    if (/hidden|auto|scroll/.test(overflowX + overflowY))
      return `it sticks within ${e.localName}${e.classList[0] ? `.${e.classList[0]}` : ''}, whose overflow is ${overflowY}, and not to the page`
  }
  if (parent && parent.getBoundingClientRect().height <= element.getBoundingClientRect().height + 1)
    return 'its parent is no taller than it, so it has no room to stick in'
  return null
}

// Lines of an element whose only children are text and inline boxes; 0 where it holds none.
function linesOf(element: Element): number {
  if (![...element.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.nodeValue!.trim() !== '')) return 0
  const range = element.ownerDocument.createRange()
  range.selectNodeContents(element)
  const bottoms: number[] = []
  for (const r of range.getClientRects()) if (!bottoms.some((b) => Math.abs(b - r.bottom) < r.height / 2)) bottoms.push(r.bottom)
  return bottoms.length
}

const lent = new WeakSet<FontFace>()

/** Lets a document draw in a face of ours, which is none of its own. */
export function lendFace(
  doc: Document,
  family: string,
  faces: readonly { readonly weight: string; readonly style: string; readonly bytes: Uint8Array }[],
): void {
  const known = [...doc.fonts].some((f) => lent.has(f) && f.family === family)
  for (const { weight, style, bytes } of known ? [] : faces) {
    const face = new FontFace(family, bytes.slice().buffer, { weight, style })
    lent.add(face)
    doc.fonts.add(face)
  }
}

/** The faces that the page's own `@font-face` rules give, with their weights. */
export function facesOf(doc: Document): { family: string; weights: string[] }[] {
  const out = new Map<string, Set<string>>()
  for (const face of doc.fonts) {
    if (lent.has(face)) continue
    const family = face.family.replace(/^["']|["']$/g, '')
    out.set(family, (out.get(family) ?? new Set()).add(face.weight))
  }
  return [...out].map(([family, weights]) => ({ family, weights: [...weights].sort() }))
}
