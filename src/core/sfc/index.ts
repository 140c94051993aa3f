export { tagOffset } from './tag-offset'
export { blocksOf, isCssBlock, styleBlockAt, styleBlockKey, styleBlocks, type Block } from './blocks'
