import type * as t from '@babel/types'
import type { ValueFile } from './meaning'
import { bare, type Node } from './parse'

/** What bundlers give the address of, where a script imports it; with a query they may give something else. */
export const IS_PICTURE = /\.(apng|avif|bmp|gif|ico|jpe?g|png|svg|webp)$/i

/** A picture that an expression takes from an import of its file. */
export interface ImportedPicture {
  /** What the file calls it. */
  readonly name: string
  /** As the import says it. */
  readonly module: string
  /** The name, where it is used. */
  readonly node: Node
}

/** The picture that an attribute shows, where the file imports it; null for any other value. */
export function importedPicture({ bindings }: ValueFile, { value }: t.JSXAttribute): ImportedPicture | null {
  if (value?.type !== 'JSXExpressionContainer') return null
  const given = bare(value.expression as Node)
  // A framework may give an object, which has the address as a member.
  const node =
    given.type === 'MemberExpression' && !given.computed && given.property.type === 'Identifier' && given.property.name === 'src'
      ? (given.object as Node)
      : given
  if (node.type !== 'Identifier') return null
  const binding = bindings.of(node.name)
  return binding?.module && binding.imported === 'default' && IS_PICTURE.test(binding.module)
    ? { name: node.name, module: binding.module, node }
    : null
}
