export { tagOffset } from './tag-offset'
export { blocksOf, isCssBlock, styleBlockAt, styleBlockKey, type Block } from './blocks'
