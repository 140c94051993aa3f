import { bare, type Node } from './parse'

/** The names that an object writes out for its properties, with their values. */
export const entriesOf = (node: Node | null | undefined): readonly (readonly [name: string, value: Node])[] =>
  node?.type !== 'ObjectExpression'
    ? []
    : node.properties.flatMap((p) => {
        if (p.type !== 'ObjectProperty' || p.computed) return []
        const { key } = p
        const name =
          key.type === 'Identifier'
            ? key.name
            : key.type === 'StringLiteral'
              ? key.value
              : key.type === 'NumericLiteral'
                ? String(key.value)
                : null
        return name === null ? [] : [[name, bare(p.value as Node)] as const]
      })
