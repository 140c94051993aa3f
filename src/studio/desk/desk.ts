import { wrap, type Remote } from 'comlink'
import type { DeskApi } from './desk.worker'

let desk: Remote<DeskApi> | null = null

/** The one worker that holds the open project. */
export function theDesk(): Remote<DeskApi> {
  return (desk ??= wrap<DeskApi>(new Worker(new URL('./desk.worker.ts', import.meta.url), { type: 'module' })))
}
