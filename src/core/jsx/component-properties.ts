import type * as t from '@babel/types'
import { refuse, type EditPlan } from '../css'
import { componentNamed, lastName, membersOf, typeNamed, type TypeMember } from './components'
import { attributeName, attributeValue, type JsxDocument, type JsxElement } from './document'
import { addAttribute, rewriteValue, withoutAttribute } from './edit'
import { entriesOf } from './entries'
import { jsxStyle } from './house-style'
import { meantBy, type ValueFile } from './meaning'
import { bare, childrenOf, type Node } from './parse'
import { attributeText } from './quoting'

/** What a component takes. */
export interface ComponentProperty {
  readonly name: string
  /** What may be given: one of some words, a text, a number, yes or no, or what is no literal. */
  readonly kind: 'choice' | 'text' | 'number' | 'boolean' | 'other'
  readonly choices: readonly string[]
  /** What counts where nothing is given; null where that is nothing, or worked out. */
  readonly initial: string | null
}

/** What a tag gives a component. */
export interface GivenProperty {
  readonly name: string
  /** Null where it is worked out while the page runs. */
  readonly value: string | null
  /** What it is written as, where it is written out. */
  readonly kind: 'text' | 'number' | 'boolean'
  /** As the file says it; empty for a name alone. */
  readonly said: string
}

/** What a tag gives, in the order of its file, but for its class list, style, key and ref. */
export const givenBy = (doc: JsxDocument, { node }: JsxElement): readonly GivenProperty[] =>
  node.openingElement.attributes.flatMap((a) => {
    if (a.type !== 'JSXAttribute' || isApart(attributeName(a))) return []
    const given = a.value as Node | null | undefined
    const literal = given?.type === 'JSXExpressionContainer' ? literalText(bare(given.expression as Node)) : null
    return [
      {
        name: attributeName(a),
        value: !given ? 'true' : (literal?.text ?? attributeValue(a)),
        kind: !given ? 'boolean' : (literal?.kind ?? 'text'),
        said: given ? doc.text.slice(given.start, given.end) : '',
      },
    ]
  })

const isApart = (name: string): boolean =>
  /^(className|class|style|key|ref|children|dangerouslySetInnerHTML)$/.test(name) || /^on[A-Z]/.test(name)

/** The properties that a component of the file takes, as its type and its parameter say; null where there is no such component. */
export function componentProperties(doc: JsxDocument, component: string): readonly ComponentProperty[] | null {
  const found = componentNamed(doc, component)
  if (!found) return null
  const { fn, type } = found
  const param = fn.params[0] as Node | undefined
  const out = new Map<string, ComponentProperty>()
  for (const member of membersOf(doc, param, type)) out.set(member.name, ofMember(member, doc))
  const taken = param?.type === 'ObjectPattern' ? param.properties : []
  for (const p of taken) {
    if (p.type !== 'ObjectProperty' || p.computed) continue
    const name = p.key.type === 'Identifier' ? p.key.name : p.key.type === 'StringLiteral' ? p.key.value : null
    if (name === null) continue
    const value = p.value as Node
    const local = value.type === 'AssignmentPattern' ? value.left : value
    const initial = value.type === 'AssignmentPattern' ? literalText(bare(value.right as Node)) : null
    const known = out.get(name)
    out.set(
      name,
      known ? { ...known, initial: initial?.text ?? known.initial } : untyped(doc, fn.body as Node, name, local as Node, initial),
    )
  }
  return [...out.values()].filter(({ name }) => !isApart(name))
}

/** The text of a literal, and what it is; null for any other expression. */
function literalText(node: Node): { readonly text: string; readonly kind: 'text' | 'number' | 'boolean' } | null {
  if (node.type === 'StringLiteral') return { text: node.value, kind: 'text' }
  if (node.type === 'NumericLiteral') return { text: String(node.value), kind: 'number' }
  if (node.type === 'BooleanLiteral') return { text: String(node.value), kind: 'boolean' }
  return null
}

const keysOf = (record: Node | null | undefined): readonly string[] => entriesOf(record).map(([name]) => name)

// Without a type: by its default, or by the record that it is looked up in.
function untyped(file: ValueFile, body: Node, name: string, local: Node, initial: ReturnType<typeof literalText>): ComponentProperty {
  const choices = local.type === 'Identifier' ? keysLookedUp(file, body, local.name) : []
  const kind = choices.length ? 'choice' : (initial?.kind ?? 'other')
  return { name, kind, choices, initial: initial?.text ?? null }
}

function keysLookedUp(file: ValueFile, node: Node, name: string): readonly string[] {
  if (node.type === 'MemberExpression' && node.computed && node.object.type === 'Identifier' && node.property.type === 'Identifier')
    if (node.property.name === name) {
      const keys = keysOf(meantBy(file, node.object.name)?.node)
      if (keys.length) return keys
    }
  for (const child of childrenOf(node)) {
    const keys = keysLookedUp(file, child, name)
    if (keys.length) return keys
  }
  return []
}

function ofMember({ name, type, words: variants, initial }: TypeMember, doc: JsxDocument): ComponentProperty {
  const parts = type ? partsOf(type, doc) : []
  const own = parts.filter((p) => p.type !== 'TSUndefinedKeyword' && p.type !== 'TSNullKeyword')
  const literals = own.flatMap((p) =>
    p.type === 'TSLiteralType' && p.literal.type === 'StringLiteral' ? [p.literal.value] : keyNames(p, doc),
  )
  const words = variants.length ? variants : literals.length >= own.length ? literals : []
  const is = (test: (p: Node) => boolean) => own.length > 0 && own.every(test)
  // Variants of yes and no are given as such.
  const isYesNo = words.length > 0 && words.every((w) => w === 'true' || w === 'false')
  const kind =
    isYesNo || is((p) => p.type === 'TSBooleanKeyword' || (p.type === 'TSLiteralType' && p.literal.type === 'BooleanLiteral'))
      ? 'boolean'
      : words.length
        ? 'choice'
        : is((p) => p.type === 'TSNumberKeyword' || (p.type === 'TSLiteralType' && p.literal.type === 'NumericLiteral'))
          ? 'number'
          : own.some((p) => p.type === 'TSStringKeyword' || isShown(p))
            ? 'text'
            : 'other'
  return { name, kind, choices: kind === 'choice' ? words : [], initial }
}

// What may be shown takes a text too.
const isShown = (type: Node): boolean => type.type === 'TSTypeReference' && /^React(Node|Child)$/.test(lastName(type.typeName as Node))

// `keyof typeof sizes`: the names that a record of the file writes out.
function keyNames(type: Node, of: JsxDocument): readonly string[] {
  if (type.type !== 'TSTypeOperator' || type.operator !== 'keyof') return []
  const query = type.typeAnnotation as Node
  return query.type === 'TSTypeQuery' && query.exprName.type === 'Identifier' ? keysOf(meantBy(of, query.exprName.name)?.node) : []
}

// The members of a union, through names that the file gives types.
function partsOf(type: Node, of: JsxDocument, depth = 0): readonly Node[] {
  if (type.type === 'TSParenthesizedType') return partsOf(type.typeAnnotation as Node, of, depth)
  if (type.type === 'TSUnionType') return (type.types as readonly Node[]).flatMap((p) => partsOf(p, of, depth))
  if (type.type !== 'TSTypeReference' || type.typeName.type !== 'Identifier' || depth > 4) return [type]
  const alias = typeNamed(of, type.typeName.name)
  return alias?.type === 'TSTypeAliasDeclaration' ? partsOf(alias.typeAnnotation as Node, of, depth + 1) : [type]
}

/** Another value for what a tag gives its component, or, with null, none; as what it takes is written. */
export function setProperty(
  doc: JsxDocument,
  element: JsxElement,
  name: string,
  value: string | null,
  kind: ComponentProperty['kind'],
): EditPlan {
  const there = element.node.openingElement.attributes.findLast((a) => a.type === 'JSXAttribute' && attributeName(a) === name) as
    (t.JSXAttribute & Node) | undefined
  if (!there && value === null) return { ok: true, splices: [] }
  if (!there && !/^[A-Za-z_$][\w$-]*$/.test(name)) return refuse('bad-name', `“${name}” cannot be the name of a property.`)
  if (there && givenBy(doc, element).find((p) => p.name === name)?.value === null)
    return refuse('not-allowed', `${name} is worked out while the page runs.`)
  if (value === null) return withoutAttribute(doc, there!)
  if (kind === 'number' && !/^-?\d+(\.\d+)?$/.test(value)) return refuse('bad-value', `${name} takes a number.`)
  if (kind === 'boolean' || kind === 'number') {
    const isText = there?.value?.type === 'StringLiteral'
    const written = kind === 'boolean' && value === 'true' ? '' : isText ? null : `={${value}}`
    if (written !== null) {
      if (!there) return addAttribute(doc, element, name + written)
      const from = (there.name as Node).end
      return { ok: true, splices: doc.text.slice(from, there.end) === written ? [] : [{ from, to: there.end, insert: written }] }
    }
  }
  if (there) return rewriteValue(doc, there, value)
  const { attributeQuote: q } = jsxStyle(doc)
  return addAttribute(doc, element, `${name}=${q}${attributeText(value, q)}${q}`)
}
