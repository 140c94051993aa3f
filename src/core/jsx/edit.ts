import type * as t from '@babel/types'
import { isStyleModule, refuse, type EditPlan } from '../css'
import { isBooleanAttribute } from '../html'
import { isModulePath, lineEndOf, normalizeSplices, type Splice } from '../text'
import { withoutUnusedImports } from './imports'
import type { TakenMember } from './bindings'
import { joins } from './joins'
import { meantBy } from './meaning'
import { spelledIn } from './class-pieces'
import { attributeName, attributeValue, type JsxDocument, type JsxElement } from './document'
import { jsxStyle } from './house-style'
import { importedPicture, IS_PICTURE } from './imported-picture'
import { inJsx, isNumeric } from './names'
import { bare, childrenOf, type Node } from './parse'
import { importPicture, setPicture } from './pictures'
import { attributeText, stringText, templateText } from './quoting'
import { removeFromStyle, setInStyle, styleText } from './style-object'
import { textSplice } from './text'

const runs = (what: string) => refuse('not-allowed', `${what} is worked out while the page runs.`)

const one = (from: number, to: number, insert: string): EditPlan => ({ ok: true, splices: [{ from, to, insert }] })

/** An attribute that is not there yet, written behind the others; before what is spread, which may give it another value as it did. */
export function addAttribute(doc: JsxDocument, element: JsxElement, text: string): EditPlan {
  const { text: source } = doc
  const opening = element.node.openingElement as t.JSXOpeningElement & Node
  const all = opening.attributes as readonly Node[]
  const spread = all.findIndex((a) => a.type === 'JSXSpreadAttribute')
  const before = spread < 0 ? all.at(-1) : all[spread - 1]
  const nameEnd = ((opening.typeParameters ?? (opening as { typeArguments?: t.Node | null }).typeArguments ?? opening.name) as Node).end
  const at = before?.end ?? nameEnd
  // Where each stands on a line of its own, so does this one.
  const first = all[0]
  const isBroken = first !== undefined && source.slice(nameEnd, first.start).includes('\n')
  const gap = isBroken ? lineEndOf(source) + /[ \t]*$/.exec(source.slice(0, first.start))![0] : ' '
  return one(at, at, gap + text)
}

/** The name that a tag gives an attribute: that of markup for components that take it so. */
export const nameFor = (doc: JsxDocument, element: JsxElement, name: string): string => {
  if (name !== 'class') return inJsx(name)
  const isClass = (e: JsxElement) => e.node.openingElement.attributes.some((a) => a.type === 'JSXAttribute' && attributeName(a) === 'class')
  return isClass(element) || (doc.elements.some(isClass) && !doc.text.includes('className')) ? 'class' : 'className'
}

export function setJsxAttribute(doc: JsxDocument, element: JsxElement, name: string, value: string): EditPlan {
  if (!/^[A-Za-z_][\w.:-]*$/.test(name)) return refuse('bad-name', `“${name}” cannot be the name of an attribute.`)
  if (value.includes('\0')) return refuse('bad-value', 'An attribute cannot hold a NUL character.')
  if (name === 'style') return refuse('not-allowed', 'A style is written property by property.')
  const there = element.attribute(name)
  const { attributeQuote } = jsxStyle(doc)
  const quoted = (quote: '"' | "'") => `${quote}${attributeText(value, quote)}${quote}`
  if (!there) {
    const written = nameFor(doc, element, name)
    if (value === '' && isBooleanAttribute(name)) return addAttribute(doc, element, written)
    if (isImported(name, value)) return withImport(doc, element, written, value)
    if (isNumeric(written) && /^-?\d+$/.test(value)) return addAttribute(doc, element, `${written}={${value}}`)
    const other = attributeQuote === '"' ? "'" : '"'
    return addAttribute(
      doc,
      element,
      `${written}=${quoted(value.includes(attributeQuote) && !value.includes(other) ? other : attributeQuote)}`,
    )
  }
  const picture = importedPicture(doc, there)
  if (picture?.module === value) return { ok: true, splices: [] }
  if (picture || (attributeValue(there) && isImported(name, value))) return setPicture(doc, element, there, value)
  return rewriteValue(doc, there, value)
}

/** Another text for an attribute that is there, where what it says is written out; in the way in which it is written. */
export function rewriteValue(doc: JsxDocument, there: t.JSXAttribute & Node, value: string): EditPlan {
  const { text } = doc
  const { attributeQuote } = jsxStyle(doc)
  const quoted = (quote: '"' | "'") => `${quote}${attributeText(value, quote)}${quote}`
  if (attributeValue(there) === null && attributeName(there) !== 'class' && attributeName(there) !== 'className')
    return runs(`The attribute ${attributeName(there)}`)
  if (attributeValue(there) === value) return { ok: true, splices: [] }
  if (!there.value) return one(there.end, there.end, `=${quoted(attributeQuote)}`)
  const given = there.value as Node
  if (given.type === 'StringLiteral') {
    const quote = text[given.start] as '"' | "'"
    return one(given.start + 1, given.end - 1, attributeText(value, quote))
  }
  const node = bare((given as t.JSXExpressionContainer).expression as Node)
  if (node.type === 'StringLiteral') return one(node.start + 1, node.end - 1, stringText(value, text[node.start] as '"' | "'"))
  if (node.type === 'TemplateLiteral' && node.expressions.length === 0) return one(node.start + 1, node.end - 1, templateText(value))
  if (node.type === 'NumericLiteral' && /^-?\d+(\.\d+)?$/.test(value)) return one(node.start, node.end, value)
  if (node.type === 'NumericLiteral' || node.type === 'BooleanLiteral') return one(given.start, given.end, quoted(attributeQuote))
  return runs(`The attribute ${attributeName(there)}`)
}

/** Attributes that show a picture. */
const PICTURES: ReadonlySet<string> = new Set(['src', 'poster', 'data'])

// A path from the file itself leads nowhere on the page: a bundler has to give the address.
const isImported = (name: string, value: string): boolean => PICTURES.has(name) && isModulePath(value) && IS_PICTURE.test(value)

function withImport(doc: JsxDocument, element: JsxElement, written: string, value: string): EditPlan {
  const { name, splices } = importPicture(doc, value)
  const plan = addAttribute(doc, element, `${written}={${name}}`)
  return plan.ok ? { ok: true, splices: normalizeSplices([...splices, ...plan.splices]) } : plan
}

/** What takes an attribute out of its tag, with the white space before it. */
export function withoutAttribute({ text }: JsxDocument, there: Node): EditPlan {
  let from = there.start
  while (/\s/.test(text[from - 1])) from--
  return one(from, there.end, '')
}

export function removeJsxAttribute(doc: JsxDocument, element: JsxElement, name: string): EditPlan {
  const there = element.attribute(name)
  if (!there) return refuse('not-found', `The element has no attribute ${name}.`)
  const plan = withoutAttribute(doc, there)
  return importedPicture(doc, there) ? withoutUnusedImports(doc, [there], plan) : plan
}

export function renameJsxAttribute(doc: JsxDocument, element: JsxElement, name: string, to: string): EditPlan {
  const there = element.attribute(name)
  if (!there) return refuse('not-found', `The element has no attribute ${name}.`)
  if (!/^[A-Za-z_][\w.:-]*$/.test(to)) return refuse('bad-name', `“${to}” cannot be the name of an attribute.`)
  if (element.attribute(to)) return refuse('bad-name', `The element has an attribute ${to} already.`)
  return one(there.name.start!, there.name.end!, nameFor(doc, element, to))
}

/** What is added to a class list: names, or a member of a style module. */
interface Added {
  /** As an argument of a call, or an item of a list. */
  readonly argument: string
  /** As a part of a template. */
  readonly part: string
}

/** Writes classes where a tag has no text that always counts: in an attribute of its own, or beside what gives the list now. */
export function addClasses(doc: JsxDocument, element: JsxElement, names: string): EditPlan {
  const there = element.attribute('class')
  if (!there?.value)
    return there ? one(there.end, there.end, `="${attributeText(names, '"')}"`) : setJsxAttribute(doc, element, 'class', names)
  const given = there.value as Node
  if (given.type === 'StringLiteral') return one(given.start + 1, given.end - 1, attributeText(names, doc.text[given.start] as '"' | "'"))
  if (given.type !== 'JSXExpressionContainer') return runs('The class list')
  const { stringQuote: q } = jsxStyle(doc)
  const node = bare(given.expression as Node)
  if (node.type === 'StringLiteral') return one(node.start + 1, node.end - 1, stringText(names, doc.text[node.start] as '"' | "'"))
  return addBeside(doc, node, { argument: `${q}${stringText(names, q)}${q}`, part: templateText(names) })
}

// As it follows the object's name.
function memberText(doc: JsxDocument, name: string): string {
  const { stringQuote: q } = jsxStyle(doc)
  return /^[A-Za-z_$][\w$]*$/.test(name) ? `.${name}` : `[${q}${stringText(name, q)}${q}]`
}

/** What puts another member of a style module, which the file knows as `styles`, in the place of one wherever the file takes it. */
export function renameMember(doc: JsxDocument, styles: string, from: string, to: string): Splice[] {
  const out: Splice[] = []
  const visit = (node: Node): void => {
    for (const child of childrenOf(node)) visit(child)
    if ((node.type !== 'MemberExpression' && node.type !== 'OptionalMemberExpression') || node.object.type !== 'Identifier') return
    const property = node.property as Node
    const name =
      property.type === 'StringLiteral' ? property.value : !node.computed && property.type === 'Identifier' ? property.name : null
    if (node.object.name !== styles || name !== from) return
    const object = node.object as Node
    // A chain that may end keeps its mark.
    const mark = node.type === 'OptionalMemberExpression' && node.optional ? '?.' : ''
    const said = memberText(doc, to)
    out.push({ from: object.end, to: node.end, insert: mark ? mark + said.replace(/^\./, '') : said })
  }
  if (doc.program) visit(doc.program)
  return out.sort((a, b) => a.from - b.from)
}

/** What takes another class of a style module in the place of one that the file imports by itself, and calls it by its name where it did. */
export function renameTaken(doc: JsxDocument, { name, member, from }: TakenMember, to: string): Splice[] {
  const isName = /^[A-Za-z_$][\w$]*$/.test(to)
  const { stringQuote: q } = jsxStyle(doc)
  const imported = isName ? to : `${q}${stringText(to, q)}${q}`
  const isCalledSo = name === member && isName && !doc.bindings.isSaid(to)
  const local = isCalledSo ? to : name
  const out: Splice[] = []
  const put = (node: t.Node, insert: string) => out.push({ from: node.start!, to: node.end!, insert })
  const visit = (node: Node): void => {
    if (node.type === 'ImportDeclaration') {
      for (const s of node.specifiers)
        if (node.source.value === from && s.type === 'ImportSpecifier' && s.local.name === name)
          put(s, imported === local ? local : `${imported} as ${local}`)
      return
    }
    if (!isCalledSo) {
      for (const child of childrenOf(node)) visit(child)
      return
    }
    if (node.type === 'Identifier' && node.name === name) put(node, local)
    else if (node.type === 'ObjectProperty' && node.shorthand && node.value.type === 'Identifier' && node.value.name === name)
      put(node, `${name}: ${local}`)
    else
      for (const child of childrenOf(node)) {
        // Names of properties are no uses of it.
        const isKey =
          ((node.type === 'MemberExpression' || node.type === 'OptionalMemberExpression') && child === node.property && !node.computed) ||
          ((node.type === 'ObjectProperty' || node.type === 'ObjectMethod') && child === node.key && !node.computed)
        if (!isKey) visit(child)
      }
  }
  if (doc.program) visit(doc.program)
  return out.sort((a, b) => a.from - b.from)
}

/** Adds a class of a style module, which the file knows as `styles`, to the class list of a tag. */
export function addMember(doc: JsxDocument, element: JsxElement, styles: string, name: string): EditPlan {
  const { stringQuote: q } = jsxStyle(doc)
  const said = styles + memberText(doc, name)
  const there = element.attribute('class')
  if (!there) return addAttribute(doc, element, `${nameFor(doc, element, 'class')}={${said}}`)
  const given = there.value as Node | null | undefined
  if (!given) return one(there.end, there.end, `={${said}}`)
  const node = given.type === 'JSXExpressionContainer' ? bare(given.expression as Node) : given
  const added: Added = { argument: said, part: `\${${said}}` }
  if (node.type !== 'StringLiteral') return addBeside(doc, node, added)
  const list = node.value.trim()
  // The attribute's own text, or a string in braces: it takes an expression in its place.
  const [from, to] = [given.start, given.end]
  if (list === '') return one(from, to, `{${said}}`)
  const joiner = doc.bindings.importOf((n) => joins({ type: 'Identifier', name: n } as Node, doc))
  return one(from, to, joiner ? `{${joiner}(${said}, ${q}${stringText(list, q)}${q})}` : `{\`${added.part} ${templateText(list)}\`}`)
}

// Beside what gives the list now: as the file joins its lists, what is of a module or of a constant first.
function addBeside(doc: JsxDocument, node: Node, { argument, part }: Added): EditPlan {
  const said = doc.text.slice(node.start, node.end)
  const { stringQuote: q } = jsxStyle(doc)
  if (node.type === 'TemplateLiteral') {
    const isEmpty = node.expressions.length === 0 && node.quasis[0].value.raw.trim() === ''
    return one(node.end - 1, node.end - 1, (isEmpty ? '' : ' ') + part)
  }
  if (node.type === 'CallExpression' && joins(node.callee as Node, doc)) {
    // Behind what stands for classes of a module, which come first by habit.
    const args = node.arguments as readonly Node[]
    const lead = args.findIndex((a) => a.type !== 'MemberExpression' && !isConstantText(a, doc))
    const before = lead < 0 ? args.at(-1) : args[lead - 1]
    if (before) return one(before.end, before.end, `, ${argument}`)
    return args.length ? one(args[0].start, args[0].start, `${argument}, `) : one(node.end - 1, node.end - 1, argument)
  }
  const joiner = doc.bindings.importOf((name) => joins({ type: 'Identifier', name } as Node, doc))
  if (joiner)
    return one(
      node.start,
      node.end,
      node.type === 'MemberExpression' || isConstantText(node, doc) ? `${joiner}(${said}, ${argument})` : `${joiner}(${argument}, ${said})`,
    )
  if (isOfModule(node, doc) || isConstantText(node, doc)) return one(node.start, node.end, `\`\${${said}} ${part}\``)
  // What may be nothing would be written out as a word.
  if (node.type === 'Identifier' || node.type === 'MemberExpression')
    return one(node.start, node.end, `\`${part} \${${said} ?? ${q}${q}}\``)
  const isText = (n: Node) => n.type === 'StringLiteral' || n.type === 'TemplateLiteral' || isOfModule(n, doc)
  if (node.type === 'ConditionalExpression' && isText(node.consequent as Node) && isText(node.alternate as Node))
    return one(node.start, node.end, `\`${part} \${${said}}\``)
  return one(node.start, node.end, `[${argument}, ${said}].filter(Boolean).join(${q} ${q})`)
}

// Whether an expression is a name for a text that is written out, here or in a file that this one imports.
function isConstantText(node: Node, doc: JsxDocument): boolean {
  const meant = node.type === 'Identifier' ? meantBy(doc, node.name) : null
  if (!meant || meant.isDefault) return false
  return meant.node.type === 'StringLiteral' || (meant.node.type === 'TemplateLiteral' && meant.node.expressions.length === 0)
}

/** Whether an expression is a class of a style sheet's module. */
export function isOfModule(node: Node, { bindings }: JsxDocument): boolean {
  const object = node.type === 'MemberExpression' ? (node.object as Node) : null
  return object?.type === 'Identifier' && isStyleModule(bindings.of(object.name)?.module ?? '')
}

/** Functions that let a later class take the place of one that sets the same. */
export const MERGING: ReadonlySet<string> = new Set(['cn', 'twMerge'])

const isClassProperty = (node: Node): boolean =>
  node.type === 'Identifier'
    ? /^(class|\w*[cC]lassName)$/.test(node.name)
    : node.type === 'MemberExpression' && !node.computed && isClassProperty(node.property as Node)

/** Whether a tag has the classes that its component is given, and whether these take the place of its own. */
export function handsOnClasses(element: JsxElement): 'joined' | 'merged' | null {
  const { unknown, pieces } = element.classValue
  const spreads = element.node.openingElement.attributes.some((a) => a.type === 'JSXSpreadAttribute')
  const isGiven =
    unknown.some((n) => isClassProperty(bare(n))) || pieces.some((p) => p.when.some((w) => /^no \w*[cC]lassName is given$/.test(w)))
  if (!isGiven) return spreads && !element.attribute('class') ? 'joined' : null
  const value = element.attribute('class')?.value
  const node = value?.type === 'JSXExpressionContainer' ? bare(value.expression as Node) : null
  return node?.type === 'CallExpression' && node.callee.type === 'Identifier' && MERGING.has(node.callee.name) ? 'merged' : 'joined'
}

/** What leaves nothing of a piece of the class list, which is the `index`-th of those that count. */
export function emptyPiece(doc: JsxDocument, element: JsxElement, index: number): EditPlan {
  const piece = element.pieces[index]
  const there = element.attribute('class')!
  const isWhole = element.classValue.pieces.length === 1 && element.classValue.unknown.length === 0
  const given = there.value as Node
  const node = given.type === 'JSXExpressionContainer' ? bare(given.expression as Node) : given
  if (isWhole && (node.type === 'StringLiteral' || node.type === 'TemplateLiteral')) return removeJsxAttribute(doc, element, 'class')
  const { takeOut, span } = piece
  // A comment between it and its neighbour stays.
  const { text } = piece.file
  const gone = takeOut && text.slice(takeOut.from, span.from) + text.slice(span.to, takeOut.to)
  if (takeOut && !/\/[/*]/.test(gone!)) return { ok: true, splices: [takeOut] }
  return one(span.from, span.to, piece.quoting.in === 'key' ? "''" : '')
}

/** What writes another name over a bare key of an object: in quotes where it is no identifier. */
export function overKey(
  doc: JsxDocument,
  { span }: { readonly span: { readonly from: number; readonly to: number } },
  names: string,
): Splice {
  const { stringQuote: q } = jsxStyle(doc)
  return {
    ...span,
    insert: /^[A-Za-z_$][\w$]*$/.test(names) ? names : `${q}${spelledIn({ quoting: { in: 'string', quote: q } }, names)}${q}`,
  }
}

/** One declaration of the element's style object. */
export function setJsxStyle(doc: JsxDocument, element: JsxElement, property: string, value: string): EditPlan {
  const { stringQuote } = jsxStyle(doc)
  const object = element.styleObject
  if (object) return setInStyle(doc.text, object, property, value, stringQuote)
  if (element.attribute('style')) return runs('The style')
  return addAttribute(doc, element, `style={{ ${styleText(property, value.trim(), stringQuote, true)} }}`)
}

/** Takes a declaration out of it; an object left empty goes with its attribute. */
export function removeJsxStyle(doc: JsxDocument, element: JsxElement, property: string): EditPlan {
  const object = element.styleObject
  const plan = object && removeFromStyle(doc.text, object, property)
  if (!object || !plan) return refuse('not-found', `The style has no ${property} to change.`)
  const given = (element.attribute('style')!.value as t.JSXExpressionContainer).expression as Node
  return object.properties.length === 1 && bare(given) === object ? removeJsxAttribute(doc, element, 'style') : plan
}

/** Another text for the `index`-th of those that the file writes out. */
export function setJsxText(doc: JsxDocument, element: JsxElement, index: number, text: string): EditPlan {
  const written = element.written[index]
  if (!written) return refuse('not-found', `<${element.tag}> has no text there that its file writes out.`)
  if (/[\0\r]/.test(text)) return refuse('bad-value', 'Text cannot hold a NUL or carriage return character.')
  const { span, isLiteral } = written
  if (text === written.value) return { ok: true, splices: [] }
  if (!isLiteral) {
    const splice = textSplice(doc.text, span, text)
    if (splice) return { ok: true, splices: [splice] }
    // White space at its ends, and line ends, are kept by an expression alone.
    const { stringQuote: q } = jsxStyle(doc)
    const raw = doc.text.slice(span.from, span.to)
    const [lead] = /^\s*/.exec(raw)!
    const [tail] = /\s*$/.exec(raw)!
    const from = span.from + (lead.includes('\n') ? lead.length : 0)
    const to = span.to - (tail.includes('\n') ? tail.length : 0)
    return one(from, Math.max(from, to), `{${q}${stringText(text, q)}${q}}`)
  }
  const quote = doc.text[span.from]
  return one(span.from + 1, span.to - 1, quote === '`' ? templateText(text) : stringText(text, quote as '"' | "'"))
}
