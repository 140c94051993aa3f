import { STAMP_ATTRIBUTE, stampText } from '../html'
import { textMark } from '../text'
import { jsxTags } from './tags'

// An attribute's text in JSX ends at its quote, and has no escapes but character references (JSX specification, JSXString).
const inQuotes = (text: string): string => `"${text.replaceAll('&', '&amp;').replaceAll('"', '&quot;')}"`

/**
 * The text of a file with a stamp on each tag of an element of the page, for the compiler and not for the file: on the same
 * lines, after all other attributes, so that none that is spread takes its place. @throws SyntaxError where it cannot be read.
 */
export function stampTags(text: string, path: string): string {
  const mark = textMark(text)
  const stamps = jsxTags(text, path).flatMap(({ isHost, end }, nth) =>
    isHost ? [{ end, text: ` ${STAMP_ATTRIBUTE}=${inQuotes(stampText({ path, nth, mark }))}` }] : [],
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
