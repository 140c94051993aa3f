export type {
  Assistants,
  SentPicture,
  Shared,
  SharedChoice,
  SharedEdit,
  SharedElement,
  SharedWish,
  WantedPicture,
  WishNews,
  WishState,
} from './assistants'
export { base64Of } from './base64'
export { toolOf } from './dev-tools'
export type { Development, DevProject, DevReport, DevState, DevTool, UnsavedText } from './development'
export { checkSize, readFiles, sameBytes, SaveError, type Folder, type FolderFile, type Listing, type Write } from './folder'
export { KEPT_FOLDER, whyLeftOut, type IgnoreRules, type LeftOut } from './left-out'
export { ImportError, inWords, MOST_BYTES, MOST_FILES } from './limits'
export { isMedia } from './media'
export { packFiles, unpackFiles } from './packed-files'
export { folderOf, type FolderPlace } from './place'
export { diskReason, PickedFolder } from './picked-folder'
export type { CommitFile, CommitRequest, Committed, GitState, Repository } from './repository'
export { servedFolder } from './served-folder'
export type { ServedPages, WantedPage } from './served-pages'
export {
  FOLDER_PATH,
  MODIFIED_HEADER,
  MOST_BODY,
  OURS_HEADER,
  type ServedCommit,
  type ServedInfo,
  type ServedListing,
  type ServedWrite,
  type ServedWritten,
} from './served-protocol'
