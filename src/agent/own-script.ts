import { INTERFACE_ATTRIBUTE } from '../core/html'

/** Whether an element is the agent's own script, which is not of the page. */
export const isOurs = (e: Element): boolean => e.localName === 'script' && e.hasAttribute(INTERFACE_ATTRIBUTE)
