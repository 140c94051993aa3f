import type { Folder } from './folder'
import { PickedFolder } from './picked-folder'
import { ServedFolder } from './served-folder'

/** Where a project's folder is, as a database can hold it: picked in this browser, or opened by the server of this machine, by its absolute path there. */
export type FolderPlace =
  { readonly handle: FileSystemDirectoryHandle; readonly served?: undefined } | { readonly served: string; readonly handle?: undefined }

export const folderOf = (place: FolderPlace): Folder => (place.handle ? new PickedFolder(place.handle) : new ServedFolder(place.served))
