import { STAMP_ATTRIBUTE, USAGES } from '../../core/html'

/** The module that compiled JSX takes its functions from, in development (React, new JSX transform). */
export const JSX_RUNTIME = 'react/jsx-dev-runtime'

/**
 * The same with a stamp on a component kept for its properties instead of given to it: the component is called as it would
 * be without us, and its place is found by the properties that it was called with.
 */
export const JSX_RUNTIME_CODE = `
import { Fragment, jsxDEV as made } from '${JSX_RUNTIME}'
const usages = (globalThis.${USAGES} ??= new WeakMap())
export { Fragment }
export function jsxDEV(type, props, ...more) {
  if (typeof type === 'string' || !props || !('${STAMP_ATTRIBUTE}' in props)) return made(type, props, ...more)
  const { '${STAMP_ATTRIBUTE}': stamp, ...own } = props
  const element = made(type, own, ...more)
  usages.set(element.props, stamp)
  return element
}
`
