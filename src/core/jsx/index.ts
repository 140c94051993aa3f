export { stampTags } from './stamp'
export { isJsxPath, jsxTags, type JsxTag } from './tags'
