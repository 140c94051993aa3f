/**
 * An independent reading of a file of JSX, to hold our own against: esbuild's transform, read by Oxc's parser, and class lists
 * worked out by running their expressions with the real `clsx`. None of it is what the core reads JSX with.
 */
import { clsx } from 'clsx'
import { transformSync } from 'esbuild'
import { parseAst } from 'vite'
import type { Random } from './random'

/** A node of ESTree. */
export interface TreeNode {
  readonly type: string
  readonly start: number
  readonly end: number
  readonly [key: string]: unknown
}

/** What tags call, and what stands for a pair of `<>`. */
export const FACTORY = '__element'
export const FRAGMENT = '__fragment'

export const isNode = (value: unknown): value is TreeNode =>
  typeof value === 'object' && value !== null && typeof (value as TreeNode).type === 'string'

function* nodesOf(node: TreeNode): Generator<TreeNode> {
  yield node
  for (const value of Object.values(node))
    for (const child of Array.isArray(value) ? value : [value]) if (isNode(child)) yield* nodesOf(child)
}

const loaderOf = (path: string): 'jsx' | 'tsx' => (/\.tsx$/i.test(path) ? 'tsx' : 'jsx')

/** A file as esbuild writes it, and the calls that stand for its tags, in order. */
export interface Compiled {
  readonly code: string
  readonly program: TreeNode
  readonly calls: readonly TreeNode[]
}

/** The file's program with calls in the place of tags; null where esbuild cannot read it. */
export function compiled(text: string, path: string): Compiled | null {
  try {
    // A file may name a factory of its own in a comment.
    const { code } = transformSync(text.replace(/@jsx(?=[A-Z\s])/g, '@___'), {
      loader: loaderOf(path),
      jsx: 'transform',
      jsxFactory: FACTORY,
      jsxFragment: FRAGMENT,
      target: 'esnext',
      tsconfigRaw: { compilerOptions: { experimentalDecorators: true, verbatimModuleSyntax: true } },
      logLevel: 'silent',
    })
    const program = parseAst(code) as unknown as TreeNode
    const calls = [...nodesOf(program)]
      .filter(
        (n) => n.type === 'CallExpression' && (n.callee as TreeNode).name === FACTORY && (n.arguments as TreeNode[])[0].name !== FRAGMENT,
      )
      .sort((a, b) => a.start - b.start)
    // A tag without attributes has none to begin with.
    for (const { arguments: given } of calls) {
      const args = given as TreeNode[]
      if (args[1]?.type === 'Literal') args[1] = { type: 'ObjectExpression', start: args[1].start, end: args[1].end, properties: [] }
    }
    return { code, program, calls }
  } catch {
    return null
  }
}

/** The properties that a call gives its element. */
export const propertiesOf = (call: TreeNode): readonly TreeNode[] => {
  const [, props] = call.arguments as TreeNode[]
  return props?.type === 'ObjectExpression' ? (props.properties as TreeNode[]) : []
}

export const keyOf = (property: TreeNode): string | null => {
  const key = property.key as TreeNode | undefined
  return !key || property.computed
    ? null
    : key.type === 'Identifier'
      ? (key.name as string)
      : key.type === 'Literal'
        ? String(key.value)
        : null
}

/** The texts that a call gives its element, in order. */
export const textsOf = (call: TreeNode): string[] =>
  (call.arguments as TreeNode[]).slice(2).flatMap((a) => {
    if (a.type === 'Literal' && typeof a.value === 'string') return a.value === '' ? [] : [a.value]
    const [quasi] = a.type === 'TemplateLiteral' && (a.expressions as []).length === 0 ? (a.quasis as TreeNode[]) : []
    const cooked = (quasi?.value as { cooked?: string } | undefined)?.cooked
    return cooked ? [cooked] : []
  })

/** A program as text without places, and without what `leave` says may differ. */
export function skeleton(program: TreeNode, leave: (node: TreeNode) => boolean): string {
  return JSON.stringify(program, (key, value: unknown) => {
    if (key === 'start' || key === 'end' || key === 'raw' || key === 'range') return undefined
    if (Array.isArray(value)) return value.filter((v) => !(isNode(v) && leave(v)))
    return isNode(value) && leave(value) ? null : value
  })
}

/** One way that what is worked out while the page runs may come out. */
export interface State {
  valueOf(name: string, said: readonly string[]): unknown
}

/** A state of the page: names that nothing is known of are something, nothing, or one of the texts that they are compared with. */
export function randomState(random: Random): State {
  const given = new Map<string, unknown>()
  return {
    valueOf: (name, said) => {
      if (!given.has(name)) given.set(name, random.pick([something(name), undefined, ...said]))
      return given.get(name)
    },
  }
}

// What can be called, looked into and written into a list.
function something(name: string): unknown {
  const say = () => `some-${name.replace(/\W/g, '')}`
  return new Proxy(() => something(name), {
    get: (_, key) =>
      key === Symbol.toPrimitive || key === 'toString' || key === 'valueOf'
        ? say
        : typeof key === 'symbol'
          ? undefined
          : something(`${name}.${key}`),
    apply: () => something(`${name}()`),
  })
}

const BUILT_IN: Readonly<Record<string, unknown>> = { undefined, Boolean, String, Number, Object, Array, Math, JSON, NaN, Infinity }

/** As `cva` and `tv` work out the class list of a component with variants. */
function variants(...args: unknown[]): (props?: Record<string, unknown>) => string {
  const config = (args.length > 1 ? args[1] : isRecord(args[0]) ? args[0] : {}) as {
    base?: unknown
    variants?: Record<string, Record<string, unknown>>
    defaultVariants?: Record<string, string>
  }
  const base = args.length > 1 || !isRecord(args[0]) ? args[0] : config.base
  return (props = {}) =>
    listOf([
      base,
      ...Object.entries(config.variants ?? {}).map(([name, options]) => options[String(props[name] ?? config.defaultVariants?.[name])]),
      props.class,
      props.className,
    ])
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)

// `clsx` takes no functions, as what is only something is.
const plain = (value: unknown): unknown =>
  typeof value === 'function' ? String(value as unknown as string) : Array.isArray(value) ? value.map(plain) : value

const listOf = (value: unknown): string => clsx(plain(value) as Parameters<typeof clsx>[0])

const JOINERS = /^(clsx|cn|cx|cls|classNames|classnames|twMerge|twJoin)$/
const JOINING_MODULES = /^(clsx(\/lite)?|classnames(\/dedupe)?|tailwind-merge)$/

interface Bound {
  readonly count: number
  readonly text: string | null
  readonly isDefault: boolean
  readonly module: string | null
}

const bound = new WeakMap<TreeNode, ReadonlyMap<string, Bound>>()

/** What the names of a file stand for, wherever it binds them. */
function namesOf({ program, code }: Compiled): ReadonlyMap<string, Bound> {
  const known = bound.get(program)
  if (known) return known
  const names = new Map<string, Bound>()
  const bind = (name: string, text: string | null, isDefault = false, module: string | null = null) =>
    names.set(name, { count: (names.get(name)?.count ?? 0) + 1, text, isDefault, module })
  const said = (n: TreeNode) => code.slice(n.start, n.end)
  const pattern = (n: TreeNode): void => {
    if (n.type === 'Identifier') bind(n.name as string, null)
    else if (n.type === 'AssignmentPattern' && (n.left as TreeNode).type === 'Identifier')
      bind((n.left as TreeNode).name as string, said(n.right as TreeNode), true)
    else if (n.type === 'AssignmentPattern') pattern(n.left as TreeNode)
    else if (n.type === 'ObjectPattern')
      for (const p of n.properties as TreeNode[]) pattern((p.type === 'RestElement' ? p.argument : p.value) as TreeNode)
    else if (n.type === 'ArrayPattern') for (const e of n.elements as (TreeNode | null)[]) if (e) pattern(e)
    if (n.type === 'RestElement') pattern(n.argument as TreeNode)
  }
  for (const n of nodesOf(program)) {
    if (n.type === 'VariableDeclarator')
      if ((n.id as TreeNode).type === 'Identifier') bind((n.id as TreeNode).name as string, n.init ? said(n.init as TreeNode) : null)
      else pattern(n.id as TreeNode)
    if (n.type === 'FunctionDeclaration' && n.id) bind((n.id as TreeNode).name as string, said(n))
    if (/Function/.test(n.type)) for (const p of n.params as TreeNode[]) pattern(p)
    if (n.type === 'ImportDeclaration')
      for (const s of n.specifiers as TreeNode[])
        bind((s.local as TreeNode).name as string, null, false, String((n.source as TreeNode).value))
  }
  bound.set(program, names)
  return names
}

/** What the class list of a file's element is in a state; null where that cannot be worked out. */
export function classesIn(file: Compiled, nth: number, state: State): string[] | null {
  const property = file.calls[nth] && propertiesOf(file.calls[nth]).findLast((p) => keyOf(p) === 'className' || keyOf(p) === 'class')
  if (!property) return []
  const { code } = file
  const names = namesOf(file)
  const compared = [...code.matchAll(/[=!]==?\s*["']([^"']*)["']/g)].map((m) => m[1])
  let depth = 0
  const scope: object = new Proxy(
    {},
    {
      has: () => true,
      get: (_, key) => {
        if (typeof key === 'symbol') return undefined
        if (Object.hasOwn(BUILT_IN, key)) return BUILT_IN[key]
        const known = names.get(key)
        const isOwn = known?.count === 1 && known.text !== null && known.module === null
        if ((JOINERS.test(key) && !isOwn) || JOINING_MODULES.test(known?.module ?? '')) return (...args: unknown[]) => listOf(args)
        if (/^(cva|tv)$/.test(key)) return variants
        const isTold = known?.count === 1 && known.text !== null && depth < 20
        if (!isTold) return state.valueOf(key, compared)
        if (known.isDefault) {
          const value = state.valueOf(key, compared)
          if (value !== undefined) return value
        }
        return run(known.text!)
      },
    },
  )
  const run = (text: string): unknown => {
    depth++
    try {
      return (new Function('scope', `with (scope) { return (${text}) }`) as (scope: object) => unknown)(scope)
    } finally {
      depth--
    }
  }
  try {
    const value = run(code.slice((property.value as TreeNode).start, (property.value as TreeNode).end))
    // What is no text is written out as the page would write it, or not at all.
    const text = value === undefined || value === null || typeof value === 'boolean' ? '' : String(value as string)
    return text.split(/[ \t\n\r\f]+/).filter(Boolean)
  } catch {
    return null
  }
}
