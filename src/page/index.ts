export { LiveFaultError, type LiveFault } from './live-fault'
export { PageBusyError, PageClient } from './page-client'
export type { PageServer, ServedFiles, SheetName } from './page-server'
export { WorkerServer } from './worker-server'
