/** The attribute of the agent's own script that says which interface it speaks with. */
export const INTERFACE_ATTRIBUTE = 'data-studio'

/** Whether an element is the agent's own script, which is not of the page. */
export const isOurs = (e: Element): boolean => e.localName === 'script' && e.hasAttribute(INTERFACE_ATTRIBUTE)
