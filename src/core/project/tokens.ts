import { declarationsOf, isRootRule, StatementMemo, valueOf, type Declaration, type RuleSite } from '../css'
import type { SheetRef } from './sheet-ref'

export interface TokenDefinition {
  readonly ref: SheetRef
  readonly site: RuleSite
  readonly declaration: Declaration
}

// Where custom properties are defined for the whole document, and which rules use each, once for each declaration.
const TOKENS = new StatementMemo(
  (rules) => {
    const uses: (readonly [name: string, site: RuleSite])[] = []
    const definitions: { site: RuleSite; declaration: Declaration }[] = []
    for (const site of rules) {
      const isRoot = isRootRule(site)
      for (const declaration of declarationsOf(site.rule)) {
        const value = valueOf(site, declaration)
        if (value.includes('--')) for (const [, name] of value.matchAll(/var\(\s*(--[^\s,)]+)/gi)) uses.push([name, site])
        if (isRoot && declaration.name.startsWith('--')) definitions.push({ site, declaration })
      }
    }
    return uses.length || definitions.length ? { uses, definitions } : null
  },
  () => null,
  () => {},
)

/** What the sheets of a project say of custom properties, by their names. */
export interface Tokens {
  /** The rules whose declarations use one, once for each of these. */
  readonly uses: ReadonlyMap<string, readonly RuleSite[]>
  /** Where one is defined for the whole document. */
  readonly definitions: ReadonlyMap<string, readonly TokenDefinition[]>
}

/** Reads the custom properties of sheets. What a compiled sheet is made from, by the keys in `compiled`, is in it once more. */
export function readTokens(sheets: readonly SheetRef[], compiled: ReadonlySet<string>): Tokens {
  const uses = new Map<string, RuleSite[]>()
  const definitions = new Map<string, TokenDefinition[]>()
  for (const ref of sheets) {
    for (const here of TOKENS.of(ref.sheet).list) {
      if (!compiled.has(ref.key)) for (const [name, site] of here.uses) note(uses, name, site)
      for (const { site, declaration } of here.definitions) note(definitions, declaration.name, { ref, site, declaration })
    }
  }
  return { uses, definitions }
}

function note<T>(lists: Map<string, T[]>, name: string, item: T): void {
  const list = lists.get(name)
  if (list) list.push(item)
  else lists.set(name, [item])
}
