/** The attribute that ties an element of the live page to its element in the source: `<file key>.<element id>`. */
export const ID_ATTRIBUTE = 'data-steady'

/** The attribute of the agent's own script that says which interface it speaks with. */
export const INTERFACE_ATTRIBUTE = 'data-studio'
