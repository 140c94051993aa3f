import type * as t from '@babel/types'
import type { Span, Splice } from '../text'
import { keyOf } from './entries'
import { isJoinOfList, joins } from './joins'
import { meantBy, meantInModule, type Meant, type ValueFile } from './meaning'
import { bare, type Node } from './parse'
import { attributeText, stringText, templateText } from './quoting'

/** How a piece is quoted: as an attribute's text, as a string of the script, as a part of a template, or as a bare key of an object. */
export type Quoting = { readonly in: 'attribute' | 'string'; readonly quote: '"' | "'" } | { readonly in: 'template' | 'key' }

/** A part of a class list that is written out, where it stands. */
export interface ClassPiece {
  /** Of the names, without quotes. */
  readonly span: Span
  readonly quoting: Quoting
  /** What it says, decoded. */
  readonly value: string
  /** What it waits for, as the source writes it, the outermost first; none where it always counts. */
  readonly when: readonly string[]
  /** Whether other tags of the file, or other files, may use it too. */
  readonly isShared: boolean
  /** What takes it out as a whole, with what separates it from its neighbours; null where it stays behind as an empty text. */
  readonly takeOut: Splice | null
  /** The file that it stands in. */
  readonly file: ValueFile
}

/** What a `className` says: the pieces that are written out, and what is worked out while the page runs. */
export interface ClassValue {
  readonly pieces: readonly ClassPiece[]
  readonly unknown: readonly Node[]
  /** The other files that it was read from, with what they held then. */
  readonly from: readonly { readonly file: ValueFile; readonly text: string }[]
}

const words = (text: string): string[] => text.split(/[ \t\n\r\f]+/).filter(Boolean)

/** How deep a value is followed through names. */
const DEPTH = 6

/** What is read, wherever it is written. */
interface Found {
  readonly pieces: ClassPiece[]
  readonly unknown: Node[]
  readonly from: { readonly file: ValueFile; readonly text: string }[]
}

class Reader {
  /** `by` is the node of the element's own file that led to another one; null in that itself. */
  constructor(
    private readonly file: ValueFile,
    private readonly found: Found,
    private readonly by: Node | null = null,
  ) {}

  private get text(): string {
    return this.file.text
  }

  private isUnknown(node: Node): void {
    this.found.unknown.push(this.by ?? node)
  }

  // Where it leads nowhere now, it may once that file is another.
  private meant(name: string): Meant | null {
    const module = this.file.bindings.of(name)?.module ?? null
    const file = module === null ? null : this.file.imported(module)
    if (file) this.found.from.push({ file, text: file.text })
    return meantBy(this.file, name)
  }

  /** What reads a value where it is written. */
  private readerOf({ file }: Meant, by: Node): Reader {
    if (file === this.file) return this
    this.found.from.push({ file, text: file.text })
    return new Reader(file, this.found, this.by ?? by)
  }

  private key(p: t.ObjectProperty): string {
    return keyOf(p) ?? this.said(p.key as Node)
  }

  private said(node: Node): string {
    return this.text.slice(node.start, node.end)
  }

  private add(span: Span, value: string, quoting: Quoting, around: Around, of: Node): void {
    // Where an escape stands for white space, the names cannot be distinguished in the text.
    if (words(this.text.slice(span.from, span.to)).length !== words(value).length) this.isUnknown(of)
    else this.found.pieces.push({ span, value, quoting, file: this.file, ...around })
  }

  read(given: Node, around: Around, depth = 0): void {
    const node = bare(given)
    const { text } = this
    switch (node.type) {
      case 'StringLiteral': {
        const quote = text[node.start] as '"' | "'"
        return this.add({ from: node.start + 1, to: node.end - 1 }, node.value, { in: 'string', quote }, around, node)
      }
      case 'TemplateLiteral':
        return this.readTemplate(node, around, depth)
      case 'ConditionalExpression': {
        const test = this.said(node.test as Node)
        const not = `not ${test}`
        this.read(node.consequent as Node, { ...around, when: [...around.when, test], takeOut: null }, depth)
        return this.read(node.alternate as Node, { ...around, when: [...around.when, not], takeOut: null }, depth)
      }
      case 'LogicalExpression': {
        const test = this.said(node.left as Node)
        if (node.operator === '&&') return this.read(node.right as Node, { ...around, when: [...around.when, test] }, depth)
        // The left is what it gives, if anything.
        this.read(node.left as Node, { ...around, takeOut: null }, depth)
        return this.read(node.right as Node, { ...around, when: [...around.when, `not ${test}`], takeOut: null }, depth)
      }
      case 'BinaryExpression':
        if (node.operator !== '+') break
        return this.readSum(node, around, depth)
      case 'CallExpression':
        return this.readCall(node, around, depth)
      case 'ArrayExpression':
        return this.readList(node.elements as (Node | null)[], around, depth)
      case 'ObjectExpression':
        return this.readObject(node, around)
      case 'Identifier': {
        if (node.name === 'undefined') return
        const meant = depth < DEPTH ? this.meant(node.name) : null
        if (!meant || !isWritten(meant.node)) break
        const when = meant.isDefault ? [...around.when, `no ${node.name} is given`] : around.when
        return this.readMeant(meant, node, { ...around, when }, depth)
      }
      case 'MemberExpression':
        return this.readMember(node, around, depth)
      case 'NullLiteral':
      case 'BooleanLiteral':
      case 'NumericLiteral':
        return
    }
    this.isUnknown(node)
  }

  private readMeant(meant: Meant, by: Node, { when, isShared }: Around, depth: number): void {
    this.readerOf(meant, by).read(meant.node, { when, isShared: isShared || meant.isShared, takeOut: null }, depth + 1)
  }

  private readTemplate(node: t.TemplateLiteral & Node, around: Around, depth: number): void {
    const parts = node.quasis.flatMap((quasi, i): Part[] => {
      const [from, to] = [quasi.start!, quasi.end!]
      const next = node.expressions[i] as Node | undefined
      const text: Part = { from, to, text: this.text.slice(from, to), quoting: { in: 'template' } }
      return next ? [text, { node: next }] : [text]
    })
    this.readParts(parts, around, depth, node)
  }

  /** `'a ' + b`: each text by itself, from the left. */
  private readSum(node: t.BinaryExpression & Node, around: Around, depth: number): void {
    const partsOf = (given: Node): Part[] => {
      const n = bare(given)
      if (n.type === 'BinaryExpression' && n.operator === '+') return [...partsOf(n.left as Node), ...partsOf(n.right as Node)]
      if (n.type !== 'StringLiteral') return [{ node: n }]
      const [from, to] = [n.start + 1, n.end - 1]
      return [{ from, to, text: this.text.slice(from, to), quoting: { in: 'string', quote: this.text[n.start] as '"' | "'" } }]
    }
    this.readParts(partsOf(node), around, depth, node)
  }

  /** Texts and values that follow each other: a name that touches what is worked out is only a part of one. */
  private readParts(all: readonly Part[], around: Around, depth: number, of: Node): void {
    const parts = all.filter((part) => 'node' in part || part.text !== '')
    const touches = (i: number, side: 'start' | 'end'): boolean => {
      const [part, other] = [parts[i], parts[side === 'start' ? i - 1 : i + 1]]
      if (!other || isApart(part, side)) return false
      return !isApart(other, side === 'start' ? 'end' : 'start')
    }
    parts.forEach((part, i) => {
      const [isOpen, isCut] = [touches(i, 'start'), touches(i, 'end')]
      if ('node' in part) {
        if (isOpen || isCut) this.isUnknown(part.node)
        else this.read(part.node, { ...around, takeOut: null }, depth)
        return
      }
      const lead = isOpen ? /^\S*/.exec(part.text)![0].length : 0
      const tail = isCut ? /\S*$/.exec(part.text.slice(lead))![0].length : 0
      const inner = part.text.slice(lead, part.text.length - tail)
      const from = part.from + lead + /^\s*/.exec(inner)![0].length
      const to = Math.max(from, part.to - tail - /\s*$/.exec(inner)![0].length)
      if (from === to) return
      // With it goes the white space on the side where something else ends.
      const gap = i > 0 ? { from: part.from + lead, to } : { from, to: part.to - tail }
      const raw = this.text.slice(from, to)
      // Of escapes, those of signs alone are read.
      if (/\\[\w\s]/.test(raw)) {
        this.isUnknown(of)
        return
      }
      const value = raw.replace(/\\(.)/g, '$1')
      this.add({ from, to }, value, part.quoting, { ...around, takeOut: parts.length === 1 ? around.takeOut : { ...gap, insert: '' } }, of)
    })
  }

  private readCall(node: t.CallExpression & Node, around: Around, depth: number): void {
    const callee = node.callee as Node
    if (isJoinOfList(node)) {
      let list = (node.callee as t.MemberExpression).object as Node
      if (
        list.type === 'CallExpression' &&
        list.callee.type === 'MemberExpression' &&
        list.callee.property.type === 'Identifier' &&
        list.callee.property.name === 'filter'
      )
        list = list.callee.object as Node
      if (bare(list).type === 'ArrayExpression') return this.read(list, { ...around, takeOut: null }, depth)
    } else if (joins(callee, this.file)) return this.readList(node.arguments as Node[], around, depth)
    else if (callee.type === 'Identifier') {
      const made = this.meant(callee.name)
      const value = made?.node
      if (made && value?.type === 'CallExpression' && value.callee.type === 'Identifier' && /^(cva|tv)$/.test(value.callee.name)) {
        const variants: Around = { when: around.when, isShared: made.isShared, takeOut: null }
        this.readerOf(made, callee).readVariants(value, variants, depth + 1)
        // What is handed on by the call is a class list too.
        for (const arg of node.arguments)
          if (arg.type === 'ObjectExpression')
            for (const p of arg.properties)
              if (p.type === 'ObjectProperty' && /^class(Name)?$/.test(keyOf(p) ?? ''))
                this.read(p.value as Node, { ...around, takeOut: null }, depth)
        return
      }
    }
    this.isUnknown(node)
  }

  /** Of `cva(base, { variants: { size: { small: … } } })` and `tv({ base, variants })`. */
  private readVariants(node: t.CallExpression, around: Around, depth: number): void {
    const config = node.arguments.findLast((a) => a.type === 'ObjectExpression') as t.ObjectExpression | undefined
    const [first] = node.arguments
    if (first && first !== config) this.read(first as Node, around, depth)
    for (const p of config?.properties ?? []) {
      if (p.type !== 'ObjectProperty') continue
      if (keyOf(p) === 'base') this.read(p.value as Node, around, depth)
      if (keyOf(p) !== 'variants' || p.value.type !== 'ObjectExpression') continue
      for (const variant of p.value.properties)
        if (variant.type === 'ObjectProperty' && variant.value.type === 'ObjectExpression')
          for (const option of variant.value.properties)
            if (option.type === 'ObjectProperty')
              this.read(option.value as Node, { ...around, when: [...around.when, `${this.key(variant)} is ${this.key(option)}`] }, depth)
    }
  }

  private readList(items: readonly (Node | null)[], around: Around, depth: number): void {
    items.forEach((item, i) => {
      if (!item || item.type === 'SpreadElement') {
        if (item) this.isUnknown(item)
        return
      }
      const [before, next] = [items[i - 1], items[i + 1]]
      const takeOut: Splice | null = next
        ? { from: item.start, to: next.start, insert: '' }
        : before
          ? { from: before.end, to: item.end, insert: '' }
          : null
      this.read(item, { ...around, takeOut }, depth)
    })
  }

  private readObject(node: t.ObjectExpression & Node, around: Around): void {
    const { properties } = node
    properties.forEach((p, i) => {
      const key = p.type === 'ObjectProperty' ? (p.key as Node) : null
      if (p.type !== 'ObjectProperty' || !key || (p.computed && bare(key).type !== 'StringLiteral')) {
        this.isUnknown((key ?? p) as Node)
        return
      }
      const [before, next] = [properties[i - 1], properties[i + 1]]
      const takeOut: Splice | null = next
        ? { from: p.start!, to: next.start!, insert: '' }
        : before
          ? { from: before.end!, to: p.end!, insert: '' }
          : around.takeOut
      const inner: Around = { when: [...around.when, this.said(p.value as Node)], isShared: around.isShared, takeOut }
      if (key.type === 'StringLiteral') this.read(key, inner)
      else if (key.type === 'Identifier' && !p.shorthand) this.add({ from: key.start, to: key.end }, key.name, { in: 'key' }, inner, key)
      else this.isUnknown(key)
    })
  }

  /** `sizes.small`, `sizes[size]`: of a record that the file writes out. */
  private readMember(node: t.MemberExpression & Node, around: Around, depth: number): void {
    const object = node.object as Node
    const name = object.type === 'Identifier' && depth < DEPTH ? object.name : null
    const property = node.property as Node
    const wanted = !node.computed ? (property as t.Identifier).name : property.type === 'StringLiteral' ? property.value : null
    const member = name !== null && wanted !== null ? meantInModule(this.file, name, wanted) : null
    if (member && isWritten(member.node)) return this.readMeant(member, node, around, depth)
    const meant = name === null ? null : this.meant(name)
    const record = meant && !meant.isDefault ? meant.node : null
    if (record?.type !== 'ObjectExpression') return this.isUnknown(node)
    for (const p of record.properties) {
      if (p.type !== 'ObjectProperty' || (wanted !== null && keyOf(p) !== wanted)) continue
      const when = wanted === null ? [...around.when, `${this.said(property)} is ${this.key(p)}`] : around.when
      this.readMeant({ ...meant!, node: p.value as Node }, node, { ...around, when }, depth)
    }
    if (record.properties.some((p) => p.type !== 'ObjectProperty')) this.isUnknown(node)
  }
}

/** A text of a template or a sum, or a value between two. */
type Part = (Span & { readonly text: string; readonly quoting: Quoting }) | { readonly node: Node }

const isApart = (part: Part, side: 'start' | 'end'): boolean =>
  'node' in part ? standsApart(part.node, side) : (side === 'start' ? /^\s/ : /\s$/).test(part.text)

type Around = Pick<ClassPiece, 'when' | 'isShared' | 'takeOut'>

// What a constant holds that is written out where it stands: no other value can be looked for in it.
const isWritten = ({ type }: Node): boolean =>
  type === 'StringLiteral' ||
  type === 'TemplateLiteral' ||
  type === 'ConditionalExpression' ||
  type === 'LogicalExpression' ||
  type === 'CallExpression' ||
  type === 'ArrayExpression' ||
  type === 'MemberExpression'

/** Whether a value of a template keeps what touches it apart: each text that it may be is empty, or has white space on that side. */
function standsApart(given: Node, side: 'start' | 'end'): boolean {
  const node = bare(given)
  if (node.type === 'StringLiteral') return node.value === '' || (side === 'start' ? /^\s/ : /\s$/).test(node.value)
  if (node.type === 'TemplateLiteral') {
    const raw = (side === 'start' ? node.quasis[0] : node.quasis.at(-1)!).value.raw
    return (side === 'start' ? /^\s/ : /\s$/).test(raw) || (raw === '' && node.quasis.length === 1)
  }
  if (node.type === 'ConditionalExpression') return standsApart(node.consequent as Node, side) && standsApart(node.alternate as Node, side)
  if (node.type === 'LogicalExpression') return standsApart(node.right as Node, side)
  return false
}

/** The classes that the value of a `className` is made of. */
export function readClassValue(file: ValueFile, value: Node): ClassValue {
  const found: Found = { pieces: [], unknown: [], from: [] }
  const whole: Around = { when: [], isShared: false, takeOut: null }
  // An attribute's own text has character references in place of escapes (JSX specification, JSXString).
  if (value.type === 'StringLiteral') {
    const span = { from: value.start + 1, to: value.end - 1 }
    const quote = file.text[value.start] as '"' | "'"
    found.pieces.push({ ...whole, span, value: value.value, quoting: { in: 'attribute', quote }, file })
  } else if (value.type === 'JSXExpressionContainer') new Reader(file, found).read(value.expression as Node, whole)
  return found
}

/** A class's name as it has to stand in a piece. */
export function spelledIn({ quoting }: Pick<ClassPiece, 'quoting'>, name: string): string {
  if (quoting.in === 'attribute') return attributeText(name, quoting.quote)
  if (quoting.in === 'template') return templateText(name)
  return stringText(name, quoting.in === 'string' ? quoting.quote : "'")
}
