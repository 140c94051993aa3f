export { convert, evaluateLength, formatLength, parseLength, pxPerUnit, toPx, trimNumber, type Length, type NumberStyle, type UnitContext } from './length'
export { contrast, formatColor, notationOf, parseColor, type Notation } from './color'
