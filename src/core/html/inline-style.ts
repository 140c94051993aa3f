import {
  declarationsOf,
  isWholeValue,
  longhandsOf,
  measureHouseStyle,
  parseDeclarationList,
  refuse,
  removeDeclaration,
  setDeclaration,
  setImportant,
  sets,
  Sheet,
  switchedOff,
  switchOff,
  switchOn,
  type Comment,
  type EditPlan,
  type Wanted,
} from '../css'
import { applySplices } from '../text'
import { attribute, type HtmlDocument, type HtmlElement } from './document'
import { setAttribute } from './edit'

/** The `style` attribute's text after `wanted` is set in it, written as the rest of the attribute is. */
export function inlineStyleText(current: string, wanted: Wanted): string | null {
  const value = wanted.value.trim()
  if (!isWholeValue(wanted.name, value)) return null
  if (parseDeclarationList(current).length === 0) return `${wanted.name}: ${value}${wanted.important ? ' !important' : ''}`
  // The declarations of a one-line rule, so that the one planner serves both.
  const before = `x{${current}}`
  const sheet = new Sheet(before)
  const site = [...sheet.rules()][0]
  const afterColon = /:\s/.test(current) ? ' ' : ''
  const style = {
    ...measureHouseStyle(sheet),
    minified: afterColon === '' && !/;\s/.test(current),
    afterColon,
    oneLine: true,
  }
  const plan = setDeclaration(site, style, { ...wanted, value })
  if (!plan.ok) return null
  let text = applySplices(before, plan.splices).slice(2, -1)
  // Between two declarations of the attribute stands a space where the house writes one after the colon.
  if (afterColon && parseDeclarationList(current).length === 1) text = text.replace(/;(?=\S)/g, '; ')
  return text
}

/** Sets one declaration in the element's `style` attribute (CSS Style Attributes §3), adding the attribute if need be. */
export function setInlineStyle(doc: HtmlDocument, element: HtmlElement, wanted: Wanted): EditPlan {
  const text = inlineStyleText(attribute(element.node, 'style') ?? '', wanted)
  if (text === null) return refuse('bad-value', `“${wanted.value}” cannot stand as the value of ${wanted.name}.`)
  return setAttribute(doc, element, 'style', text)
}

/** The `style` attribute's text with the declaration of `name` changed; null when it has none to change. */
export function changeInlineStyle(
  current: string,
  how: 'remove' | 'switch-off' | 'switch-on' | 'make-important' | 'make-normal',
  name: string,
): string | null {
  const text = `x{${current}}`
  const sheet = new Sheet(text)
  const site = [...sheet.rules()][0]
  if (!site || site.rule.block?.to !== text.length - 1) return null
  const index = declarationsOf(site.rule).findLastIndex((d) => sets(d.name, longhandsOf(name)[0]))
  const comments = site.rule.children.filter((c): c is Comment => c.kind === 'comment')
  const off = comments.findLastIndex((c) => switchedOff(text, c)?.name === name)
  const style = measureHouseStyle(sheet)
  const plan =
    how === 'remove'
      ? removeDeclaration(site, index)
      : how === 'switch-off'
        ? switchOff(site, index)
        : how === 'switch-on'
          ? switchOn(site, off)
          : setImportant(site, style, index, how === 'make-important')
  return plan.ok ? applySplices(text, plan.splices).slice(2, -1).trim() : null
}
