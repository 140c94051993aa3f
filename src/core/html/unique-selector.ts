import { escapeName } from '../css'
import { attribute, classesOf, type HtmlDocument, type HtmlElement } from './document'

const isPlain = (e: HtmlElement): boolean => e.startTag !== null

/** A short selector that names just this element of its page as the source has it: by its id, its class, what it stands in, or its place. */
export function uniqueSelector(doc: HtmlDocument, element: HtmlElement): string {
  const all = doc.elements.filter(isPlain)
  const names = (e: HtmlElement): string[] => {
    const { tagName } = e.node
    const id = attribute(e.node, 'id')
    const classes = classesOf(e.node).map((c) => `.${escapeName(c)}`)
    return [...(id ? [`#${escapeName(id)}`] : []), ...classes, ...classes.map((c) => tagName + c), tagName]
  }
  const own = names(element)
  const alone = own.find((n) => all.filter((e) => e === element || names(e).includes(n)).length === 1)
  if (alone) return alone
  // The nearest element around that is named alone, and what in it only this one is.
  for (let around = element.parent; around; around = around.parent) {
    const name = names(around).find((n) => all.filter((e) => names(e).includes(n)).length === 1)
    if (!name) continue
    const inside = all.filter((e) => isWithin(e, around))
    const within = own.find((n) => inside.filter((e) => names(e).includes(n)).length === 1)
    if (within) return `${name} ${within}`
    break
  }
  const path: string[] = []
  for (let e: HtmlElement | null = element; e; e = e.parent) {
    const { node, parent } = e
    const like: HtmlElement[] = all.filter((x) => x.parent === parent && x.node.tagName === node.tagName)
    const id = attribute(node, 'id')
    if (id && all.filter((x) => attribute(x.node, 'id') === id).length === 1) {
      path.unshift(`#${escapeName(id)}`)
      break
    }
    path.unshift(like.length > 1 ? `${node.tagName}:nth-of-type(${like.indexOf(e) + 1})` : node.tagName)
  }
  return path.join(' > ')
}

function isWithin(e: HtmlElement, around: HtmlElement): boolean {
  for (let p = e.parent; p; p = p.parent) if (p === around) return true
  return false
}
