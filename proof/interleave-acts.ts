/** The acts that {@link interleave} is made of, and what they are made on. */
import fc from 'fast-check'

export const SHEETS = ['a.css', 'b.css']
export const RULES = 4

/** One rule of a sheet, the smallest thing that somebody finishes. */
export interface Cell {
  readonly sheet: number
  readonly rule: number
}

export type Act =
  | { readonly act: 'set' | 'theirs'; readonly cell: Cell }
  | {
      readonly act: 'backup' | 'look' | 'save' | 'undo' | 'redo' | 'open again' | 'new take' | 'next take' | 'from saved'
    }
  /** What happens at the `at`th step of it, a file read, opened, written or closed. */
  | { readonly act: 'save that fails'; readonly at: number }
  /** All ends at the `at`th step or write to the browser's storage, and is opened again. */
  | {
      readonly act: 'killed'
      readonly in: 'set' | 'save' | 'look' | 'undo' | 'redo' | 'next take' | 'new take'
      readonly cell: Cell
      readonly at: number
    }
  | { readonly act: 'delete' | 'put back'; readonly sheet: number }
  | { readonly act: 'other window'; readonly takesOver: boolean; readonly cell: Cell }
  | { readonly act: 'save in a race'; readonly at: number; readonly cell: Cell }
  | { readonly act: 'leave out' | 'discard'; readonly at: number }
  | { readonly act: 'line ends'; readonly sheet: number }
  /** Done by hand in the folder, where it is in a git repository. */
  | { readonly act: 'git'; readonly does: 'checkout' | 'stash' | 'pop' | 'commit' }

const cell = fc.record({ sheet: fc.nat(SHEETS.length - 1), rule: fc.nat(RULES - 1) })
const at = fc.oneof(fc.nat(5), fc.nat(16))

/** Acts that are made often stand more than once. */
export const anAct: fc.Arbitrary<Act> = fc.oneof(
  { weight: 6, arbitrary: fc.record({ act: fc.constant('set' as const), cell }) },
  { weight: 5, arbitrary: fc.record({ act: fc.constant('theirs' as const), cell }) },
  {
    weight: 9,
    arbitrary: fc.record({
      act: fc.constantFrom(
        'look' as const,
        'save' as const,
        'undo' as const,
        'redo' as const,
        'open again' as const,
        'new take' as const,
        'next take' as const,
        'next take' as const,
        'from saved' as const,
      ),
    }),
  },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('save that fails' as const), at }) },
  {
    weight: 2,
    arbitrary: fc.record({
      act: fc.constant('killed' as const),
      in: fc.constantFrom(
        'set' as const,
        'save' as const,
        'save' as const,
        'look' as const,
        'undo' as const,
        'redo' as const,
        'next take' as const,
        'new take' as const,
      ),
      cell,
      at,
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      act: fc.constantFrom('delete' as const, 'put back' as const),
      sheet: fc.nat(SHEETS.length - 1),
    }),
  },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('other window' as const), takesOver: fc.boolean(), cell }) },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('save in a race' as const), at, cell }) },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('backup' as const) }) },
  { weight: 2, arbitrary: fc.record({ act: fc.constantFrom('leave out' as const, 'discard' as const), at }) },
  { weight: 1, arbitrary: fc.record({ act: fc.constant('line ends' as const), sheet: fc.nat(SHEETS.length - 1) }) },
)

/** The same with acts of git among them. */
export const anActWithGit: fc.Arbitrary<Act> = fc.oneof(
  { weight: 30, arbitrary: anAct },
  {
    weight: 6,
    arbitrary: fc.record({
      act: fc.constant('git' as const),
      does: fc.constantFrom('checkout' as const, 'stash' as const, 'pop' as const, 'commit' as const),
    }),
  },
)
