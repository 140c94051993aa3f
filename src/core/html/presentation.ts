import type { P5Element } from './document'

/** Attributes of SVG elements that are declarations of the property of the same name (SVG 2 §6.6), but for `transform`, whose syntax is another. */
const OF_ANY: ReadonlySet<string> = new Set([
  'clip-path',
  'clip-rule',
  'color',
  'cursor',
  'display',
  'dominant-baseline',
  'fill',
  'fill-opacity',
  'fill-rule',
  'filter',
  'flood-color',
  'flood-opacity',
  'font-family',
  'font-size',
  'font-stretch',
  'font-style',
  'font-weight',
  'image-rendering',
  'letter-spacing',
  'mask',
  'opacity',
  'overflow',
  'paint-order',
  'pointer-events',
  'shape-rendering',
  'stop-color',
  'stop-opacity',
  'stroke',
  'stroke-dasharray',
  'stroke-dashoffset',
  'stroke-linecap',
  'stroke-linejoin',
  'stroke-miterlimit',
  'stroke-opacity',
  'stroke-width',
  'text-anchor',
  'text-rendering',
  'vector-effect',
  'visibility',
  'word-spacing',
  'writing-mode',
])

/** Those that are so on some elements only. */
const OF_SOME: Readonly<Record<string, RegExp>> = {
  width: /^(svg|image|rect|foreignObject)$/,
  height: /^(svg|image|rect|foreignObject)$/,
  x: /^(svg|image|rect|foreignObject)$/,
  y: /^(svg|image|rect|foreignObject)$/,
  cx: /^(circle|ellipse)$/,
  cy: /^(circle|ellipse)$/,
  r: /^circle$/,
  rx: /^(ellipse|rect)$/,
  ry: /^(ellipse|rect)$/,
}

/** The presentation attributes of an element, each a property with its value; none of an element that is not SVG. */
export function presentationAttributes(node: P5Element): { readonly name: string; readonly value: string }[] {
  if (node.namespaceURI !== 'http://www.w3.org/2000/svg') return []
  return node.attrs.filter(({ name, value }) => value.trim() !== '' && (OF_ANY.has(name) || OF_SOME[name]?.test(node.tagName)))
}

/** A value as a presentation attribute that says `now` would be written: a length in px without its unit where that has none. */
export const asPresentation = (value: string, now: string): string =>
  /^-?[\d.]+$/.test(now.trim()) ? value.trim().replace(/^(-?[\d.]+)px$/i, '$1') : value.trim()
