import type { P5Element } from './document'

/**
 * Which element may stand in which, after the content models of HTML §4: enough to say why a place is refused. Foreign
 * elements (SVG, MathML) and custom ones are let be.
 */

const list = (names: string): ReadonlySet<string> => new Set(names.split(' '))

/** HTML §3.2.5.2.5. */
const PHRASING = list(
  'a abbr area audio b bdi bdo br button canvas cite code data datalist del dfn em embed i iframe img input ins kbd label link map mark math meta meter noscript object output picture progress q ruby s samp script select slot small span strong sub sup svg template textarea time u var video wbr',
)
/** HTML §3.2.5.2.2, what is not phrasing. */
const BLOCK = list(
  'address article aside blockquote details dialog div dl fieldset figure footer form h1 h2 h3 h4 h5 h6 header hgroup hr main menu nav ol p pre search section table ul',
)
/** HTML §3.2.5.2.7. */
const INTERACTIVE = list('a button details embed iframe input label select textarea')
const SECTIONING = list('article aside nav section')
const HEADING = list('h1 h2 h3 h4 h5 h6 hgroup')
const SUPPORTING = list('script template')

/** Elements that hold no element at all (HTML §13.1.2): void ones, and those whose text is not markup. */
const VOID = list('area base br col embed hr img input link meta source track wbr')
// With scripts on, as a page has them, what `noscript` holds is text (HTML §13.2.6.4.7).
const RAW = list('iframe noembed noframes noscript script style textarea title option xmp plaintext')
const PHRASING_ONLY = list(
  'p h1 h2 h3 h4 h5 h6 pre span em strong small s cite q dfn abbr data time code var samp kbd sub sup i b u mark bdi bdo button label meter progress output rt rp legend summary ruby',
)
/** They may hold what their parent may (HTML §3.2.5.3). */
const TRANSPARENT = list('a ins del map object audio video canvas slot')

/** What alone may be a child, by parent. */
const CHILDREN: Readonly<Record<string, ReadonlySet<string>>> = {
  ul: list('li'),
  ol: list('li'),
  menu: list('li'),
  dl: list('dt dd div'),
  table: list('caption colgroup thead tbody tfoot tr'),
  thead: list('tr'),
  tbody: list('tr'),
  tfoot: list('tr'),
  tr: list('td th'),
  colgroup: list('col'),
  select: list('option optgroup hr'),
  optgroup: list('option'),
  picture: list('source img'),
  hgroup: list('p h1 h2 h3 h4 h5 h6'),
  html: list('head body'),
  head: list('title base link style meta script noscript template'),
}
/** What alone may be the parent, by child. */
const PARENTS: Readonly<Record<string, ReadonlySet<string>>> = {
  li: list('ul ol menu'),
  dt: list('dl div'),
  dd: list('dl div'),
  caption: list('table'),
  colgroup: list('table'),
  thead: list('table'),
  tbody: list('table'),
  tfoot: list('table'),
  tr: list('thead tbody tfoot table'),
  td: list('tr'),
  th: list('tr'),
  col: list('colgroup'),
  legend: list('fieldset'),
  figcaption: list('figure'),
  summary: list('details'),
  option: list('select optgroup datalist'),
  optgroup: list('select'),
  source: list('picture video audio'),
  track: list('video audio'),
  rt: list('ruby'),
  rp: list('ruby'),
  head: list('html'),
  body: list('html'),
  title: list('head'),
  base: list('head'),
}
/** What may stand nowhere within, by element. */
const NEVER_WITHIN: Readonly<Record<string, (tag: string) => boolean>> = {
  a: (t) => INTERACTIVE.has(t),
  button: (t) => INTERACTIVE.has(t),
  label: (t) => t === 'label',
  form: (t) => t === 'form',
  dfn: (t) => t === 'dfn',
  meter: (t) => t === 'meter',
  progress: (t) => t === 'progress',
  header: (t) => t === 'header' || t === 'footer' || t === 'main',
  footer: (t) => t === 'header' || t === 'footer' || t === 'main',
  address: (t) => t === 'address' || t === 'header' || t === 'footer' || SECTIONING.has(t) || HEADING.has(t),
  article: (t) => t === 'main',
  aside: (t) => t === 'main',
  nav: (t) => t === 'main',
  dt: (t) => t === 'header' || t === 'footer' || SECTIONING.has(t) || HEADING.has(t),
  th: (t) => t === 'header' || t === 'footer' || SECTIONING.has(t) || HEADING.has(t),
  caption: (t) => t === 'table',
}
const HEADED = list('legend summary')

/** An element as the content model sees it: its name, and the names of all that it holds, itself left out. */
export interface Shape {
  readonly tag: string
  readonly within: readonly string[]
}

const HTML = 'http://www.w3.org/1999/xhtml'

/** The shape of an element; null for a foreign one, of which nothing is known. */
export function shapeOf(node: P5Element): Shape | null {
  if (node.namespaceURI !== HTML) return null
  const within: string[] = []
  const stack = [...node.childNodes]
  while (stack.length) {
    const n = stack.pop()!
    if (!('tagName' in n) || n.namespaceURI !== HTML) continue
    within.push(n.tagName)
    stack.push(...n.childNodes)
  }
  return { tag: node.tagName, within }
}

/** The names of an element and of all around it, itself first; empty inside foreign content. */
export function pathOf(node: P5Element): string[] {
  const out: string[] = []
  for (let n: P5Element | null = node; n; n = n.parentNode && 'tagName' in n.parentNode ? n.parentNode : null) {
    if (n.namespaceURI !== HTML) return []
    out.push(n.tagName)
  }
  return out
}

/** Whether an element can hold elements at all: void ones hold nothing, others text alone. */
export const holdsElements = (tag: string): boolean => !VOID.has(tag) && !RAW.has(tag)

export const isPhrasing = (tag: string): boolean => PHRASING.has(tag) || tag.includes('-')

/** Why an element may not be a child there, in words; null when it may. `path` as {@link pathOf} gives it for the parent. */
export function whyNotIn(path: readonly string[], child: Shape): string | null {
  const [parent] = path
  const { tag } = child
  if (parent === undefined || tag.includes('-')) return null
  if (VOID.has(parent)) return `<${parent}> holds nothing`
  if (RAW.has(parent)) return `<${parent}> holds text only`
  if (tag === 'html' || tag === 'head' || tag === 'body') return `a page has one <${tag}>`
  const children = CHILDREN[parent]
  if (children) return children.has(tag) || SUPPORTING.has(tag) ? null : `<${parent}> holds ${words(children)} only`
  const parents = PARENTS[tag]
  if (parents && !parents.has(parent)) return `<${tag}> stands in ${words(parents)} only`
  for (const around of path) {
    const bad = [tag, ...child.within].find((t) => NEVER_WITHIN[around]?.(t))
    if (bad) return `<${around}> must not hold ${/^[aeiou]/.test(bad) ? 'an' : 'a'} <${bad}>`
  }
  if (parents) return null
  const model = path.find((p) => !TRANSPARENT.has(p)) ?? parent
  if (!PHRASING_ONLY.has(model)) return null
  const bad = [tag, ...child.within].find((t) => BLOCK.has(t) && !(HEADED.has(model) && HEADING.has(t)))
  return bad ? `<${model}> holds text and what stands in it only, and <${bad}> is a block` : null
}

/** Why an element may not have another name where it stands, in words; null when it may. */
export function whyNotNamed(node: P5Element, tag: string): string | null {
  const shape = shapeOf(node)
  const parent = node.parentNode && 'tagName' in node.parentNode ? node.parentNode : null
  if (!shape || !parent) return null
  if (VOID.has(tag) !== VOID.has(node.tagName))
    return VOID.has(tag) ? `<${tag}> holds nothing` : `<${node.tagName}> has no end tag for <${tag}>`
  if (RAW.has(tag) !== RAW.has(node.tagName))
    return RAW.has(tag) ? `what <${tag}> holds is not read as markup` : `what <${node.tagName}> holds is not markup`
  const path = pathOf(parent)
  const there = whyNotIn(path, { tag, within: shape.within })
  // What was wrong before is not this change's fault.
  if (there && !whyNotIn(path, shape)) return there
  for (const child of node.childNodes) {
    if (!('tagName' in child)) continue
    const inner = shapeOf(child)
    const why = inner && whyNotIn([tag, ...path], inner)
    if (why && !whyNotIn([node.tagName, ...path], inner)) return why
  }
  if (CHILDREN[tag] && node.childNodes.some((c) => c.nodeName === '#text' && 'value' in c && c.value.trim() !== ''))
    return `<${tag}> holds ${words(CHILDREN[tag])} only, and no text`
  return null
}

function words(names: ReadonlySet<string>): string {
  const all = [...names].map((n) => `<${n}>`)
  return all.length < 2 ? all.join('') : `${all.slice(0, -1).join(', ')} and ${all.at(-1)}`
}
