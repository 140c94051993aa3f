import { escapeAttribute, escapeText } from './escape'

/** What can be put into a page, as an author would type it; two spaces stand for one step of indentation. */

const attr = (name: string, value: string): string => (value === '' ? '' : ` ${name}="${escapeAttribute(value, '"')}"`)

/** Whether HTML brings something that runs. */
export const bringsScript = (html: string): boolean => /<script\b|\son\w+\s*=|javascript:/i.test(html)

const slug = (text: string): string =>
  text
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '') || 'field'

export interface ImageOptions {
  readonly src: string
  readonly alt: string
  /** px of the picture itself; null where it is not known. */
  readonly size: { readonly width: number; readonly height: number } | null
  /** Text under it; with one, the picture becomes a figure. */
  readonly caption: string
}

export const headingHtml = (level: number, text: string): string => `<h${level}>${escapeText(text)}</h${level}>`

export const elementHtml = (tag: string, text: string): string => `<${tag}>${escapeText(text)}</${tag}>`

export const linkHtml = (href: string, text: string): string => `<a${attr('href', href)}>${escapeText(text || href)}</a>`

export const buttonHtml = (text: string): string => `<button type="button">${escapeText(text)}</button>`

/** One item for each line of `text`. */
export function listHtml(kind: 'ul' | 'ol', text: string): string {
  const items = text
    .split(/\n/)
    .map((t) => t.trim())
    .filter(Boolean)
  return `<${kind}>\n${(items.length ? items : ['First', 'Second', 'Third']).map((t) => `  <li>${escapeText(t)}</li>\n`).join('')}</${kind}>`
}

export function imageHtml({ src, alt, size, caption }: ImageOptions): string {
  const img = `<img${attr('src', src)} alt="${escapeAttribute(alt, '"')}"${size ? ` width="${size.width}" height="${size.height}"` : ''}>`
  return caption ? `<figure>\n  ${img}\n  <figcaption>${escapeText(caption)}</figcaption>\n</figure>` : img
}

export const videoHtml = (src: string): string => `<video${attr('src', src)} controls preload="metadata"></video>`

export function tableHtml(columns: number, rows: number, caption: string): string {
  const cells = (tag: string, text: string) =>
    Array.from({ length: columns }, (_, i) => `<${tag}${tag === 'th' ? ' scope="col"' : ''}>${text} ${i + 1}</${tag}>`).join('')
  const body = Array.from({ length: rows }, () => `    <tr>${cells('td', 'Cell')}</tr>\n`).join('')
  return `<table>\n${caption ? `  <caption>${escapeText(caption)}</caption>\n` : ''}  <thead>\n    <tr>${cells('th', 'Column')}</tr>\n  </thead>\n  <tbody>\n${body}  </tbody>\n</table>`
}

export const FIELD_TYPES = ['text', 'email', 'tel', 'number', 'date', 'checkbox', 'radio', 'select', 'textarea'] as const

/** A form field with its label, tied by an id (HTML §4.10.4). */
export function fieldHtml(type: (typeof FIELD_TYPES)[number], label: string): string {
  const id = slug(label)
  const text = escapeText(label)
  if (type === 'checkbox' || type === 'radio') return `<label><input type="${type}" name="${id}"> ${text}</label>`
  const control =
    type === 'select'
      ? `<select id="${id}" name="${id}">\n    <option>First</option>\n    <option>Second</option>\n  </select>`
      : type === 'textarea'
        ? `<textarea id="${id}" name="${id}" rows="4"></textarea>`
        : `<input type="${type}" id="${id}" name="${id}">`
  return `<div>\n  <label for="${id}">${text}</label>\n  ${control}\n</div>`
}

/** A landmark or section with a heading, where it is one that is named by one. */
export const sectionHtml = (tag: string, heading: string): string =>
  heading ? `<${tag}>\n  <h2>${escapeText(heading)}</h2>\n</${tag}>` : `<${tag}></${tag}>`

/** What a row or a grid of boxes declares. */
export const boxesRule = (kind: 'flex' | 'grid', count: number): { name: string; value: string }[] => [
  { name: 'display', value: kind },
  ...(kind === 'grid' ? [{ name: 'grid-template-columns', value: `repeat(${count}, minmax(0, 1fr))` }] : []),
  { name: 'gap', value: '1rem' },
]

/** Boxes in a row or a grid: by utility classes, by the rule of a class of their own, or, where there is neither, by a `style` attribute. */
export const boxesHtml = (kind: 'flex' | 'grid', count: number, utility: boolean, own: string | null): string => {
  const layout = utility
    ? attr('class', `${kind} ${kind === 'grid' ? `grid-cols-${count} ` : ''}gap-4`)
    : own !== null
      ? attr('class', own)
      : attr(
          'style',
          boxesRule(kind, count)
            .map((d) => `${d.name}: ${d.value}`)
            .join('; '),
        )
  return `<div${layout}>\n${'  <div></div>\n'.repeat(count)}</div>`
}

export const dialogHtml = (id: string, heading: string): string =>
  `<dialog id="${slug(id)}" aria-labelledby="${slug(id)}-title">\n  <h2 id="${slug(id)}-title">${escapeText(heading)}</h2>\n  <form method="dialog">\n    <button>Close</button>\n  </form>\n</dialog>`

export const embedHtml = (src: string, title: string): string =>
  `<iframe${attr('src', src)}${attr('title', title)} width="560" height="315" loading="lazy"></iframe>`

/** Watch pages of video hosts, which let no other page frame them, and the address that they have for that. */
const WATCH: readonly (readonly [RegExp, (m: RegExpExecArray) => string])[] = [
  [
    /^https?:\/\/(?:www\.|m\.)?youtube\.com\/(?:watch\?(?:.*&)?v=|shorts\/|live\/)([\w-]{6,})/i,
    ([, id]) => `https://www.youtube-nocookie.com/embed/${id}`,
  ],
  [/^https?:\/\/youtu\.be\/([\w-]{6,})/i, ([, id]) => `https://www.youtube-nocookie.com/embed/${id}`],
  [/^https?:\/\/(?:www\.)?vimeo\.com\/(\d+)/i, ([, id]) => `https://player.vimeo.com/video/${id}`],
  [/^https?:\/\/(?:www\.)?dailymotion\.com\/video\/(\w+)/i, ([, id]) => `https://geo.dailymotion.com/player.html?video=${id}`],
  [/^https?:\/\/(?:www\.)?twitch\.tv\/videos\/(\d+)/i, ([, id]) => `https://player.twitch.tv/?video=${id}`],
]

/** The address to frame in place of a watch page that refuses it; null for any other address. */
export function embedInstead(address: string): string | null {
  for (const [pattern, make] of WATCH) {
    const m = pattern.exec(address.trim())
    if (m) return make(m)
  }
  return null
}
