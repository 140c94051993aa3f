/** Text as it stands in the source: `<` and what would be read as a character reference are escaped, other characters stay (HTML §13.1.2). */
export const escapeText = (text: string): string =>
  text
    .replace(/&(?=#|[a-z])/gi, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/\u00a0/g, '&nbsp;')

/** `value` as it stands between `quote`s (HTML §13.1.2.3); only what has to be escaped is. */
export function escapeAttribute(value: string, quote: '"' | "'" | ''): string {
  // An ampersand is ambiguous only where a character reference could be read.
  const amp = value.replace(/&(?=#|[a-z])/gi, '&amp;')
  return quote === "'" ? amp.replace(/'/g, '&#39;') : amp.replace(/"/g, '&quot;')
}
