import { applicable, type JournalEdit } from '../core/edit/journal'
import { decodeSource } from '../core/text'

type Check = (value: unknown) => void

/** Checks for rows that come from a file; each throws Yup's error, which says what is wrong where. */
export async function rowChecks(): Promise<{ readonly project: Check; readonly file: Check; readonly edit: Check }> {
  const { array, mixed, number, object, string } = await import('yup')
  const splice = object({ from: number().required().integer().min(0), to: number().required().integer().min(0), insert: string().defined() })
  const changes = array().of(object({ path: string().required(), splices: array().of(splice).required(), inverse: array().of(splice).required() })).required()
  const edit = object({ seq: number().required().integer().min(1), path: string().required(), name: string().required(), after: string().defined(), changes })
  const project = object({ id: string().required().matches(/^[a-z0-9](?:[a-z0-9-]{0,60}[a-z0-9])?$/), name: string().required(), done: number().required().integer().min(0) })
  const file = object({ key: number().required().integer().min(1), path: string().required(), bytes: mixed((v): v is Uint8Array => v instanceof Uint8Array).required() })
  const strictly = (schema: { validateSync(value: unknown, options: { strict: boolean }): unknown }): Check => (value) => void schema.validateSync(value, { strict: true })
  return { project: strictly(project), file: strictly(file), edit: strictly(edit) }
}

/** Of a journal, the edits from the first on that were made on these files, with how many of those are in force. */
export function fitting(files: readonly { readonly path: string; readonly bytes: Uint8Array }[], edits: readonly JournalEdit[], done: number): { readonly edits: readonly JournalEdit[]; readonly done: number } {
  const known = new Map(files.map((f) => [f.path, f.bytes]))
  const original = (path: string): string | null => {
    const bytes = known.get(path)
    try {
      return bytes ? decodeSource(bytes).text : null
    } catch {
      return null
    }
  }
  const count = applicable(edits, original)
  return { edits: edits.slice(0, count), done: Math.min(done, count) }
}
