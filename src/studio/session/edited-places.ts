import type { AimRef, Candidate } from '../../core/aim'
import type { Intent, RuleAim } from '../../core/edit'
import type { LedgerRow } from '../../desk'
import type { Picked } from '../store'

const PARTS: Readonly<Partial<Record<AimRef['kind'], LedgerRow['part']>>> = {
  attribute: 'attribute',
  inline: 'style',
  'class-list': 'classes',
}

// What is of a tag is known by its element, a rule by its selector: two rules of the same selector in one file are taken for one.
function isPlaceOf(row: LedgerRow, c: Candidate): boolean {
  if (row.path !== c.path) return false
  const part = PARTS[c.ref.kind]
  if (part) return row.part === part && 'source' in c.ref && row.element === c.ref.source
  return row.element === null && (row.label === (c.of ?? c.label) || (c.ref.kind === 'token' && !c.of))
}

const DECLARATION = /^(-?-?[a-z][\w-]*): ([^]*?)(\s*!\s*important)?$/i

/** What undoes something that was done to a whole declaration; null where a value was set. */
function undoneDeclaration(aim: RuleAim | Extract<AimRef, { kind: 'inline' }>, { name, before, did }: LedgerRow): Intent | null {
  if (did === 'switch-on') return { kind: 'switch-off', aim, name }
  const [, of, value, important] = DECLARATION.exec(before ?? '') ?? []
  if (of === undefined) return null
  switch (did) {
    case 'remove':
      return { kind: 'set', aim, name: of, value, ...(important && { important: true }) }
    case 'switch-off':
      return { kind: 'switch-on', aim, name: of }
    case 'make-important':
      return { kind: 'make-normal', aim, name: of }
    case 'make-normal':
      return { kind: 'make-important', aim, name: of }
    default:
      return null
  }
}

/** The intent that undoes what a row of the ledger was the first to do to a property at a place; null for other places. */
export const backTo = (row: LedgerRow, ref: AimRef): Intent | null => {
  const { name, before, after } = row
  if (ref.kind === 'rule' || ref.kind === 'inline') return undoneDeclaration(ref, row) ?? { kind: 'restore', aim: ref, name, before }
  if (ref.kind === 'token') return { kind: 'restore', aim: { kind: 'rule', sheet: ref.sheet, rule: ref.rule }, name, before }
  if (ref.kind === 'attribute') return { kind: 'set-attribute', source: ref.source, name: ref.name, value: before }
  if (ref.kind !== 'class-list') return null
  const [gone, come] = [before?.split(' ') ?? [], after === 'removed' ? [] : after.split(' ')]
  return {
    kind: 'change-classes',
    sources: [ref.source],
    remove: come,
    add: gone.map((c) => ({ name: c, ...(come[0] && { instead: come[0] }) })),
  }
}

/** The oldest of the rows, which are in the order of the edits, that changed this property at this place. */
export const firstAt = (rows: readonly LedgerRow[], property: string, place: Candidate): LedgerRow | null => {
  const name = place.ref.kind === 'token' ? place.ref.name : property
  return rows.find((r) => r.name === name && isPlaceOf(r, place)) ?? null
}

/** The first of the rows for each property that a place of the element has had edited. */
export function firstOfEach(rows: readonly LedgerRow[], picked: Picked | null): { row: LedgerRow; ref: AimRef }[] {
  const seen = new Set<string>()
  return rows.flatMap((row) => {
    const key = `${row.path} ${row.element ?? row.label} ${row.name}`
    const place = picked?.aims.get(row.name)?.candidates.find((c) => isPlaceOf(row, c))
    if (seen.has(key) || !place) return []
    seen.add(key)
    return [{ row, ref: place.ref }]
  })
}
