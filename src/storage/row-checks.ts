import { applicable, type JournalEdit } from '../core/edit'
import { decodeSource } from '../core/text'

type Check = (value: unknown) => void

/** Checks for rows that come from a file; each throws Yup's error, which says what is wrong where. */
export async function rowChecks(): Promise<Readonly<Record<'project' | 'file' | 'edit' | 'take' | 'save', Check>>> {
  const { array, mixed, number, object, string } = await import('yup')
  const splice = object({
    from: number().required().integer().min(0),
    to: number().required().integer().min(0),
    insert: string().defined(),
  })
  const changes = array()
    .of(
      object({
        path: string().required(),
        splices: array().of(splice).required(),
        inverse: array().of(splice).required(),
      }),
    )
    .required()
  const edit = object({
    seq: number().required().integer().min(1),
    path: string().required(),
    name: string().required(),
    after: string().defined(),
    changes,
  })
  const count = number().required().integer().min(0)
  const numbers = array().of(number().required()).required()
  const id = string().matches(/^[a-z0-9](?:[a-z0-9-]{0,60}[a-z0-9])?$/)
  // The take that a project begins with has no name of its own.
  const takeId = string()
    .defined()
    .matches(/^[\w-]{0,60}$/)
  const project = object({
    id: id.required(),
    name: string().required(),
    done: count,
    saved: count.optional(),
    leftOut: numbers.optional(),
    take: takeId.optional(),
    picture: string().optional(),
    wishes: array()
      .of(
        object({
          id: string().optional(),
          state: string().optional().oneOf(['open', 'taken', 'done']),
          told: string().optional(),
          files: array().of(string().required()).optional(),
          words: string().required(),
          sources: array()
            .of(
              string()
                .matches(/^\d+\.\d+$/)
                .required(),
            )
            .required(),
        }),
      )
      .optional(),
    deleted: array().of(string().required()).optional(),
  })
  const take = object({
    id: takeId,
    name: string().required(),
    made: number().required(),
    edits: array().required(),
    done: count,
  })
  const save = object({
    made: number().required(),
    done: count,
    leftOut: numbers,
    files: array().of(string().required()).required(),
  })
  const file = object({
    key: number().required().integer().min(1),
    path: string().required(),
    bytes: mixed((v): v is Uint8Array => v instanceof Uint8Array).required(),
  })
  const strictly =
    (schema: { validateSync(value: unknown, options: { strict: boolean }): unknown }): Check =>
    (value) =>
      void schema.validateSync(value, { strict: true })
  return {
    project: strictly(project),
    file: strictly(file),
    edit: strictly(edit),
    take: strictly(take),
    save: strictly(save),
  }
}

/** Of a journal, the edits from the first on that were made on these files, with how many of those are in force. */
export function fitting(
  files: readonly { readonly path: string; readonly bytes: Uint8Array }[],
  edits: readonly JournalEdit[],
  done: number,
): { readonly edits: readonly JournalEdit[]; readonly done: number } {
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
