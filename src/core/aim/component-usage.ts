import { attribute } from '../language'
import type { FoundElement } from '../project'
import type { ElementCascade } from './element-cascade'
import type { TakingRef } from './types'

/** The use of a component that led to an element, where it can be given classes of its own. */
export interface ClassedUsage {
  readonly source: string
  readonly name: string
  /** How many elements of the page it led to. */
  readonly count: number
  readonly found: FoundElement
  /** Whether classes that are given take the place of the component's own. */
  readonly how: 'joined' | 'merged'
  /** What has the component take classes first; undefined where it does. */
  readonly taking: TakingRef | undefined
}

const known = new WeakMap<ElementCascade, ClassedUsage | null>()

/** The same for every property of one element: a pick asks for some dozens. Null where there is none. */
export function classedUsage(cascade: ElementCascade): ClassedUsage | null {
  let of = known.get(cascade)
  if (of === undefined) known.set(cascade, (of = read(cascade)))
  return of
}

function read({ evidence, project }: ElementCascade): ClassedUsage | null {
  const { usage, info } = evidence
  const definition = usage && info.source !== null ? project.element(info.source) : null
  const found = usage ? project.element(usage.source) : null
  if (!usage || !definition || !found?.element.startTag || project.readOnly(found.path) || project.readOnly(definition.path)) return null
  const handed = definition.tree.handsOnClasses?.(definition.element) ?? null
  if (handed) return { ...usage, found, how: handed, taking: undefined }
  // A tag that says classes which its component does not take has them in vain.
  const taken = attribute(found.element, 'class') === null ? definition.tree.takeClasses?.(definition.element, usage.name) : null
  return taken?.ok ? { ...usage, found, how: taken.how, taking: { root: info.source!, component: usage.name } } : null
}
