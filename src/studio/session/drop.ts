import type { DropPlace } from '../../agent/protocol'
import type { SourcePlace } from '../../core/edit'

/** Where elements that are being dragged would land. */
export interface Drop {
  /** Null where they cannot be dropped. */
  readonly place: SourcePlace | null
  readonly words: string
  readonly mark: DropPlace['mark'] | null
  readonly within: boolean
}
