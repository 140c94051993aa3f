import type * as t from '@babel/types'
import { refuse, type EditPlan } from '../css'
import { isModulePath, lineEndOf, normalizeSplices, type Splice } from '../text'
import type { JsxDocument, JsxElement } from './document'
import { jsxStyle } from './house-style'
import { withoutUnusedImports } from './imports'
import { importedPicture, IS_PICTURE, type ImportedPicture } from './imported-picture'
import type { Node } from './parse'
import { attributeText, stringText } from './quoting'

/** `boat-small.svg` as the name of a variable. */
function nameOf(module: string): string {
  const stem = module.slice(module.lastIndexOf('/') + 1).replace(/\.\w+$/, '')
  const words = stem.split(/[^\p{L}\p{N}$]+/u).filter(Boolean)
  const name = words.map((w, i) => (i === 0 ? w[0].toLowerCase() : w[0].toUpperCase()) + w.slice(1)).join('')
  return /^[\p{L}$_]/u.test(name) ? name : `picture${name}`
}

/** What an import of another picture is called, in the way that one is called after its file; null where that is not. */
function nameLike({ name, module }: ImportedPicture, other: string): string | null {
  const [own, next] = [nameOf(module), nameOf(other)]
  const at = name.toLowerCase().indexOf(own.toLowerCase())
  if (at < 0) return null
  const renamed = at === 0 ? next : next[0].toUpperCase() + next.slice(1)
  return name.slice(0, at) + renamed + name.slice(at + own.length)
}

function importsOf(doc: JsxDocument): (t.ImportDeclaration & Node)[] {
  return doc.program?.type === 'Program'
    ? doc.program.body.filter((s): s is t.ImportDeclaration & Node => s.type === 'ImportDeclaration')
    : []
}

const freeName = ({ bindings }: JsxDocument, wanted: string): string => {
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : wanted + n
    if (!bindings.isSaid(name)) return name
  }
}

// What the file calls a picture that it imports already.
const knownAs = (doc: JsxDocument, module: string): string | null =>
  importsOf(doc)
    .filter((s) => s.source.value === module)
    .flatMap((s) => s.specifiers.flatMap((x) => (x.type === 'ImportDefaultSpecifier' ? [x.local.name] : [])))[0] ?? null

/** A picture of a file as an expression: what it is called, with the import that this takes. */
export function importPicture(
  doc: JsxDocument,
  module: string,
  wanted = nameOf(module),
): { readonly name: string; readonly splices: readonly Splice[] } {
  const known = knownAs(doc, module)
  if (known) return { name: known, splices: [] }
  const name = freeName(doc, wanted)
  const all = importsOf(doc)
  const before = all.findLast((s) => IS_PICTURE.test(s.source.value)) ?? all.at(-1)
  const { stringQuote: q } = jsxStyle(doc)
  const ends = all.length ? all.filter((s) => doc.text[s.end - 1] === ';').length * 2 >= all.length : false
  const line = `import ${name} from ${q}${stringText(module, q)}${q}${ends ? ';' : ''}`
  const eol = lineEndOf(doc.text)
  if (before) return { name, splices: [{ from: before.end, to: before.end, insert: eol + line }] }
  // Directives come first (ECMAScript §11.2.1).
  const directive = doc.program?.type === 'Program' ? (doc.program.directives.at(-1) as Node | undefined) : undefined
  if (!directive) return { name, splices: [{ from: 0, to: 0, insert: `${line}${eol}${eol}` }] }
  const gap = /^[ \t]*\r?\n[ \t]*\r?\n/.test(doc.text.slice(directive.end)) ? '' : eol
  return { name, splices: [{ from: directive.end, to: directive.end, insert: eol + eol + line + gap }] }
}

/** Another picture for an attribute that shows one by an import, or by its address. */
export function setPicture(doc: JsxDocument, element: JsxElement, there: t.JSXAttribute & Node, value: string): EditPlan {
  const now = importedPicture(doc, there)
  const given = there.value as Node
  if (!isModulePath(value)) {
    if (now && isSizedByImport(element, doc))
      return refuse('not-allowed', `${element.tag} takes its size from the import; without it, it needs a width and a height.`)
    const { attributeQuote: q } = jsxStyle(doc)
    const plan: EditPlan = { ok: true, splices: [{ from: given.start, to: given.end, insert: q + attributeText(value, q) + q }] }
    return now ? withoutUnusedImports(doc, [given], plan) : plan
  }
  if (!IS_PICTURE.test(value)) return refuse('bad-value', `${value} is no picture that a script can import.`)
  if (!now) {
    const { name, splices } = importPicture(doc, value)
    return { ok: true, splices: normalizeSplices([...splices, { from: given.start, to: given.end, insert: `{${name}}` }]) }
  }
  const statement = importsOf(doc).find((s) => s.specifiers.some((x) => x.local.name === now.name))!
  if (doc.bindings.of(now.name)!.uses > 1 || statement.specifiers.length > 1 || knownAs(doc, value)) {
    const { name, splices } = importPicture(doc, value, nameLike(now, value) ?? undefined)
    return withoutUnusedImports(doc, [given], {
      ok: true,
      splices: normalizeSplices([...splices, { from: now.node.start, to: now.node.end, insert: name }]),
    })
  }
  // Only this tag shows it: the import is of the other picture, and called after that as it was called after this.
  const source = statement.source as Node
  const path = { from: source.start + 1, to: source.end - 1, insert: stringText(value, doc.text[source.start] as '"' | "'") }
  const like = nameLike(now, value)
  const name = like === null || like === now.name ? null : freeName(doc, like)
  const local = statement.specifiers[0].local as Node
  const renamed = name === null ? [] : [local, now.node].map((n) => ({ from: n.start, to: n.end, insert: name }))
  return { ok: true, splices: normalizeSplices([path, ...renamed]) }
}

// Next.js takes the size of what is imported from the file.
function isSizedByImport(element: JsxElement, { bindings }: JsxDocument): boolean {
  const isFramework = /^next\/(legacy\/)?image$/.test(bindings.of(element.tag)?.module ?? '')
  const has = (name: string) => element.attribute(name) !== null
  return isFramework && !has('fill') && !(has('width') && has('height'))
}
