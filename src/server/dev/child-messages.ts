import type { UnsavedText } from '../../folder'

/** What a process that runs a project's own server tells the one that started it. */
export type FromChild =
  /** `base` is the path that its pages begin with, with a slash at both ends. `root` is the folder that it reads the sources from. */
  | { readonly is: 'running'; readonly port: number; readonly base: string; readonly root: string }
  | { readonly is: 'failed'; readonly why: string }
  /** Answers a {@link ToChild}. */
  | { readonly is: 'shown'; readonly id: number }

/** What it is asked for: texts that are to be shown in place of files. */
export interface ToChild {
  readonly is: 'texts'
  readonly id: number
  readonly files: readonly UnsavedText[]
  /** Whether all other files are to be shown as they are on the disk. */
  readonly alone: boolean
}

export const tellParent = (message: FromChild): void => void process.send?.(message)
