/** A count of things, as `3 edits` and `9,000 pages`. */
export const plural = (n: number, one: string): string => `${n.toLocaleString('en')} ${one}${n === 1 ? '' : 's'}`
