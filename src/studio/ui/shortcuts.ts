import { getStudio, setStudio } from '../store'
import type { Session } from '../session/session'

/** A key of ours: letters without Ctrl, so that none is the browser's. */
export interface Shortcut {
  /** As `KeyboardEvent.key`, lower case. */
  readonly key: string
  readonly shown: string
  readonly does: string
  readonly group: 'Choosing' | 'Aiming' | 'Seeing' | 'Editing'
  /** Held down for as long as it is to last. */
  readonly hold?: boolean
  readonly alt?: boolean
  /** Whether it needs a selected element. */
  readonly chosen?: boolean
  readonly run: (session: Session, on: boolean) => void
}

const walk = (key: string, shown: string, does: string, to: 'parent' | 'child' | 'next' | 'previous'): Shortcut => ({
  key,
  shown,
  does,
  group: 'Choosing',
  chosen: true,
  run: (s) => void s.selection.walk(to),
})

const move = (key: string, shown: string, does: string, to: 'back' | 'on' | 'out' | 'in'): Shortcut => ({
  key,
  shown,
  does,
  group: 'Editing',
  alt: true,
  chosen: true,
  run: (s) => void s.structure.step(to),
})

export const SHORTCUTS: readonly Shortcut[] = [
  {
    key: 'p',
    shown: 'P',
    does: 'Pick: the pointer chooses elements',
    group: 'Choosing',
    run: (s) => s.setMode('pick'),
  },
  {
    key: 'u',
    shown: 'U',
    does: 'Use: the page is worked as a visitor would',
    group: 'Choosing',
    run: (s) => s.setMode('use'),
  },
  walk('arrowup', '↑', 'The element around it', 'parent'),
  {
    key: 'arrowdown',
    shown: '↓',
    does: 'The first element in it',
    group: 'Choosing',
    run: (s) => void (getStudio().picked ? s.selection.walk('child') : s.selection.pickFirst()),
  },
  walk('arrowleft', '←', 'The one before it', 'previous'),
  walk('arrowright', '→', 'The one after it', 'next'),
  {
    key: 'o',
    shown: 'O',
    does: 'The outline',
    group: 'Choosing',
    run: () => setStudio({ outline: !getStudio().outline, whole: null }),
  },
  {
    key: 'q',
    shown: 'Q',
    does: 'The page as a whole: what it lacks, and what is in use on it',
    group: 'Seeing',
    run: () => setStudio({ whole: getStudio().whole ? null : 'findings', outline: false }),
  },
  {
    key: 'l',
    shown: 'L',
    does: 'All with the same class list',
    group: 'Choosing',
    chosen: true,
    run: (s) => void s.selection.pickLike('classes'),
  },
  {
    key: 't',
    shown: 'T',
    does: 'All of its tag in a like place',
    group: 'Choosing',
    chosen: true,
    run: (s) => void s.selection.pickLike('place'),
  },
  {
    key: 'm',
    shown: 'M',
    does: 'All that the aim’s selector matches',
    group: 'Choosing',
    chosen: true,
    run: (s) => void s.selection.pickLike('selector'),
  },
  {
    key: 'escape',
    shown: 'Esc',
    does: 'Let go',
    group: 'Choosing',
    run: (s) => (getStudio().carrying ? s.setCarrying(false) : s.selection.letGo()),
  },
  {
    key: 'a',
    shown: 'A',
    does: 'Hold the aim, or let it follow again',
    group: 'Aiming',
    chosen: true,
    run: (s) => s.selection.holdAim(getStudio().heldAim === null),
  },
  {
    key: 'r',
    shown: 'R',
    does: 'Scroll to the next one in reach',
    group: 'Aiming',
    chosen: true,
    run: (s) => void s.selection.reach.showNext(),
  },
  ...Array.from({ length: 9 }, (_, i): Shortcut => ({
    key: `${i + 1}`,
    alt: true,
    shown: `Alt ${i + 1}`,
    does: `Place ${i + 1} of the list`,
    group: 'Aiming',
    chosen: true,
    run: (s) => {
      const { picked, property } = getStudio()
      if (picked?.aims.get(property)?.candidates[i]) s.selection.chooseAim(property, i)
    },
  })),
  {
    key: 'b',
    shown: 'B, held',
    does: 'The page as it was saved',
    group: 'Seeing',
    hold: true,
    run: (s, on) => void s.timeline.compare(on),
  },
  {
    key: 'd',
    shown: 'D, held',
    does: 'Distances to what is pointed at',
    group: 'Seeing',
    hold: true,
    run: (_, on) => setStudio({ measuring: on }),
  },
  {
    key: 'e',
    shown: 'E',
    does: 'Containers without an edge of their own',
    group: 'Seeing',
    run: (s) => s.selection.reach.showContainers(!getStudio().containers),
  },
  { key: '?', shown: '?', does: 'This sheet', group: 'Seeing', run: () => setStudio({ keys: !getStudio().keys }) },
  {
    key: 'enter',
    shown: 'Enter',
    does: 'Type its text on the page; Enter keeps it',
    group: 'Editing',
    chosen: true,
    run: (s) => void s.typing.begin(),
  },
  {
    key: 'i',
    shown: 'I',
    does: 'Insert an element',
    group: 'Editing',
    chosen: true,
    run: () => setStudio({ inserting: true }),
  },
  {
    key: '2',
    shown: '2',
    does: 'Double what is chosen',
    group: 'Editing',
    chosen: true,
    run: (s) => void s.structure.duplicate(),
  },
  {
    key: 'z',
    shown: 'Z',
    does: 'The element back to what was saved',
    group: 'Editing',
    chosen: true,
    run: (s) => void s.edits.resetElement(),
  },
  {
    key: 'f',
    shown: 'F',
    does: 'A row of Tune by its property',
    group: 'Choosing',
    chosen: true,
    run: () => setStudio({ findingRow: true }),
  },
  {
    key: '+',
    shown: '+',
    does: 'A new rule: any selector, sheet and condition',
    group: 'Aiming',
    chosen: true,
    run: () => setStudio({ composing: true }),
  },
  {
    key: 'n',
    shown: 'N',
    does: 'The selector, or the name of a class',
    group: 'Aiming',
    chosen: true,
    run: () => setStudio({ naming: true }),
  },
  {
    key: 'g',
    shown: 'G',
    does: 'Draw a layout over it',
    group: 'Editing',
    chosen: true,
    run: (s) => void s.structure.beginBlockOut(),
  },
  move('arrowup', 'Alt ↑', 'Move before its neighbour', 'back'),
  move('arrowdown', 'Alt ↓', 'Move after its neighbour', 'on'),
  move('arrowleft', 'Alt ←', 'Move out of its parent', 'out'),
  move('arrowright', 'Alt →', 'Move into the one before it', 'in'),
  {
    key: 'delete',
    shown: 'Del',
    does: 'Delete what is chosen',
    group: 'Editing',
    chosen: true,
    run: (s) => void s.structure.remove(),
  },
  {
    key: 'h',
    shown: 'H',
    does: 'Off the page for now; again, all are back',
    group: 'Seeing',
    run: (s) => void s.structure.hideForNow(getStudio().picked !== null),
  },
  {
    key: 's',
    shown: 'S',
    does: 'Look over what is to be saved',
    group: 'Editing',
    run: () => setStudio({ dialog: 'review' }),
  },
  {
    key: 'w',
    shown: 'W',
    does: 'Wishes about what is chosen',
    group: 'Editing',
    run: () => setStudio({ dialog: 'wishes' }),
  },
  { key: 'y', shown: 'Y', does: 'History', group: 'Seeing', run: () => setStudio({ dialog: 'history' }) },
  {
    key: 'k',
    shown: 'K',
    does: 'The next take, on the same spot',
    group: 'Seeing',
    run: (s) => void s.keeping.nextTake(),
  },
  {
    key: 'c',
    shown: 'C',
    does: 'Carry the last edit to elements by clicking them',
    group: 'Editing',
    run: (s) => s.setCarrying(!getStudio().carrying),
  },
]
