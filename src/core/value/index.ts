export {
  convert,
  evaluateLength,
  formatLength,
  isLengthText,
  LENGTH_UNITS,
  parseLength,
  pxPerUnit,
  toPx,
  trimNumber,
  type Length,
  type NumberStyle,
  type UnitContext,
} from './length'
export {
  contrast,
  formatColor,
  nearestPassing,
  nearlySameColor,
  notationOf,
  parseColor,
  PLAIN_NOTATION,
  sameColor,
  toOklch,
  type Notation,
} from './color'
export * as family from './family'
export * as functions from './functions'
export * as gradient from './gradient'
export * as shadow from './shadow'
export * as switched from './switched'
export * as tracks from './tracks'
export * as transition from './transition'
export { isAddressOf, pictureInScript, relativeUrl, urlsIn } from './url'
export { MOST_TYPED, readTyped, type Typed } from './typed'
export { commaList } from './parts'
