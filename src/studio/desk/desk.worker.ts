import { expose } from 'comlink'
import { KeepingDesk } from './keeping-desk'

export type { DeskState, ElementSource, LedgerRow, OpenedProject, Shown, Written } from './types'

export type { WouldWrite } from './reading-desk'
export type { History, HistoryRow, Point } from './history-desk'
export type { Review, ReviewedFile } from './keeping-desk'
export type { FolderCheck, Saved } from './saved'

export type DeskApi = KeepingDesk

expose(new KeepingDesk())
