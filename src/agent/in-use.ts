import { inSlices } from '../core/project'
import { documentsOf } from './documents'
import { renderedFamily } from './facts'
import { isOurs } from './own-script'
import type { UsedColor, UsedFace } from './protocol'

/** Elements that are looked at, and those that are named of one face or colour, at most. */
const MOST = 20_000
const MOST_NAMED = 500

type WithElements<T> = Omit<T, 'nodes'> & { readonly elements: readonly Element[] }

type ColorRole = 'text' | 'ground' | 'edge' | 'paint'

interface Tally {
  readonly elements: Element[]
  count: number
}

const tally = (into: Tally, e: Element): void => {
  if (into.elements.length < MOST_NAMED) into.elements.push(e)
  into.count++
}

const charactersOf = (e: Element): number => {
  let n = 0
  for (const node of e.childNodes) if (node.nodeType === Node.TEXT_NODE) n += node.nodeValue!.replace(/\s+/g, '').length
  return n
}

const isSeen = (color: string): boolean => color !== '' && color !== 'none' && !/^transparent$|(?:,|\/)\s*0\)$/.test(color)

const SIDES = ['top', 'right', 'bottom', 'left']

/** What a gradient, or another picture that is written out, is made of. */
const colorsIn = (image: string): readonly string[] => image.match(/(?:rgba?|color|oklab|oklch|lab|lch)\([^()]*\)/g) ?? []

// What shows of an element: text only where it has some, edges only where they are drawn.
function colorsOf(e: Element, style: CSSStyleDeclaration, hasText: boolean): Map<string, Set<ColorRole>> {
  const out = new Map<string, Set<ColorRole>>()
  const add = (color: string, role: ColorRole) => {
    if (isSeen(color)) out.set(color, (out.get(color) ?? new Set()).add(role))
  }
  if (hasText) add(style.color, 'text')
  add(style.backgroundColor, 'ground')
  for (const color of colorsIn(style.backgroundImage)) add(color, 'ground')
  for (const side of SIDES) {
    if (parseFloat(style.getPropertyValue(`border-${side}-width`)) > 0) add(style.getPropertyValue(`border-${side}-color`), 'edge')
  }
  if (style.outlineStyle !== 'none' && parseFloat(style.outlineWidth) > 0) add(style.outlineColor, 'edge')
  if (e.namespaceURI?.endsWith('/svg') && e.children.length === 0) {
    add(style.fill, 'paint')
    if (style.stroke !== 'none') add(style.stroke, 'paint')
  }
  return out
}

/** Every face and every colour that the page shows, with the elements that have it; frames of the same site included. What has no box is left out. */
export async function inUseOn(root: Document): Promise<{
  readonly faces: readonly WithElements<UsedFace>[]
  readonly colors: readonly WithElements<UsedColor>[]
}> {
  const faces = new Map<string, Tally & { face: Pick<UsedFace, 'family' | 'weight' | 'style' | 'size'>; characters: number }>()
  const colors = new Map<string, Tally & { roles: Record<ColorRole, number> }>()
  let left = MOST
  // The page goes on with what it does.
  const goesOn = inSlices(async () => {
    await new Promise((done) => setTimeout(done))
    return true
  })
  for (const doc of documentsOf(root)) {
    const view = doc.defaultView
    if (!doc.body || !view) continue
    const stack: Element[] = [doc.documentElement]
    while (stack.length && left > 0) {
      await goesOn()
      const e = stack.pop()!
      const style = view.getComputedStyle(e)
      if (isOurs(e) || style.display === 'none') continue
      stack.push(...[...e.children].reverse())
      left--
      if (style.visibility !== 'visible') continue
      const characters = charactersOf(e)
      const hasText = characters > 0 && !/^(script|style|title|noscript)$/.test(e.localName)
      if (hasText) {
        const face = { family: renderedFamily(style), weight: style.fontWeight, style: style.fontStyle, size: style.fontSize }
        const key = Object.values(face).join('\0')
        const known = faces.get(key) ?? { face, characters: 0, elements: [], count: 0 }
        known.characters += characters
        tally(known, e)
        faces.set(key, known)
      }
      for (const [color, roles] of colorsOf(e, style, hasText)) {
        const known = colors.get(color) ?? { roles: { text: 0, ground: 0, edge: 0, paint: 0 }, elements: [], count: 0 }
        for (const role of roles) known.roles[role]++
        tally(known, e)
        colors.set(color, known)
      }
    }
  }
  return {
    faces: [...faces.values()].map(({ face, ...rest }) => ({ ...face, ...rest })).sort((a, b) => b.characters - a.characters),
    colors: [...colors].map(([color, { roles, ...rest }]) => ({ color, ...roles, ...rest })).sort((a, b) => b.count - a.count),
  }
}
