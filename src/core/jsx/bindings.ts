import type * as t from '@babel/types'
import { isStyleModule } from '../css'
import type { Node } from './parse'

/** What a name of a file stands for. */
export interface Binding {
  /** What a constant was given, or a parameter is where nothing is given; null for any other. */
  readonly value: Node | null
  /** Whether it is a parameter's default: what is given takes its place. */
  readonly isDefault: boolean
  /** The module that it is imported from; null where it is the file's own. */
  readonly module: string | null
  /** What it is there: the name of an export, `default`, or `*` for all of it. Null where it is the file's own. */
  readonly imported: string | null
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

/** A class that a file imports by itself from a style module. */
export interface TakenMember {
  /** What the file calls it. */
  readonly name: string
  /** What the module calls it. */
  readonly member: string
  /** The module, as the import says it. */
  readonly from: string
}

/** What an export of a file stands for: one of its own names, a value that is written there, or an export of another module. */
export type Export = { readonly local: string } | { readonly node: Node } | { readonly module: string; readonly name: string }

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
          this.bind(s.local.name, { module: node.source.value, imported: importedName(s) })
          if (!isStyleModule(node.source.value)) continue
          if (s.type !== 'ImportSpecifier') this.objects.push({ name: s.local.name, from: node.source.value })
          else this.members.push({ name: s.local.name, member: importedName(s), from: node.source.value })
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
          for (const { id } of node.declaration.declarations) if (id.type === 'Identifier') this.noteExport(id.name, { local: id.name })
        if (node.declaration?.type === 'FunctionDeclaration' && node.declaration.id)
          this.noteExport(node.declaration.id.name, { local: node.declaration.id.name })
        for (const s of node.specifiers) {
          const name = s.exported.type === 'Identifier' ? s.exported.name : s.exported.value
          if (s.type === 'ExportNamespaceSpecifier') this.noteExport(name, { module: node.source!.value, name: '*' })
          else if (s.type === 'ExportSpecifier')
            this.noteExport(name, node.source ? { module: node.source.value, name: s.local.name } : { local: s.local.name })
        }
        break
      case 'ExportDefaultDeclaration':
        this.noteExport(
          'default',
          node.declaration.type === 'Identifier' ? { local: node.declaration.name } : { node: node.declaration as Node },
        )
        break
      case 'ExportAllDeclaration':
        this.passedOn.push(node.source.value)
        break
    }
  }

  private readonly exports = new Map<string, Export>()
  private readonly exported = new Set<string>()
  private readonly passedOn: string[] = []

  private noteExport(name: string, is: Export): void {
    this.exports.set(name, is)
    if ('local' in is) this.exported.add(is.local)
  }

  /** What the file exports under a name (ECMAScript §16.2.3): first its own, else what it may pass on from other modules. */
  exportsOf(name: string): readonly Export[] {
    const own = this.exports.get(name)
    return own ? [own] : name === 'default' ? [] : this.passedOn.map((module) => ({ module, name }))
  }

  private readonly objects: StyleModule[] = []
  private readonly members: TakenMember[] = []

  private bind(name: string, is: Partial<Binding>): void {
    const binding = { value: null, isDefault: false, module: null, imported: null, uses: 0, isExported: false, ...is }
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

  /** Whether the file says a name anywhere. */
  isSaid(name: string): boolean {
    return this.said.has(name)
  }

  /** The style modules that are imported as one object, by the names that they have here (CSS Modules). */
  get styleModules(): readonly StyleModule[] {
    return this.objects.filter(({ name }) => this.byName.get(name) !== null)
  }

  /** The classes that are imported by themselves, but for those whose names are bound otherwise too. */
  get takenMembers(): readonly TakenMember[] {
    return this.members.filter(({ name }) => this.byName.get(name) !== null)
  }

  /** The name of a module's import that matches; null where the file imports none. */
  importOf(test: (name: string, module: string) => boolean): string | null {
    for (const [name, b] of this.byName) if (b?.module && test(name, b.module)) return name
    return null
  }
}

const importedName = (s: t.ImportDeclaration['specifiers'][number]): string =>
  s.type === 'ImportDefaultSpecifier'
    ? 'default'
    : s.type === 'ImportNamespaceSpecifier'
      ? '*'
      : s.imported.type === 'Identifier'
        ? s.imported.name
        : s.imported.value
