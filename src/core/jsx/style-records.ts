import type * as t from '@babel/types'
import type { Bindings } from './bindings'
import { entriesOf } from './entries'
import { bare, nodesIn, type Node } from './parse'

/** A file with what it says. */
interface ReadFile {
  readonly program: Node | null
  readonly bindings: Bindings
}

/** How often a file takes each member of the records that it names, as `styles.box`; by `styles`, then by `box`. */
const known = new WeakMap<Node, ReadonlyMap<string, ReadonlyMap<string, number>>>()

function membersTaken(program: Node): ReadonlyMap<string, ReadonlyMap<string, number>> {
  let taken = known.get(program)
  if (taken) return taken
  const counts = new Map<string, Map<string, number>>()
  for (const node of nodesIn(program)) {
    const name = memberOf(node)
    if (!name) continue
    const of = counts.get(name.record) ?? new Map<string, number>()
    counts.set(name.record, of.set(name.member, (of.get(name.member) ?? 0) + 1))
  }
  taken = counts
  known.set(program, taken)
  return taken
}

const memberOf = (node: Node): { readonly record: string; readonly member: string } | null =>
  node.type === 'MemberExpression' && !node.computed && node.object.type === 'Identifier' && node.property.type === 'Identifier'
    ? { record: node.object.name, member: node.property.name }
    : null

/** The object that `styles.box` stands for, where the file writes out both and nothing else uses it; null for any other. */
export function ownMember({ program, bindings }: ReadFile, node: Node): (t.ObjectExpression & Node) | null {
  const name = memberOf(node)
  const binding = name && bindings.of(name.record)
  if (!program || !name || !binding?.value || binding.isDefault || binding.isExported) return null
  const taken = membersTaken(program).get(name.record)
  // What takes the record whole, or a member that is worked out, may take this one.
  const all = [...(taken?.values() ?? [])].reduce((a, b) => a + b, 0)
  if (taken?.get(name.member) !== 1 || all !== binding.uses) return null
  const found = entriesOf(bare(binding.value)).filter(([key]) => key === name.member)
  return found.length === 1 && found[0][1].type === 'ObjectExpression' ? (found[0][1] as t.ObjectExpression & Node) : null
}
