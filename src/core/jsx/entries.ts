import type * as t from '@babel/types'
import { bare, type Node } from './parse'

/** The name that an object writes out for a property; null for one that is worked out. */
export const keyOf = ({ key, computed }: t.ObjectProperty): string | null =>
  key.type === 'StringLiteral' || key.type === 'NumericLiteral'
    ? String(key.value)
    : !computed && key.type === 'Identifier'
      ? key.name
      : null

/** The names that an object writes out for its properties, with their values. */
export const entriesOf = (node: Node | null | undefined): readonly (readonly [name: string, value: Node])[] =>
  node?.type !== 'ObjectExpression'
    ? []
    : node.properties.flatMap((p) => {
        if (p.type !== 'ObjectProperty') return []
        const name = keyOf(p)
        return name === null ? [] : [[name, bare(p.value as Node)] as const]
      })
