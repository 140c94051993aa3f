import type { EditPlan } from '../css'
import { normalizeSplices, type Splice } from '../text'
import type { JsxDocument } from './document'
import { childrenOf, type Node } from './parse'
import { freeNames } from './scope'

/** The plan with the imports taken out that nothing uses any more once parts of the file are `gone`. */
export function withoutUnusedImports(doc: JsxDocument, gone: readonly Node[], plan: EditPlan): EditPlan {
  const { program, text } = doc
  if (!plan.ok || program?.type !== 'Program') return plan
  const freed = new Set(gone.flatMap((node) => [...freeNames(node)]))
  if (freed.size === 0) return plan
  const used = new Set<string>()
  const visit = (node: Node): void => {
    if (gone.includes(node) || node.type === 'ImportDeclaration') return
    if (node.type === 'Identifier' || node.type === 'JSXIdentifier') used.add(node.name)
    for (const child of childrenOf(node)) visit(child)
  }
  visit(program)
  // The older way of compiling calls it by that name.
  used.add('React')
  const more: Splice[] = []
  for (const statement of program.body) {
    if (statement.type !== 'ImportDeclaration') continue
    const { specifiers } = statement
    const unused = specifiers.filter((s) => freed.has(s.local.name) && !used.has(s.local.name))
    if (unused.length === 0) continue
    if (unused.length === specifiers.length) {
      const end = (statement as Node).end
      more.push({ from: (statement as Node).start, to: end + /^[ \t]*(\r?\n)?/.exec(text.slice(end))![0].length, insert: '' })
      continue
    }
    // With a default name beside them, braces that hold nothing would be left.
    const named = specifiers.filter((s) => s.type === 'ImportSpecifier') as ((typeof specifiers)[number] & Node)[]
    if (named.every((s) => unused.includes(s))) continue
    for (let i = 0; i < named.length; i++) {
      if (!unused.includes(named[i])) continue
      let last = i
      while (unused.includes(named[last + 1])) last++
      more.push(
        last + 1 < named.length
          ? { from: named[i].start, to: named[last + 1].start, insert: '' }
          : { from: named[i - 1].end, to: named[last].end, insert: '' },
      )
      i = last
    }
  }
  if (more.length === 0) return plan
  return { ok: true, splices: normalizeSplices([...plan.splices, ...more]) }
}
