import type { Intent } from '../../core/edit'
import { getStudio, say } from '../store'
import type { Edits } from './edits'
import { setAt, type Change } from './intents'
import type { Selection } from './selection'
import { aloneFor } from './landings'

/** Edits of several properties that put an element where it is wanted. */
export class LayoutEdits {
  constructor(
    private readonly selection: Selection,
    private readonly edits: Edits,
  ) {}

  /** Puts the parent's children on one row, and the selected element at the far end of it: one edit, each part in its own rule. */
  async rowWithThisAtTheEnd(): Promise<boolean> {
    const parent = await this.selection.parent()
    if (!parent) return false
    const parts: Intent[] = []
    const toTheLeft = (parent.report.direction === 'rtl') !== /^row-reverse/.test(parent.report.computed['flex-direction'] ?? '')
    const margin = toTheLeft ? 'margin-right' : 'margin-left'
    await this.selection.aimAlone([margin])
    for (const [of, name, value] of [
      [parent, 'display', 'flex'],
      [parent, 'align-items', 'center'],
      [null, margin, 'auto'],
    ] as const) {
      const place = of ? await this.selection.aimOf(of, name) : aloneFor(name)
      if (!place) {
        say('error', `There is no place in the source for ${name}.`)
        return false
      }
      parts.push(setAt(place, [name, value]))
    }
    return this.edits.write({ kind: 'together', intents: parts, label: 'one row' }, ['display', margin])
  }

  /** Gives the selected element lines of the grid it stands in, for itself alone and at the widths at which that has the tracks it has now. */
  async placeInGrid(changes: readonly Change[]): Promise<boolean> {
    const under = await this.selection.widthsOfGrid()
    return this.edits.commitAlone(changes, 'placed', under)
  }

  /** Centres the selected element in its parent, by what that is; its sizes stay. */
  async centre(alone: boolean): Promise<boolean> {
    const selected = await this.selection.needAims([
      'width',
      'height',
      'inset',
      'margin',
      'place-self',
      'top',
      'left',
      'translate',
      'margin-left',
      'margin-right',
    ])
    const { picked } = selected
    if (!picked) return false
    const { computed, parent } = picked.report
    const isSized = (name: string) => !/^(auto|)$/.test(picked.aims.get(name)?.written ?? '')
    const changes: Change[] = /absolute|fixed/.test(computed.position ?? '')
      ? isSized('width') && isSized('height')
        ? [
            ['inset', '0'],
            ['margin', 'auto'],
          ]
        : [
            ['top', '50%'],
            ['left', '50%'],
            ['translate', '-50% -50%'],
          ]
      : /grid/.test(parent.display ?? '')
        ? [['place-self', 'center']]
        : /flex/.test(parent.display ?? '')
          ? [['margin', 'auto']]
          : [
              ['margin-left', 'auto'],
              ['margin-right', 'auto'],
            ]
    return alone ? this.edits.commitAlone(changes, 'centred') : this.edits.commitAll(changes, 'centred')
  }

  /** Lifts the selected element over another by the least z-index that does. */
  async bringInFront(of: { readonly z: string }): Promise<boolean> {
    const { picked } = getStudio()
    if (!picked) return false
    const z = String(Math.max(0, Number(of.z) || 0) + 1)
    const still = picked.report.computed.position === 'static' && !/flex|grid/.test(picked.report.parent.display ?? '')
    return this.edits.commitAll([['z-index', z], ...(still ? [['position', 'relative'] as const] : [])], 'in front')
  }
}
