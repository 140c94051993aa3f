/** The last part of a path or an address, without a query. */
export const lastName = (path: string): string => path.split('/').at(-1)!.split('?')[0] || path

/** A name that has to do with so many letters. */
export const shortened = (name: string, letters: number): string => (name.length > letters ? `${name.slice(0, letters - 1)}…` : name)
