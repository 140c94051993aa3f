import { elementRoles, roles, aria, type ARIAProperty, type ARIARoleDefinitionKey } from 'aria-query'

/** What WAI-ARIA 1.2 allows an element, by the role that it says or that its tag has (HTML-AAM 1.0 §3.5). */
export interface AriaFor {
  readonly role: string
  /** The `aria-` attributes that the role supports. */
  readonly names: readonly string[]
  /** Those that it must have. */
  readonly required: readonly string[]
}

type Attributes = readonly { readonly name: string; readonly value: string }[]

function implicitRole(tag: string, attributes: Attributes): string {
  let best: { role: string; weight: number } | null = null
  for (const [schema, own] of elementRoles.entries()) {
    if (schema.name !== tag) continue
    const asked = schema.attributes ?? []
    const holds = asked.every((a) => {
      const there = attributes.find((x) => x.name === a.name)
      return a.constraints?.some((c) => /^un(set|defined)$/.test(c))
        ? there === undefined
        : there !== undefined && (a.value === undefined || String(a.value) === there.value.toLowerCase())
    })
    if (holds && (!best || asked.length > best.weight)) best = { role: [...own][0], weight: asked.length }
  }
  return best?.role ?? 'generic'
}

export const ROLES: readonly string[] = [...roles.entries()]
  .filter(([name, r]) => !r.abstract && !/^(graphics|doc)-/.test(name))
  .map(([name]) => name)
  .sort()

export function ariaFor(tag: string, attributes: Attributes): AriaFor {
  const said = attributes
    .find((a) => a.name === 'role')
    ?.value.trim()
    .split(/\s+/)
    .find((r) => roles.has(r as ARIARoleDefinitionKey))
  const role = said ?? implicitRole(tag, attributes)
  const found = roles.get(role as ARIARoleDefinitionKey)
  const prohibited = new Set((found?.prohibitedProps ?? []) as Iterable<string>)
  return {
    role,
    names: Object.keys(found?.props ?? {})
      .filter((name) => !prohibited.has(name))
      .sort(),
    required: Object.keys(found?.requiredProps ?? {}),
  }
}

/** The words that an `aria-` attribute takes; empty where it takes any text. */
export function ariaValues(name: string): readonly string[] {
  const known = aria.get(name as ARIAProperty)
  if (!known) return []
  if (known.type === 'boolean') return ['true', 'false']
  if (known.type === 'tristate') return ['true', 'false', 'mixed']
  const { values } = known as { readonly values?: Iterable<string | boolean> }
  return known.type === 'token' && values ? [...values].map(String) : []
}

/** Whether an `aria-` attribute names other elements by their ids. */
export const namesIds = (name: string): boolean => /^id/.test(aria.get(name as ARIAProperty)?.type ?? '')
