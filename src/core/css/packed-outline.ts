import { splitSelectors } from './selector-list'

/**
 * A rule as the agent needs it to tie the engine's rule to the source: what kind it is, its selectors written out
 * without nesting, and what is inside.
 */
export interface OutlineRule {
  readonly id: number
  /** `style`, or the at-rule's name. */
  readonly kind: string
  /** Complex selectors of a style rule, or of the one around a nested at-rule with declarations; else empty. */
  readonly selectors: readonly string[]
  /** The selector list or prelude as written, which is what the engine was given. */
  readonly prelude: string
  readonly children: readonly OutlineRule[]
}

/** Style rules one after the other with nothing but declarations in them: their ids, and their preludes with U+0000 between. */
export interface FlatRun {
  readonly ids: Uint32Array
  readonly preludes: string
}

/** An outline as it goes to the page: runs of simple rules are one text, since very many small objects take seconds to be copied. */
export type PackedOutline = readonly (OutlineRule | FlatRun)[]

export const BETWEEN = '\0'

export function unpackOutline(packed: PackedOutline): OutlineRule[] {
  return packed.flatMap((part): OutlineRule[] => {
    if (!('ids' in part)) return [part]
    return part.preludes.split(BETWEEN).map((prelude, i) => ({
      id: part.ids[i],
      kind: 'style',
      selectors: splitSelectors(prelude),
      prelude,
      children: NONE,
    }))
  })
}

const NONE: readonly OutlineRule[] = []
