import type * as t from '@babel/types'
import { refuse, type EditPlan } from '../css'
import { isBooleanAttribute } from '../html'
import { lineEndOf, type Splice } from '../text'
import { joins } from './bindings'
import { spelledIn } from './class-pieces'
import { attributeName, attributeValue, type JsxDocument, type JsxElement } from './document'
import { jsxStyle } from './house-style'
import { inJsx, isNumeric } from './names'
import { bare, type Node } from './parse'
import { attributeText, stringText, templateText } from './quoting'
import { removeFromStyle, setInStyle, styleText } from './style-object'
import { textSplice } from './text'

const runs = (what: string) => refuse('not-allowed', `${what} is worked out while the page runs.`)

const one = (from: number, to: number, insert: string): EditPlan => ({ ok: true, splices: [{ from, to, insert }] })

/** An attribute that is not there yet, written behind the others; before what is spread, which may give it another value as it did. */
function addAttribute(doc: JsxDocument, element: JsxElement, text: string): EditPlan {
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
const nameFor = (doc: JsxDocument, element: JsxElement, name: string): string => {
  if (name !== 'class') return inJsx(name)
  const isClass = (e: JsxElement) => e.node.openingElement.attributes.some((a) => a.type === 'JSXAttribute' && attributeName(a) === 'class')
  return isClass(element) || (doc.elements.some(isClass) && !doc.text.includes('className')) ? 'class' : 'className'
}

export function setJsxAttribute(doc: JsxDocument, element: JsxElement, name: string, value: string): EditPlan {
  if (!/^[A-Za-z_][\w.:-]*$/.test(name)) return refuse('bad-name', `“${name}” cannot be the name of an attribute.`)
  if (value.includes('\0')) return refuse('bad-value', 'An attribute cannot hold a NUL character.')
  if (name === 'style') return refuse('not-allowed', 'A style is written property by property.')
  const { text } = doc
  const there = element.attribute(name)
  const { attributeQuote } = jsxStyle(doc)
  const quoted = (quote: '"' | "'") => `${quote}${attributeText(value, quote)}${quote}`
  if (!there) {
    const written = nameFor(doc, element, name)
    if (value === '' && isBooleanAttribute(name)) return addAttribute(doc, element, written)
    if (isNumeric(written) && /^-?\d+$/.test(value)) return addAttribute(doc, element, `${written}={${value}}`)
    const other = attributeQuote === '"' ? "'" : '"'
    return addAttribute(
      doc,
      element,
      `${written}=${quoted(value.includes(attributeQuote) && !value.includes(other) ? other : attributeQuote)}`,
    )
  }
  if (attributeValue(there) === null && name !== 'class') return runs(`The attribute ${attributeName(there)}`)
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

export function removeJsxAttribute(doc: JsxDocument, element: JsxElement, name: string): EditPlan {
  const there = element.attribute(name)
  if (!there) return refuse('not-found', `The element has no attribute ${name}.`)
  let from = there.start
  while (/\s/.test(doc.text[from - 1])) from--
  return one(from, there.end, '')
}

export function renameJsxAttribute(doc: JsxDocument, element: JsxElement, name: string, to: string): EditPlan {
  const there = element.attribute(name)
  if (!there) return refuse('not-found', `The element has no attribute ${name}.`)
  if (!/^[A-Za-z_][\w.:-]*$/.test(to)) return refuse('bad-name', `“${to}” cannot be the name of an attribute.`)
  if (element.attribute(to)) return refuse('bad-name', `The element has an attribute ${to} already.`)
  return one(there.name.start!, there.name.end!, nameFor(doc, element, to))
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
  const literal = `${q}${stringText(names, q)}${q}`
  const node = bare(given.expression as Node)
  const said = doc.text.slice(node.start, node.end)
  if (node.type === 'StringLiteral') return one(node.start + 1, node.end - 1, stringText(names, doc.text[node.start] as '"' | "'"))
  if (node.type === 'TemplateLiteral') {
    const isEmpty = node.expressions.length === 0
    return one(node.end - 1, node.end - 1, (isEmpty ? '' : ' ') + templateText(names))
  }
  if (node.type === 'CallExpression' && joins(node.callee as Node, doc.bindings)) {
    // Behind what stands for classes of a module, which come first by habit.
    const args = node.arguments as readonly Node[]
    const lead = args.findIndex((a) => a.type !== 'MemberExpression')
    const before = lead < 0 ? args.at(-1) : args[lead - 1]
    if (before) return one(before.end, before.end, `, ${literal}`)
    return args.length ? one(args[0].start, args[0].start, `${literal}, `) : one(node.end - 1, node.end - 1, literal)
  }
  const joiner = doc.bindings.importOf((name) => joins({ type: 'Identifier', name } as Node, doc.bindings))
  if (joiner)
    return one(node.start, node.end, node.type === 'MemberExpression' ? `${joiner}(${said}, ${literal})` : `${joiner}(${literal}, ${said})`)
  if (isOfModule(node, doc)) return one(node.start, node.end, `\`\${${said}} ${templateText(names)}\``)
  // What may be nothing would be written out as a word.
  if (node.type === 'Identifier' || node.type === 'MemberExpression')
    return one(node.start, node.end, `\`${templateText(names)} \${${said} ?? ${q}${q}}\``)
  const isText = (n: Node) => n.type === 'StringLiteral' || n.type === 'TemplateLiteral' || isOfModule(n, doc)
  if (node.type === 'ConditionalExpression' && isText(node.consequent as Node) && isText(node.alternate as Node))
    return one(node.start, node.end, `\`${templateText(names)} \${${said}}\``)
  return one(node.start, node.end, `[${literal}, ${said}].filter(Boolean).join(${q} ${q})`)
}

/** Whether an expression is a class of a style sheet's module. */
export function isOfModule(node: Node, { bindings }: JsxDocument): boolean {
  const object = node.type === 'MemberExpression' ? (node.object as Node) : null
  return object?.type === 'Identifier' && /\.module\.\w+$/.test(bindings.of(object.name)?.module ?? '')
}

/** Functions that let a later class take the place of one that sets the same. */
const MERGING: ReadonlySet<string> = new Set(['cn', 'twMerge'])

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
  const gone = takeOut && doc.text.slice(takeOut.from, span.from) + doc.text.slice(span.to, takeOut.to)
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
