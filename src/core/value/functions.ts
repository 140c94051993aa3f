import { functionOf, words } from './parts'

export const name = 'functions'

/** One function of a `filter`, `backdrop-filter` or `transform` (Filter Effects 1 §4, CSS Transforms 1 §13). */
export interface FunctionCall {
  readonly name: string
  readonly args: string
}

/** The functions of a list in order; empty for `none`, null when something else stands in it. */
export function parse(text: string): FunctionCall[] | null {
  if (/^none$/i.test(text.trim())) return []
  const list = words(text).map(functionOf)
  return list.length > 0 && list.every((f) => f !== null) ? (list as FunctionCall[]) : null
}

export const format = (list: readonly FunctionCall[]): string => (list.length ? list.map((f) => `${f.name}(${f.args})`).join(' ') : 'none')
