import { refuse, type EditPlan, type Refused } from '../css'
import { lineEndOf, type Splice } from '../text'
import { joins } from './joins'
import { lastName, typeArguments, typeNamed, type Component } from './components'
import type { JsxDocument, JsxElement } from './document'
import { addAttribute, handsOnClasses, isOfModule, MERGING, nameFor } from './edit'
import { jsxStyle } from './house-style'
import { bare, childrenOf, type Node } from './parse'
import { stringText, templateText } from './quoting'
import { declaredIn, freeNames, isFunction } from './scope'
import { givesNothing, pathTo } from './spot'
import { indentAt } from './style-object'

const NAME = 'className'

/** What has a component take a class list and give it to its root tag; `how` says whether the classes that come take the place of its own. */
export type TakingClasses = (EditPlan & { readonly ok: true; readonly how: 'joined' | 'merged' }) | Refused

const cannot = (why: string): Refused => refuse('not-allowed', why)

/** Has the component of that name, whose root an element is, take a class list and pass it on (`className`). */
export function takeClasses(doc: JsxDocument, element: JsxElement, component: string): TakingClasses {
  const now = handsOnClasses(element)
  // A place that is kept may ask for it again.
  if (now) return { ok: true, splices: [], how: now }
  const path = pathTo(doc.program!, element.node)
  const found = componentAround(path)
  if (!found || found.name !== component.split('.').at(-1)) return cannot(`The tag is no part of ${component} itself.`)
  if (!givenBy(found.fn).every((n) => n === element.node || givesNothing(n))) return cannot(`The tag is not all that ${component} gives.`)
  const taken = takeProperty(doc, found.fn, found.type)
  // The name is another's in the component, or was, where one of the file would be hidden by it.
  const isOthers = freeNames(found.fn).has(NAME) || path.slice(path.indexOf(found.fn) + 1).some((n) => declaredIn(n).has(NAME))
  if (!taken || (taken.said === NAME && isOthers)) return cannot(`What ${component} takes is not written where it can be added to.`)
  const { splices, how } = joinTo(doc, element, taken.said)
  return { ok: true, splices: [...taken.splices, ...splices], how }
}

/** The function of a component that stands around a tag, with its name and the type that is said of it as a whole. */
function componentAround(path: readonly Node[]): { fn: Component; name: string; type: Node | null } | null {
  const at = path.findLastIndex(
    (n) => n.type === 'FunctionDeclaration' || n.type === 'FunctionExpression' || n.type === 'ArrowFunctionExpression',
  )
  if (at < 0) return null
  const fn = path[at] as Component
  const declared = path.slice(0, at).findLast((n) => n.type === 'VariableDeclarator')
  // A wrapper of the function, such as `memo` or `forwardRef`, may stand between; anything else makes another function of it.
  const between = path.slice(path.indexOf(declared!) + 1, at)
  const isDeclared = declared?.type === 'VariableDeclarator' && between.every((n) => n.type === 'CallExpression')
  const name = 'id' in fn && fn.id ? fn.id.name : isDeclared && declared.id.type === 'Identifier' ? declared.id.name : null
  const said = isDeclared && declared.id.type === 'Identifier' ? declared.id.typeAnnotation : null
  return name === null ? null : { fn, name, type: said?.type === 'TSTypeAnnotation' ? (said.typeAnnotation as Node) : null }
}

/** What a function may give, but for nothing at its end. */
function givenBy(fn: Component): Node[] {
  if (fn.body.type !== 'BlockStatement') return [bare(fn.body as Node)]
  const out: Node[] = []
  const visit = (node: Node): void => {
    if (node.type === 'ReturnStatement') {
      if (node.argument) out.push(bare(node.argument as Node))
    } else if (!isFunction(node)) childrenOf(node).forEach(visit)
  }
  visit(fn.body as Node)
  return out
}

interface Taken {
  /** The property as the component's own text says it. */
  readonly said: string
  readonly splices: readonly Splice[]
}

// What has a component take the property; null where that cannot be written.
function takeProperty(doc: JsxDocument, fn: Component, type: Node | null): Taken | null {
  const { text } = doc
  const isTyped = /\.tsx$/i.test(doc.path)
  const param = fn.params[0] as Node | undefined
  if (!param) {
    const head = ((fn.typeParameters ?? ('id' in fn ? fn.id : null)) as Node | null)?.end ?? fn.start
    const open = text.indexOf('(', head)
    if (open < 0 || open > (fn.body as Node).start || type) return null
    const insert = isTyped ? `{ ${NAME} }: { ${NAME}?: string }` : `{ ${NAME} }`
    return { said: NAME, splices: [{ from: open + 1, to: open + 1, insert }] }
  }
  if (param.type !== 'ObjectPattern' && param.type !== 'Identifier') return null
  // What is spread on a tag may give it a class list already, which is another use's.
  const rest = param.type === 'Identifier' ? param : (param.properties.find((p) => p.type === 'RestElement')?.argument as Node | undefined)
  if (rest?.type === 'Identifier' && isSpread(fn.body as Node, rest.name)) return null
  const annotation = param.typeAnnotation?.type === 'TSTypeAnnotation' ? (param.typeAnnotation.typeAnnotation as Node) : null
  const typed = isTyped ? addToType(doc, annotation ?? argumentOf(type)) : []
  if (!typed) return null
  if (param.type === 'Identifier') return { said: `${param.name}.${NAME}`, splices: typed }
  const own = param.properties.find((p) => p.type === 'ObjectProperty' && p.key.type === 'Identifier' && p.key.name === NAME)
  // What is taken under another name, or with a default, is used for something else.
  if (own) return own.type === 'ObjectProperty' && own.shorthand && own.value.type === 'Identifier' ? { said: NAME, splices: typed } : null
  const isRest = (n: { type: string }) => n.type === 'RestElement'
  const listed = param.properties.filter((p) => !isRest(p)) as readonly Node[]
  return { said: NAME, splices: [...typed, addToList(text, param, listed, param.properties.find(isRest) as Node | undefined, NAME, ',')] }
}

const isSpread = (node: Node, name: string): boolean =>
  (node.type === 'JSXSpreadAttribute' && node.argument.type === 'Identifier' && node.argument.name === name) ||
  childrenOf(node).some((child) => isSpread(child, name))

// The first argument of a type, as of `FC<Props>`.
const argumentOf = (type: Node | null): Node | null => typeArguments(type)[0] ?? null

/** What an item is added to a list by, as the list is laid out: behind its others, before `rest`. */
function addToList(text: string, list: Node, items: readonly Node[], rest: Node | undefined, item: string, separator: string): Splice {
  const last = items.at(-1)
  const first = items[0] ?? rest
  if (!first) {
    const open = text.indexOf('{', list.start)
    return { from: open + 1, to: text.indexOf('}', open), insert: ` ${item} ` }
  }
  const isBroken = text.slice(text.indexOf('{', list.start), first.start).includes('\n')
  const gap = isBroken ? lineEndOf(text) + indentAt(text, first.start) : ' '
  if (!last) return { from: first.start, to: first.start, insert: item + separator + gap }
  // A separator behind the last stays behind the last.
  const hasSeparator = text[last.end - 1] === separator
  if (hasSeparator) return { from: last.end, to: last.end, insert: gap + item + (isBroken ? separator : '') }
  return { from: last.end, to: last.end, insert: separator + gap + item }
}

/** Types of the properties that an element of the page takes: a class list is among them. */
const OF_ELEMENTS = /^(\w*HTMLAttributes|SVGProps|SVGAttributes|ComponentProps\w*|DetailedHTMLProps|HTMLProps)$/

/** Types that have the properties of their argument, and others. */
const AROUND = /^(Readonly|PropsWithChildren|Partial)$/

// What says in a type that the property may be given; none where it says so, null where that cannot be determined.
function addToType(doc: JsxDocument, type: Node | null, depth = 0): readonly Splice[] | null {
  if (!type || depth > 4) return null
  switch (type.type) {
    case 'TSParenthesizedType':
      return addToType(doc, type.typeAnnotation as Node, depth + 1)
    case 'TSTypeLiteral':
      return addTypeMember(doc, type, type.members as readonly Node[])
    case 'TSIntersectionType': {
      const parts = (type.types as readonly Node[]).map((part) => addToType(doc, part, depth + 1))
      return parts.find((p) => p?.length === 0) ?? parts.find((p) => p !== null) ?? null
    }
    case 'TSTypeReference': {
      const name = lastName(type.typeName as Node)
      if (OF_ELEMENTS.test(name)) return []
      if (AROUND.test(name)) return addToType(doc, argumentOf(type), depth + 1)
      const declared = typeNamed(doc, name)
      if (declared?.type === 'TSTypeAliasDeclaration') return addToType(doc, declared.typeAnnotation as Node, depth + 1)
      if (declared?.type !== 'TSInterfaceDeclaration') return null
      const isElements = (declared.extends ?? []).some((e) => OF_ELEMENTS.test(lastName((e as { expression: unknown }).expression as Node)))
      return isElements ? [] : addTypeMember(doc, declared.body as Node, declared.body.body as readonly Node[])
    }
    default:
      return null
  }
}

// As the members of the type are written: `readonly` where all are, parted as they are.
function addTypeMember({ text }: JsxDocument, body: Node, members: readonly Node[]): readonly Splice[] {
  const own = members.filter((m) => m.type === 'TSPropertySignature')
  if (own.some((m) => m.type === 'TSPropertySignature' && m.key.type === 'Identifier' && m.key.name === NAME)) return []
  const isReadonly = own.length > 0 && own.every((m) => m.type === 'TSPropertySignature' && m.readonly)
  const item = `${isReadonly ? 'readonly ' : ''}${NAME}?: string`
  const last = members.at(-1)
  if (!last) return [addToList(text, body, [], undefined, item, ';')]
  const isBroken = text.slice(body.start, members[0].start).includes('\n')
  const sign = members.map((m) => text[m.end - 1]).find((c) => c === ';' || c === ',')
  if (!isBroken || sign !== undefined) return [addToList(text, body, members, undefined, item, sign ?? ';')]
  // Each on a line of its own needs no sign between.
  const gap = lineEndOf(text) + indentAt(text, members[0].start)
  return [{ from: last.end, to: last.end, insert: gap + item }]
}

// The class list of a tag with what is given behind it, as the file joins its lists.
function joinTo(doc: JsxDocument, element: JsxElement, said: string): { splices: readonly Splice[]; how: 'joined' | 'merged' } {
  const { text } = doc
  const { stringQuote: q } = jsxStyle(doc)
  const attribute = element.attribute('class')
  const given = attribute?.value as Node | null | undefined
  const part = `\${${said} ?? ${q}${q}}`
  const joiner = doc.bindings.importOf((name) => joins({ type: 'Identifier', name } as Node, doc))
  const put = (from: number, to: number, insert: string, by: string | null = null) =>
    ({ splices: [{ from, to, insert }], how: by !== null && MERGING.has(by) ? 'merged' : 'joined' }) as const
  if (!attribute) {
    const plan = addAttribute(doc, element, `${nameFor(doc, element, 'class')}={${said}}`)
    return { splices: plan.ok ? plan.splices : [], how: 'joined' }
  }
  if (!given) return put(attribute.end, attribute.end, `={${said}}`)
  const isBraced = given.type === 'JSXExpressionContainer'
  const node = isBraced ? bare(given.expression as Node) : given
  if (node.type === 'StringLiteral') {
    const list = node.value.trim()
    if (list === '') return put(given.start, given.end, `{${said}}`)
    const insert = joiner ? `{${joiner}(${q}${stringText(list, q)}${q}, ${said})}` : `{\`${templateText(list)} ${part}\`}`
    return put(given.start, given.end, insert, joiner)
  }
  if (node.type === 'TemplateLiteral') return put(node.end - 1, node.end - 1, ` ${part}`)
  if (node.type === 'CallExpression' && node.callee.type === 'Identifier' && joins(node.callee as Node, doc)) {
    const last = node.arguments.at(-1) as Node | undefined
    const name = node.callee.name
    if (!last) return put(node.end - 1, node.end - 1, said, name)
    const isBroken = text.slice((node.callee as Node).end, (node.arguments[0] as Node).start).includes('\n')
    const gap = isBroken ? lineEndOf(text) + indentAt(text, (node.arguments[0] as Node).start) : ' '
    return put(last.end, last.end, `,${gap}${said}`, name)
  }
  const now = text.slice(node.start, node.end)
  if (joiner) return put(node.start, node.end, `${joiner}(${now}, ${said})`, joiner)
  if (isOfModule(node, doc)) return put(node.start, node.end, `\`\${${now}} ${part}\``)
  return put(node.start, node.end, `[${now}, ${said}].filter(Boolean).join(${q} ${q})`)
}
