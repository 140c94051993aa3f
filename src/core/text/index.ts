export { decodeSource, encodeSource, EncodingError, type Encoding, type SourceText } from './source'
export {
  applySplices,
  composeSplices,
  diffSplice,
  invertSplices,
  mapOffset,
  mapSpan,
  normalizeSplices,
  type Span,
  type Splice,
  type Splices,
} from './splice'
export { LineIndex, lineEndOf } from './lines'
export { placeText } from './place'
export { createPatch, gitPath, type PatchFile } from './patch'
export { attributedLines, changedParts, type ChangedLine, type ChangedPart } from './changed-lines'
export { LineFeeds } from './line-feeds'
export { rebase } from './rebase'
export { conflictsIn, differencesOf, lineHunks, linesOf, lineSplices, mergedText, mergeTexts, type MergePart, type Side } from './merge'
export { textMark } from './mark'
export { decodePath, fileNamed, isModulePath } from './paths'
