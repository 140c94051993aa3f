import type { NewSheetRef } from '../aim'
import {
  blockText,
  inHouseSpelling,
  isWholeValue,
  lineIndent,
  measureHouseStyle,
  refuse,
  ruleText,
  Sheet,
  type HouseStyle,
  type NewRule,
  type Refused,
} from '../css'
import { classesOf, type ElementTree, type Place } from '../language'
import { isLibrary, type Project } from '../project'
import { mapOffset } from '../text'
import type { PlannedEdit, SetIntent } from './intent'
import { addClassTo } from './plan-classes'
import { editableElement } from './target'

/** As the author writes rules in another sheet of the project, else as most do, with the page's own step of indentation. */
function houseStyle(project: Project, tree: ElementTree): HouseStyle {
  const own = project.allSheets().find((ref) => project.isEditable(ref) && !isLibrary(ref) && ref.sheet.length > 0)
  return { ...(own?.style ?? { ...measureHouseStyle(new Sheet('')), indent: tree.indentUnit() }), lineEnd: '\n' }
}

/** What a line of an element at this place begins with. */
function indentAt(tree: ElementTree, { element, where }: Place): string {
  const { startTag } = tree.element(element)
  return ((startTag && lineIndent(tree.text, startTag.from)) ?? '') + (where === 'last' ? tree.indentUnit() : '')
}

/** A class of its own for an element, with the value in a rule of a new `<style>` element (HTML §4.2.6). */
export function planNewSheet(project: Project, intent: SetIntent, aim: NewSheetRef): PlannedEdit | Refused {
  const found = editableElement(project, aim.source)
  if (!found.ok) return found
  const { tree, element, path } = found
  const place = tree.newSheetPlace()
  if (!place) return refuse('not-found', `${path} has no <head> tag to write a style sheet in.`)
  const style = houseStyle(project, tree)
  const value = intent.name.startsWith('--') ? intent.value.trim() : inHouseSpelling(intent.value.trim(), style)
  if (!isWholeValue(intent.name, value)) return refuse('bad-value', `“${intent.value}” cannot stand as the value of ${intent.name}.`)
  const rule: NewRule = {
    selector: aim.selector,
    declarations: [{ name: intent.name, value, important: intent.important }],
  }
  const text = aim.under ? blockText(style, 'media', aim.under, rule) : ruleText(style, '', rule)
  const indent = indentAt(tree, place)
  // The text of a `<style>` element is inserted as it is.
  const lines = text
    .split('\n')
    .map((line) => indent + tree.indentUnit() + line)
    .join('\n')
  const sheet = tree.insert(place, `<style>\n${lines}\n${indent}</style>`)
  if (!sheet.ok) return sheet
  const named = addClassTo(tree, element, aim.name)
  if (!named.ok) return named
  const splices = [...sheet.splices, ...named.splices].sort((a, b) => a.from - b.from)
  const { from, insert } = sheet.splices[0]
  return {
    ok: true,
    changes: [{ path, splices }],
    path,
    name: intent.name,
    before: null,
    after: value,
    at: mapOffset(named.splices, from, 'before') + insert.lastIndexOf(`${intent.name}${style.beforeColon}:`),
    selectors: [aim.selector],
    label: `${aim.under ? `${aim.selector} @media ${aim.under}` : aim.selector} in a new <style>`,
    preview: [
      { op: 'insert', sheet: aim.last, after: null, text },
      { op: 'attribute', source: aim.source, name: 'class', value: [...classesOf(element), aim.name].join(' ') },
    ],
  }
}
