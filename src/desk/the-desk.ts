import { wrap, type Remote } from 'comlink'
import type { Desk } from './desk'

let desk: Remote<Desk> | null = null

/** The one worker that holds the open project. */
export function theDesk(): Remote<Desk> {
  return (desk ??= wrap<Desk>(new Worker(new URL('./desk.worker.ts', import.meta.url), { type: 'module' })))
}
