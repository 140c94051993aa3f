/** The text of an attribute between quotes: references stand for what would end it or be read as one (JSX specification, JSXString). */
export const attributeText = (value: string, quote: '"' | "'"): string =>
  value.replace(/&(?=#|[a-z])/gi, '&amp;').replaceAll(quote, quote === '"' ? '&quot;' : '&#39;')

/** The text of a string of the script between quotes. */
export const stringText = (value: string, quote: '"' | "'"): string =>
  value.replaceAll('\\', '\\\\').replaceAll(quote, `\\${quote}`).replaceAll('\n', '\\n').replaceAll('\r', '\\r')

/** The text of a template, outside of what it works out. */
export const templateText = (value: string): string => value.replaceAll('\\', '\\\\').replaceAll('`', '\\`').replaceAll('${', '\\${')
