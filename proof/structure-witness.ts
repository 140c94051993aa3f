/**
 * What a file of JSX is to say after tags were moved, wrapped or taken out, worked out on esbuild's program (`components-witness.ts`):
 * calls are moved among the arguments of calls. Nothing of it is what the core edits JSX with.
 */
import { compiled, FACTORY, FRAGMENT, isNode, keyOf, type Compiled, type TreeNode } from './components-witness'

export type StructureEdit =
  | { readonly kind: 'delete' | 'duplicate' | 'unwrap'; readonly nth: number }
  | { readonly kind: 'wrap'; readonly nth: number; readonly tag: string; readonly className: string }
  | { readonly kind: 'move'; readonly nth: number; readonly anchor: number; readonly where: Where }
  | { readonly kind: 'insert-html'; readonly anchor: number; readonly where: Where; readonly jsx: string }

type Where = 'before' | 'after' | 'first' | 'last'

type Mutable = Record<string, unknown> & { type: string }

const isFactoryCall = (node: unknown): node is Mutable & { arguments: Mutable[] } =>
  isNode(node) && node.type === 'CallExpression' && (node.callee as TreeNode).name === FACTORY

const literal = (value: unknown): Mutable => ({ type: 'Literal', value })

const textOf = (node: Mutable): string | null => {
  if (node.type === 'Literal' && typeof node.value === 'string') return node.value
  const [quasi] = node.type === 'TemplateLiteral' && (node.expressions as unknown[]).length === 0 ? (node.quasis as Mutable[]) : []
  return quasi ? ((quasi.value as { cooked?: string }).cooked ?? null) : null
}

/** A program without imports, places and how its texts are cut up: what two programs are compared by. */
function canonical(node: unknown): string {
  if (Array.isArray(node)) return `[${node.map(canonical).join()}]`
  if (!isNode(node)) return JSON.stringify(node) ?? ''
  if (isFactoryCall(node)) {
    const [type, props, ...children] = node.arguments
    const given = props?.type === 'ObjectExpression' ? (props.properties as Mutable[]).map(canonical) : [canonical(props)]
    // Other attributes than a spread may stand in any order.
    const said = given.some((p) => p.includes('Spread')) ? given : given.sort()
    const parts: string[] = []
    let text = ''
    const flush = () => {
      const shown = text.replace(/\s+/g, ' ').trim()
      if (shown !== '') parts.push(JSON.stringify(shown))
      text = ''
    }
    for (const child of children) {
      const own = textOf(child)
      if (own !== null) text += own
      else {
        flush()
        parts.push(canonical(child))
      }
    }
    flush()
    return `E(${canonical(type)},{${said.join()}},${parts.join()})`
  }
  const keys = Object.keys(node).filter((k) => !/^(start|end|raw|range|loc)$/.test(k))
  return `{${keys
    .sort()
    .map(
      (k) =>
        `${k}:${canonical(k === 'body' && Array.isArray(node[k]) ? node[k].filter((s) => (s as TreeNode).type !== 'ImportDeclaration') : node[k])}`,
    )
    .join()}}`
}

interface Place {
  readonly holder: { arguments: Mutable[] }
  readonly index: number
}

const isOfList = (call: Mutable | undefined): boolean =>
  call?.type === 'CallExpression' && /^(map|flatMap|from)$/.test(String(((call.callee as Mutable).property as Mutable | undefined)?.name))

class Program {
  readonly root: Mutable
  private readonly parents = new Map<unknown, Mutable>()
  readonly calls: (Mutable & { arguments: Mutable[] })[] = []

  constructor(file: Compiled) {
    this.root = structuredClone(file.program) as unknown as Mutable
    const visit = (node: Mutable): void => {
      if (isFactoryCall(node) && node.arguments[0].name !== FRAGMENT) this.calls.push(node)
      for (const value of Object.values(node))
        for (const child of Array.isArray(value) ? value : [value])
          if (isNode(child)) {
            this.parents.set(child, node)
            visit(child as unknown as Mutable)
          }
    }
    visit(this.root)
    this.calls.sort((a, b) => (a.start as number) - (b.start as number))
  }

  /** The argument of the nearest call around it that a tag's call is or stands in. */
  placeOf(call: Mutable): Place | null {
    for (let at = call, around = this.parents.get(call); around; at = around, around = this.parents.get(around)) {
      // A function that is no list's is called by whoever it is given to.
      if (/Function/.test(around.type) && !isOfList(this.parents.get(around))) return null
      if (!isFactoryCall(around)) continue
      const index = around.arguments.indexOf(at)
      return index >= 2 ? { holder: around, index } : null
    }
    return null
  }

  /** Whether it is one of several that an expression or a function chooses between. */
  isChosen(call: Mutable): boolean {
    for (let at = call, around = this.parents.get(call); around && !isFactoryCall(around); at = around, around = this.parents.get(around)) {
      if (
        around.type === 'ConditionalExpression' &&
        !givesNothing((around.consequent === at ? around.alternate : around.consequent) as Mutable)
      )
        return true
      if (around.type === 'LogicalExpression' && (around.operator !== '&&' || around.right !== at)) return true
      if (around.type === 'IfStatement' || around.type === 'SwitchCase') return true
    }
    return false
  }

  parent(node: unknown): Mutable | undefined {
    return this.parents.get(node)
  }

  replace(node: Mutable, by: Mutable): void {
    const around = this.parents.get(node)!
    for (const [key, value] of Object.entries(around)) {
      if (value === node) around[key] = by
      if (Array.isArray(value) && value.includes(node)) value[value.indexOf(node)] = by
    }
  }
}

const givesNothing = (node: Mutable): boolean =>
  (node.type === 'Literal' && (node.value === null || node.value === true || node.value === false)) ||
  (node.type === 'Identifier' && node.name === 'undefined')

function takeKey(call: { arguments: Mutable[] }): Mutable[] {
  const props = call.arguments[1]
  if (props?.type !== 'ObjectExpression') return []
  const list = props.properties as Mutable[]
  const keys = list.filter((p) => keyOf(p as unknown as TreeNode) === 'key')
  props.properties = list.filter((p) => !keys.includes(p))
  return keys
}

const propertiesFor = (properties: Mutable[]): Mutable => ({ type: 'ObjectExpression', properties })

/** What the file is to say after an edit, to be compared with {@link saidBy}; null where the witness knows of no such edit. */
export function saidAfter(file: Compiled, edit: StructureEdit, path: string): string | null {
  const program = new Program(file)
  const put = (anchor: number, where: Where, nodes: readonly Mutable[], isMoved = false): boolean => {
    const call = program.calls[anchor]
    if (where === 'first') call.arguments.splice(2, 0, ...nodes)
    else if (where === 'last') call.arguments.push(...nodes)
    else {
      const place = program.placeOf(call)
      if (isMoved && !place) return false
      if (!place || (!isMoved && program.isChosen(call))) {
        const held = structuredClone(call)
        const both = where === 'before' ? [...nodes, held] : [held, ...nodes]
        program.replace(call, { ...call, arguments: [{ type: 'Identifier', name: FRAGMENT }, literal(null), ...both] })
      } else place.holder.arguments.splice(place.index + (where === 'after' ? 1 : 0), 0, ...nodes)
    }
    return true
  }
  switch (edit.kind) {
    case 'insert-html': {
      const made = compiled(`const made = <>${edit.jsx}</>`, path)
      const call =
        made && (made.program as unknown as { body: { declarations: { init: { arguments: Mutable[] } }[] }[] }).body[0].declarations[0].init
      if (!call || !put(edit.anchor, edit.where, call.arguments.slice(2))) return null
      break
    }
    case 'delete': {
      const call = program.calls[edit.nth]
      const around = program.parent(call)
      const other = around?.type === 'ConditionalExpression' ? (around.consequent === call ? around.alternate : around.consequent) : null
      if (other && !givesNothing(other as Mutable)) {
        program.replace(call, literal(null))
        break
      }
      const place = program.placeOf(call)
      if (!place) return null
      place.holder.arguments.splice(place.index, 1)
      break
    }
    case 'duplicate': {
      const call = program.calls[edit.nth]
      const place = program.placeOf(call)
      const copy = structuredClone(place && !program.isChosen(call) ? place.holder.arguments[place.index] : call)
      if (isFactoryCall(copy)) takeKey(copy)
      if (!put(edit.nth, 'after', [copy])) return null
      break
    }
    case 'move': {
      const place = program.placeOf(program.calls[edit.nth])
      if (!place) return null
      const moved = place.holder.arguments[place.index]
      const target = program.placeOf(program.calls[edit.anchor])
      // Beside itself.
      if (/before|after/.test(edit.where) && target?.holder === place.holder && target.index === place.index) break
      const mark = literal('\0moved')
      place.holder.arguments[place.index] = mark
      if (!put(edit.anchor, edit.where, [moved], true)) return null
      place.holder.arguments.splice(place.holder.arguments.indexOf(mark), 1)
      break
    }
    case 'wrap': {
      const call = program.calls[edit.nth]
      const isDirect = program.placeOf(call)?.holder.arguments.includes(call) ?? false
      const isValue = program.placeOf(call) === null
      const keys = isDirect || isValue ? [] : takeKey(call)
      const own = edit.className
        ? [
            {
              type: 'Property',
              kind: 'init',
              method: false,
              shorthand: false,
              computed: false,
              key: { type: 'Identifier', name: 'className' },
              value: literal(edit.className),
            },
          ]
        : []
      const held = structuredClone(call)
      const wrapper: Mutable = { ...call, arguments: [literal(edit.tag), propertiesFor([...keys, ...own]), held] }
      program.replace(call, wrapper)
      break
    }
    default: {
      const call = program.calls[edit.nth]
      const place = program.placeOf(call)
      const children = call.arguments.slice(2)
      if (place && place.holder.arguments[place.index] === call) place.holder.arguments.splice(place.index, 1, ...children)
      else if (children.length === 1 && isFactoryCall(children[0])) {
        const [key] = takeKey(call)
        if (key) (children[0].arguments[1].properties as Mutable[]).unshift(key)
        program.replace(call, children[0])
      } else program.replace(call, { ...call, arguments: [{ type: 'Identifier', name: FRAGMENT }, literal(null), ...children] })
    }
  }
  return canonical(program.root)
}

export const saidBy = (file: Compiled): string => canonical(file.program)

/** A name that was imported and is still used, and is imported no more; null where there is none. */
export function lostImport(before: Compiled, after: Compiled): string | null {
  const imported = ({ program }: Compiled) =>
    new Set(
      (program.body as TreeNode[]).flatMap((s) =>
        s.type === 'ImportDeclaration' ? (s.specifiers as TreeNode[]).map((x) => (x.local as TreeNode).name as string) : [],
      ),
    )
  const used = new Set<string>()
  const visit = (node: TreeNode): void => {
    if (node.type === 'ImportDeclaration') return
    if (node.type === 'Identifier') used.add(node.name as string)
    for (const value of Object.values(node)) for (const child of Array.isArray(value) ? value : [value]) if (isNode(child)) visit(child)
  }
  visit(after.program)
  const there = imported(after)
  return [...imported(before)].find((name) => used.has(name) && !there.has(name)) ?? null
}
