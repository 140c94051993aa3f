import type { NodeInfo } from '../../agent/protocol'

/** An element in short: its tag with its id or first class, and which of its like siblings it is. */
export const nameOf = (n: Pick<NodeInfo, 'tag' | 'id' | 'classes' | 'twin'>): string =>
  n.tag + (n.id ? `#${n.id}` : n.classes[0] ? `.${n.classes[0]}` : '') + (n.twin === null ? '' : ` ${n.twin}`)
