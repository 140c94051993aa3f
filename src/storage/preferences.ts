import type { Database } from './db'

/** The choices there are, the first of each being what holds where nothing is said. */
export const CHOICES = {
  theme: ['system', 'light', 'dark'],
  motion: ['system', 'reduced'],
  units: ['as the source', 'px', 'rem', 'em'],
  colors: ['as the source', 'hex', 'rgb', 'hsl', 'oklch'],
  newRules: ['beside their like', 'at the end of the sheet'],
  aim: ['what decides now', 'the element’s own class', 'the style attribute'],
  important: ['when it would lose without', 'never'],
  hover: ['names and facts', 'names alone'],
  outline: ['as it was left', 'shown', 'hidden'],
  strip: ['as it was left', 'shown', 'folded'],
  unsaved: ['in their folder too', 'in the browser alone'],
  save: ['after looking over it', 'at once when asked', 'after each edit'],
} as const

export type Preferences = { readonly [K in keyof typeof CHOICES]: (typeof CHOICES)[K][number] }

const KEYS = Object.keys(CHOICES) as (keyof Preferences)[]

export const DEFAULTS = Object.fromEntries(KEYS.map((k) => [k, CHOICES[k][0]])) as unknown as Preferences

export interface ReadPreferences {
  readonly values: Partial<Preferences>
  /** What was damaged and is left out, by name. */
  readonly damaged: readonly string[]
}

/** What is stored or brought in, choice by choice: one that is none falls back, and is named. */
export async function readPreferences(stored: unknown): Promise<ReadPreferences> {
  if (stored === undefined || stored === null) return { values: {}, damaged: [] }
  if (typeof stored !== 'object' || Array.isArray(stored)) return { values: {}, damaged: ['all of them'] }
  // Who comes for the first time has nothing stored, and the page shows without it.
  const { object, string } = await import('yup')
  const schema = object(Object.fromEntries(KEYS.map((k) => [k, string().oneOf([...CHOICES[k]])]))).noUnknown(true)
  const values: Record<string, unknown> = {}
  const damaged: string[] = []
  for (const [key, value] of Object.entries(stored)) {
    if (schema.isValidSync({ [key]: value }, { strict: true }) && value !== undefined) values[key] = value
    else damaged.push(key)
  }
  return { values: values as Partial<Preferences>, damaged }
}

/** The preferences that hold in a project: its own before those for all. */
export async function loadPreferences(
  db: Database,
  project: string,
): Promise<{ all: Partial<Preferences>; own: Partial<Preferences>; damaged: readonly string[] }> {
  const [all, own] = await db.preferences.bulkGet(['', project])
  const [a, o] = await Promise.all([readPreferences(all?.values), readPreferences(own?.values)])
  return { all: a.values, own: o.values, damaged: [...a.damaged, ...o.damaged] }
}

export const storePreferences = (db: Database, scope: string, values: Partial<Preferences>): Promise<string> =>
  db.preferences.put({ scope, values })
