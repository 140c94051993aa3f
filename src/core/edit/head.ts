import { refuse, type Refused } from '../css'
import { escapeAttribute, escapeText } from '../html'
import { attribute, type ElementTree, type SourceElement } from '../language'
import type { Project } from '../project'
import type { Intent, SourcePlace } from './intent'

/** What a page says of itself (HTML §4.2): each a text, an attribute of an element that says just that. */
export const HEAD_FIELDS = [
  'title',
  'lang',
  'description',
  'viewport',
  'icon',
  'og:title',
  'og:description',
  'og:image',
  'og:type',
  'twitter:card',
] as const
export type HeadField = (typeof HEAD_FIELDS)[number]

/** A sheet or script that the page names, or has in it. */
export interface HeadPart {
  readonly source: string
  readonly kind: 'sheet' | 'script'
  /** Its address, or that it stands in the page. */
  readonly told: string
}

export interface Head {
  readonly fields: Readonly<Record<HeadField, string | null>>
  /** In the order of the source. */
  readonly parts: readonly HeadPart[]
}

const text = (e: SourceElement): string => e.texts.join('')

function elementFor(tree: ElementTree, field: HeadField): SourceElement | null {
  const is = (e: SourceElement, tag: string, name: string, value: string) =>
    e.startTag !== null && e.tag === tag && (attribute(e, name) ?? '').toLowerCase().split(/\s+/).includes(value)
  return (
    tree.elements.find((e) =>
      field === 'title'
        ? e.tag === 'title' && e.isHtml && e.startTag !== null
        : field === 'lang'
          ? e.tag === 'html' && e.startTag !== null
          : field === 'icon'
            ? is(e, 'link', 'rel', 'icon')
            : field.startsWith('og:')
              ? is(e, 'meta', 'property', field)
              : is(e, 'meta', 'name', field),
    ) ?? null
  )
}

const ATTRIBUTE: Readonly<Partial<Record<HeadField, string>>> = { lang: 'lang', icon: 'href' }

function valueOf(tree: ElementTree, field: HeadField): string | null {
  const e = elementFor(tree, field)
  return e && (field === 'title' ? text(e).trim() : attribute(e, ATTRIBUTE[field] ?? 'content'))
}

/** Reads the head of a page. @throws RangeError when the project has no such page. */
export function readHead(project: Project, page: string): Head {
  const tree = project.tree(page)
  const head = tree.elements.find((e) => e.tag === 'head')
  const parts = tree.elements.flatMap((e): HeadPart[] => {
    if (!e.startTag || e.parent !== head) return []
    const source = project.sourceOf(page, e.id)
    const rel = (attribute(e, 'rel') ?? '').toLowerCase().split(/\s+/)
    if (e.tag === 'link' && rel.includes('stylesheet')) return [{ source, kind: 'sheet', told: attribute(e, 'href') ?? '' }]
    if (e.tag === 'style') return [{ source, kind: 'sheet', told: 'in the page' }]
    return e.tag === 'script' ? [{ source, kind: 'script', told: attribute(e, 'src') ?? 'in the page' }] : []
  })
  return { fields: Object.fromEntries(HEAD_FIELDS.map((f) => [f, valueOf(tree, f)])) as Head['fields'], parts }
}

const html = (field: HeadField, value: string): string => {
  const v = escapeAttribute(value, '"')
  if (field === 'title') return `<title>${escapeText(value)}</title>`
  if (field === 'icon') return `<link rel="icon" href="${v}">`
  return field.startsWith('og:') ? `<meta property="${field}" content="${v}">` : `<meta name="${field}" content="${v}">`
}

// After what a reader would look for it beside: the fields before it, else what the head begins with.
function placeOf(project: Project, page: string, field: HeadField): SourcePlace | null {
  const tree = project.tree(page)
  const source = (e: SourceElement) => project.sourceOf(page, e.id)
  const order: readonly HeadField[] = [
    'viewport',
    'title',
    'description',
    'og:title',
    'og:description',
    'og:image',
    'og:type',
    'twitter:card',
    'icon',
  ]
  const before = order
    .slice(0, order.indexOf(field))
    .reverse()
    .flatMap((f) => elementFor(tree, f) ?? [])[0]
  if (before) return { source: source(before), where: 'after' }
  const charset = tree.elements.find((e) => e.tag === 'meta' && e.startTag && attribute(e, 'charset') !== null)
  if (charset) return { source: source(charset), where: 'after' }
  const head = tree.elements.find((e) => e.tag === 'head' && e.startTag)
  return head ? { source: source(head), where: 'first' } : null
}

/** What gives a field of the head this value, or takes it away with null. */
export function headIntent(project: Project, page: string, field: HeadField, value: string | null): Intent | Refused {
  const tree = project.tree(page)
  const there = elementFor(tree, field)
  const source = there && project.sourceOf(page, there.id)
  if (field === 'lang')
    return source
      ? { kind: 'set-attribute', source, name: 'lang', value }
      : refuse('not-found', 'The page has no <html> tag to say its language on.')
  if (value === null) return source ? { kind: 'delete', sources: [source] } : refuse('not-found', `The page has no ${field}.`)
  if (source && field === 'title' && there.texts.length) return { kind: 'set-text', source, index: 0, text: value }
  if (source && field === 'title') return { kind: 'insert-html', place: { source, where: 'last' }, html: escapeText(value), what: 'title' }
  if (source) return { kind: 'set-attribute', source, name: ATTRIBUTE[field] ?? 'content', value }
  const place = placeOf(project, page, field)
  return place
    ? { kind: 'insert-html', place, html: html(field, value), what: field }
    : refuse('not-found', 'The page has no <head> tag to write it in.')
}
