import { STAMP_ATTRIBUTE, stampText } from '../html'
import { textMark } from '../text'
import { jsxTags } from './tags'

// An attribute's text in JSX ends at its quote, and has no escapes but character references (JSX specification, JSXString).
const inQuotes = (text: string): string => `"${text.replaceAll('&', '&amp;').replaceAll('"', '&quot;')}"`

/** Components of React itself, which take no property that they do not know. */
const BARE: ReadonlySet<string> = new Set(['Fragment', 'StrictMode', 'Suspense', 'Profiler', 'Activity', 'ViewTransition'])
export const isBare = (name: string): boolean => BARE.has(name.replace(/^React\./, ''))

/**
 * The text of a file with a stamp on each tag of an element and of a component, for the compiler and not for the file: on the same
 * lines, after all other attributes, so that none that is spread takes its place. @throws SyntaxError where it cannot be read.
 */
export function stampTags(text: string, path: string): string {
  const mark = textMark(text)
  const stamps = jsxTags(text, path).flatMap(({ name, end }, nth) =>
    !isBare(name) ? [{ end, text: ` ${STAMP_ATTRIBUTE}=${inQuotes(stampText({ path, nth, mark }))}` }] : [],
  )
  let out = ''
  let at = 0
  // A tag may stand in an attribute of another, and ends before that one does.
  for (const stamp of stamps.sort((a, b) => a.end - b.end)) {
    out += text.slice(at, stamp.end) + stamp.text
    at = stamp.end
  }
  return out + text.slice(at)
}
