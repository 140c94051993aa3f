/** A count of things, as `3 edits`. */
export const plural = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`
