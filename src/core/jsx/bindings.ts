import type * as t from '@babel/types'
import { isStyleModule } from '../css'
import { bare, type Node } from './parse'

/** What a name of a file stands for. */
export interface Binding {
  /** What a constant was given, or a parameter is where nothing is given; null for any other. */
  readonly value: Node | null
  /** Whether it is a parameter's default: what is given takes its place. */
  readonly isDefault: boolean
  /** The module that it is imported from; null where it is the file's own. */
  readonly module: string | null
  /** How often the file says the name beside where it is bound. */
  uses: number
  isExported: boolean
}

/** A style module as a file imports it. */
export interface StyleModule {
  readonly name: string
  /** As the import says it. */
  readonly from: string
}

/** The names that a file binds, wherever it does. A name that it binds twice stands for nothing that can be determined. */
export class Bindings {
  private readonly byName = new Map<string, Binding | null>()
  private readonly said = new Map<string, number>()

  /** Notes a node of the file; each is to be shown once. */
  note(node: Node): void {
    switch (node.type) {
      case 'Identifier':
      case 'JSXIdentifier':
        this.said.set(node.name, (this.said.get(node.name) ?? 0) + 1)
        break
      case 'ImportDeclaration':
        for (const s of node.specifiers) {
          this.bind(s.local.name, { module: node.source.value })
          if (s.type !== 'ImportSpecifier' && isStyleModule(node.source.value))
            this.objects.push({ name: s.local.name, from: node.source.value })
        }
        break
      case 'VariableDeclaration':
        for (const { id, init } of node.declarations)
          if (id.type === 'Identifier') this.bind(id.name, node.kind === 'const' && init ? { value: init as Node } : {})
          else this.bindPattern(id as Node)
        break
      case 'FunctionDeclaration':
      case 'FunctionExpression':
      case 'ArrowFunctionExpression':
      case 'ObjectMethod':
      case 'ClassMethod':
        if (node.type === 'FunctionDeclaration' && node.id) this.bind(node.id.name, { value: node })
        for (const param of node.params) this.bindPattern(param as Node)
        break
      case 'ExportNamedDeclaration':
        if (node.declaration?.type === 'VariableDeclaration')
          for (const { id } of node.declaration.declarations) if (id.type === 'Identifier') this.exported.add(id.name)
        for (const s of node.specifiers) if (s.type === 'ExportSpecifier') this.exported.add(s.local.name)
        break
    }
  }

  private readonly exported = new Set<string>()
  private readonly objects: StyleModule[] = []

  private bind(name: string, is: Partial<Binding>): void {
    const binding = { value: null, isDefault: false, module: null, uses: 0, isExported: false, ...is }
    this.byName.set(name, this.byName.has(name) ? null : binding)
  }

  private bindPattern(node: Node): void {
    if (node.type === 'Identifier') this.bind(node.name, {})
    else if (node.type === 'AssignmentPattern')
      if (node.left.type === 'Identifier') this.bind(node.left.name, { value: node.right as Node, isDefault: true })
      else this.bindPattern(node.left as Node)
    else if (node.type === 'ObjectPattern')
      for (const p of node.properties) this.bindPattern((p.type === 'RestElement' ? p.argument : p.value) as Node)
    else if (node.type === 'ArrayPattern') for (const e of node.elements) if (e) this.bindPattern(e as Node)
    if (node.type === 'RestElement') this.bindPattern(node.argument as Node)
  }

  of(name: string): Binding | null {
    const found = this.byName.get(name)
    if (!found) return null
    return { ...found, uses: (this.said.get(name) ?? 1) - 1, isExported: this.exported.has(name) }
  }

  /** The style modules that are imported as one object, by the names that they have here (CSS Modules). */
  get styleModules(): readonly StyleModule[] {
    return this.objects.filter(({ name }) => this.byName.get(name) !== null)
  }

  /** The name of a module's import that matches; null where the file imports none. */
  importOf(test: (name: string, module: string) => boolean): string | null {
    for (const [name, b] of this.byName) if (b?.module && test(name, b.module)) return name
    return null
  }
}

/** Functions that join class names to a list and do nothing else, by the names that they go by. */
const JOINERS: ReadonlySet<string> = new Set(['clsx', 'cn', 'cx', 'classNames', 'classnames', 'twMerge', 'twJoin', 'cls'])

/** Packages whose one function joins class names, whatever name it is imported under. */
const JOINING: ReadonlySet<string> = new Set(['clsx', 'clsx/lite', 'classnames', 'classnames/dedupe', 'tailwind-merge'])

/** Whether a function that is called joins class names. */
export function joins(callee: Node, bindings: Bindings, depth = 0): boolean {
  if (callee.type !== 'Identifier') return false
  const found = bindings.of(callee.name)
  if (!found) return JOINERS.has(callee.name)
  if (found.module !== null) return JOINERS.has(callee.name) || JOINING.has(found.module)
  return found.value !== null && depth < 3 && isJoiningFunction(bare(found.value), bindings, depth + 1)
}

/** A function whose result is its rest parameter, joined. */
function isJoiningFunction(node: Node, bindings: Bindings, depth: number): boolean {
  if (node.type !== 'ArrowFunctionExpression' && node.type !== 'FunctionDeclaration' && node.type !== 'FunctionExpression') return false
  if (node.params.length !== 1 || node.params[0].type !== 'RestElement') return false
  const last = node.body.type === 'BlockStatement' ? node.body.body.at(-1) : null
  const result = (
    node.body.type === 'BlockStatement' ? (last?.type === 'ReturnStatement' ? last.argument : null) : node.body
  ) as Node | null
  if (result?.type !== 'CallExpression') return false
  return joins(result.callee as Node, bindings, depth) || isJoinOfList(result)
}

/** Whether a call ends in `.join(' ')`, of a list or of what is left of it by `.filter(Boolean)`. */
export const isJoinOfList = (node: t.CallExpression): boolean =>
  node.callee.type === 'MemberExpression' &&
  node.callee.property.type === 'Identifier' &&
  node.callee.property.name === 'join' &&
  node.arguments[0]?.type === 'StringLiteral' &&
  node.arguments[0].value === ' '
