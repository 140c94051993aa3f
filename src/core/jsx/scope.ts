import { childrenOf, type Node } from './parse'

/** What a script may call by name without saying what it is (ECMA-262 §19, and what browsers have). */
const GLOBALS: ReadonlySet<string> = new Set(
  (
    'undefined NaN Infinity globalThis Math Date JSON Number String Boolean Object Array Map Set Symbol Promise RegExp Error BigInt ' +
    'Intl URL URLSearchParams parseInt parseFloat isNaN isFinite encodeURIComponent decodeURIComponent window document navigator ' +
    'location history console fetch setTimeout clearTimeout setInterval clearInterval requestAnimationFrame structuredClone process'
  ).split(' '),
)

export const isFunction = (node: Node): boolean =>
  /^(FunctionDeclaration|FunctionExpression|ArrowFunctionExpression|ObjectMethod|ClassMethod|ClassPrivateMethod)$/.test(node.type)

/** Whether names that are declared in it are known in nothing around it (ECMA-262 §14). */
const isScope = (node: Node): boolean =>
  isFunction(node) || /^(Program|BlockStatement|ForStatement|ForInStatement|ForOfStatement|CatchClause|SwitchStatement)$/.test(node.type)

function namesIn(pattern: Node, out: Set<string>): void {
  if (pattern.type === 'Identifier') out.add(pattern.name)
  else if (pattern.type === 'AssignmentPattern') namesIn(pattern.left as Node, out)
  else if (pattern.type === 'RestElement') namesIn(pattern.argument as Node, out)
  else if (pattern.type === 'ObjectPattern')
    for (const p of pattern.properties) namesIn((p.type === 'RestElement' ? p.argument : p.value) as Node, out)
  else if (pattern.type === 'ArrayPattern') for (const e of pattern.elements) if (e) namesIn(e as Node, out)
}

/** The names that a function, a block or a file declares for what stands in it, those of scopes within it not counted. */
export function declaredIn(scope: Node): Set<string> {
  const out = new Set<string>()
  if (isFunction(scope)) for (const param of (scope as unknown as { params: Node[] }).params) namesIn(param, out)
  if (scope.type === 'CatchClause' && scope.param) namesIn(scope.param as Node, out)
  const visit = (node: Node): void => {
    for (const child of childrenOf(node)) {
      if (child.type === 'VariableDeclarator') namesIn(child.id as Node, out)
      if ((child.type === 'FunctionDeclaration' || child.type === 'ClassDeclaration') && child.id) out.add(child.id.name)
      if (child.type === 'ImportDeclaration') for (const s of child.specifiers) out.add(s.local.name)
      if (!isScope(child)) visit(child)
    }
  }
  visit(scope)
  return out
}

/** The names that a part of a file uses and does not declare itself. */
export function freeNames(part: Node): Set<string> {
  const out = new Set<string>()
  const visit = (node: Node, bound: ReadonlySet<string>): void => {
    switch (node.type) {
      case 'Identifier':
        if (!bound.has(node.name)) out.add(node.name)
        return
      case 'JSXIdentifier':
        if (!bound.has(node.name)) out.add(node.name)
        return
      case 'JSXAttribute':
        if (node.value) visit(node.value as Node, bound)
        return
      case 'JSXClosingElement':
        return
      case 'JSXOpeningElement': {
        let name = node.name as Node
        const isMember = name.type === 'JSXMemberExpression'
        while (name.type === 'JSXMemberExpression') name = name.object as Node
        // A name in lower case is an element's own.
        if (name.type === 'JSXIdentifier' && (isMember || !/^[a-z]/.test(name.name))) visit(name, bound)
        for (const a of node.attributes) visit(a as Node, bound)
        return
      }
      case 'MemberExpression':
      case 'OptionalMemberExpression':
        visit(node.object as Node, bound)
        if (node.computed) visit(node.property as Node, bound)
        return
      case 'ObjectProperty':
        if (node.computed) visit(node.key as Node, bound)
        visit(node.value as Node, bound)
        return
    }
    if (/^TS/.test(node.type) && !('expression' in node)) return
    const inner = isScope(node) ? new Set([...bound, ...declaredIn(node)]) : bound
    for (const child of childrenOf(node)) visit(child, inner)
  }
  visit(part, new Set())
  return out
}

/** What declares names around a part, outermost first; `path` is what stands around it. */
const scopesOf = (path: readonly Node[]): Node[] => path.filter(isScope)

/** A name that a part uses and that would mean something else, or nothing, where it is put; null where there is none. */
export function nameThatChanges(part: Node, from: readonly Node[], to: readonly Node[]): string | null {
  const [before, after] = [scopesOf(from), scopesOf(to)]
  const left = before.filter((s) => !after.includes(s)).map(declaredIn)
  const entered = after.filter((s) => !before.includes(s)).map(declaredIn)
  return [...freeNames(part)].find((name) => left.some((s) => s.has(name)) || entered.some((s) => s.has(name))) ?? null
}

/** A name that a part uses and that stands for nothing at a place; null where there is none. */
export function unknownName(part: Node, to: readonly Node[]): string | null {
  const known = scopesOf(to).map(declaredIn)
  return [...freeNames(part)].find((name) => !GLOBALS.has(name) && !known.some((s) => s.has(name))) ?? null
}
