import { array, string } from 'yup'
import { ELEMENT, moreOf, OPEN_AT_FIRST, SECTIONS } from './properties'

const KEY = 'steady-open-sections'
const stored = array().of(string().oneOf([...SECTIONS.flatMap((s) => [s.title, moreOf(s.title)]), ELEMENT]).required()).required()

/** The sections of Tune that were unfolded last; those open at first where nothing is stored or what is stored is damaged. */
export function readOpen(): ReadonlySet<string> {
  try {
    return new Set(stored.validateSync(JSON.parse(localStorage.getItem(KEY) ?? ''), { strict: true }))
  } catch {
    return new Set(OPEN_AT_FIRST)
  }
}

export function storeOpen(open: ReadonlySet<string>): void {
  localStorage.setItem(KEY, JSON.stringify([...open]))
}
