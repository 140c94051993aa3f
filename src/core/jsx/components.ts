import type * as t from '@babel/types'
import type { JsxDocument } from './document'
import { entriesOf } from './entries'
import { meantBy } from './meaning'
import { bare, type Node } from './parse'
import { isFunction } from './scope'

export type Component = (t.FunctionDeclaration | t.FunctionExpression | t.ArrowFunctionExpression) & Node

/** The statements of a file, what it exports as though it did not. */
function declarationsIn({ program }: JsxDocument): Node[] {
  const all = program?.type === 'Program' ? program.body : []
  return all.map((n) =>
    (n.type === 'ExportNamedDeclaration' || n.type === 'ExportDefaultDeclaration') && n.declaration ? n.declaration : n,
  ) as Node[]
}

/** The interface or alias that a file gives a name. */
export const typeNamed = (doc: JsxDocument, name: string): ((t.TSInterfaceDeclaration | t.TSTypeAliasDeclaration) & Node) | null =>
  declarationsIn(doc).find(
    (n): n is (t.TSInterfaceDeclaration | t.TSTypeAliasDeclaration) & Node =>
      (n.type === 'TSInterfaceDeclaration' || n.type === 'TSTypeAliasDeclaration') && n.id.name === name,
  ) ?? null

/** The last name of `React.FC`. */
export const lastName = (name: Node): string =>
  name.type === 'Identifier'
    ? name.name
    : name.type === 'TSQualifiedName'
      ? name.right.name
      : name.type === 'MemberExpression'
        ? lastName(name.property as Node)
        : ''

/** What a type or a call is given as types, as of `FC<Props>`. */
export const typeArguments = (node: Node | null): readonly Node[] => {
  const { typeParameters, typeArguments: given } = (node ?? {}) as { typeParameters?: t.Node | null; typeArguments?: t.Node | null }
  const args = given ?? typeParameters
  return args?.type === 'TSTypeParameterInstantiation' ? (args.params as Node[]) : []
}

/** The component of a name that a file declares at its top, through wrappers such as `memo` and `forwardRef`, with the type of what it takes where that is said outside of it. */
export function componentNamed(doc: JsxDocument, name: string): { readonly fn: Component; readonly type: Node | null } | null {
  for (const n of declarationsIn(doc)) {
    if (n.type === 'FunctionDeclaration' && n.id?.name === name) return { fn: n, type: null }
    if (n.type !== 'VariableDeclaration') continue
    for (const { id, init } of n.declarations) {
      if (id.type !== 'Identifier' || id.name !== name || !init) continue
      const annotation = id.typeAnnotation?.type === 'TSTypeAnnotation' ? (id.typeAnnotation.typeAnnotation as Node) : null
      let type = typeArguments(annotation)[0] ?? null
      let node = bare(init as Node)
      while (node.type === 'CallExpression' && node.arguments.length) {
        type = typeArguments(node).at(-1) ?? type
        node = bare(node.arguments[0] as Node)
      }
      if (isFunction(node)) return { fn: node as Component, type }
    }
  }
  return null
}

/** A property in the type of what a component takes. */
export interface TypeMember {
  readonly name: string
  /** Null where variants say it. */
  readonly type: Node | null
  /** The words that variants have for it. */
  readonly words: readonly string[]
  /** The one of them that counts where none is given. */
  readonly initial: string | null
}

/** Types that have the properties of their argument. */
const AROUND = /^(Readonly|PropsWithChildren|Partial|Required)$/

/** What is said of the properties that a component takes, in its parameter's own type or outside of it, where the file writes that out. */
export function membersOf(doc: JsxDocument, param: Node | undefined, type: Node | null): readonly TypeMember[] {
  const annotation = (param as { typeAnnotation?: t.Node | null } | undefined)?.typeAnnotation
  return ofType(doc, annotation?.type === 'TSTypeAnnotation' ? (annotation.typeAnnotation as Node) : type)
}

function ofType(doc: JsxDocument, type: Node | null, depth = 0): readonly TypeMember[] {
  if (!type || depth > 4) return []
  switch (type.type) {
    case 'TSParenthesizedType':
      return ofType(doc, type.typeAnnotation as Node, depth + 1)
    case 'TSTypeLiteral':
      return ofMembers(type.members as readonly Node[])
    case 'TSIntersectionType':
      return (type.types as readonly Node[]).flatMap((part) => ofType(doc, part, depth + 1))
    case 'TSTypeReference': {
      const name = lastName(type.typeName as Node)
      const [argument] = typeArguments(type)
      if (AROUND.test(name)) return ofType(doc, argument ?? null, depth + 1)
      if (name === 'VariantProps') return ofVariants(doc, argument)
      return declared(doc, name, depth)
    }
    default:
      return []
  }
}

function declared(doc: JsxDocument, name: string, depth: number): readonly TypeMember[] {
  const found = typeNamed(doc, name)
  if (found?.type === 'TSTypeAliasDeclaration') return ofType(doc, found.typeAnnotation as Node, depth + 1)
  if (found?.type !== 'TSInterfaceDeclaration') return []
  const above = (found.extends ?? []).flatMap((e) => {
    const { expression } = e as unknown as { expression: Node }
    const over = lastName(expression)
    return over === 'VariantProps'
      ? ofVariants(doc, typeArguments(e as unknown as Node)[0])
      : depth > 4
        ? []
        : declared(doc, over, depth + 1)
  })
  return [...above, ...ofMembers(found.body.body as readonly Node[])]
}

const ofMembers = (members: readonly Node[]): readonly TypeMember[] =>
  members.flatMap((m) =>
    m.type === 'TSPropertySignature' && m.key.type === 'Identifier' && !m.computed
      ? [
          {
            name: m.key.name,
            type: (m.typeAnnotation?.type === 'TSTypeAnnotation' ? m.typeAnnotation.typeAnnotation : null) as Node | null,
            words: [],
            initial: null,
          },
        ]
      : [],
  )

// `VariantProps<typeof button>`: the variants of what `cva` or `tv` made.
function ofVariants(doc: JsxDocument, query: Node | undefined): readonly TypeMember[] {
  const name = query?.type === 'TSTypeQuery' && query.exprName.type === 'Identifier' ? query.exprName.name : null
  const made = name === null ? null : meantBy(doc, name)?.node
  if (made?.type !== 'CallExpression') return []
  const config = new Map(entriesOf(made.arguments.findLast((a) => a.type === 'ObjectExpression') as Node | undefined))
  const initial = new Map(entriesOf(config.get('defaultVariants')))
  return entriesOf(config.get('variants')).map(([variant, options]) => {
    const by = initial.get(variant)
    const words = entriesOf(options).map(([word]) => word)
    return {
      name: variant,
      type: null,
      words,
      initial: by?.type === 'StringLiteral' ? by.value : by?.type === 'BooleanLiteral' ? String(by.value) : null,
    }
  })
}
