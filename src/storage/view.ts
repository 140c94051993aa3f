import { boolean, mixed, number, object, string, type ObjectSchema } from 'yup'
import type { ViewRow } from './db'

/** What a stored view has to be; a damaged one is left out and the project opens on its first page. */
const schema: ObjectSchema<Omit<ViewRow, 'picked'>> = object({
  project: string().required(),
  page: string().required().matches(/^\//),
  width: number().integer().min(100).max(10_000).nullable().defined(),
  scrollX: number().required(),
  scrollY: number().required(),
  mode: mixed<'pick' | 'use'>().oneOf(['pick', 'use']).required(),
  outline: boolean().optional(),
  strip: number().integer().min(20).max(4000).optional(),
}).required()

const picked = object({
  source: string()
    .required()
    .matches(/^\d+\.\d+$/),
  nth: number().integer().min(0).required(),
}).required()

/** The view as stored, or null when it is none. */
export function readView(stored: unknown): ViewRow | null {
  if (!schema.isValidSync(stored, { strict: true })) return null
  const row = stored as ViewRow
  return { ...row, picked: picked.isValidSync(row.picked, { strict: true }) ? row.picked : null }
}
