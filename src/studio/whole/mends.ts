import type { Finding } from '../../agent/protocol'
import { formatColor, nearestPassing, notationOf, parseColor, PLAIN_NOTATION } from '../../core/value'
import type { Session } from '../session/session'
import { getStudio } from '../store'

/** The least size of a target (WCAG 2.2 §2.5.8); px. */
const LEAST_TARGET = '24px'

/** What a finding is mended by: in words, and as an edit. */
interface Mend {
  readonly words: string
  readonly make: () => Promise<boolean>
}

/** What mends a finding of the chosen element; null where that is for a person to decide. */
export function mendFor({ edits }: Session, { info, rule, contrast }: Finding): Mend | null {
  const { picked } = getStudio()
  if (picked?.report.info.node !== info.node) return null
  const { computed } = picked.report
  if (rule === 'color-contrast' && contrast) {
    const [text, ground] = [parseColor(computed.color ?? ''), parseColor(picked.report.facts.backdrop ?? contrast.ground)]
    const better = text && ground && nearestPassing(text, ground, contrast.wanted)
    if (!better) return null
    const written = picked.aims.get('color')?.written ?? ''
    const value = formatColor(better, parseColor(written) ? notationOf(written) : PLAIN_NOTATION)
    return { words: `color: ${value}`, make: () => edits.commit('color', value) }
  }
  if (rule === 'target-size' && computed.display !== 'inline')
    return {
      words: `min-width and min-height: ${LEAST_TARGET}`,
      make: () =>
        edits.commitAll(
          [
            ['min-width', LEAST_TARGET],
            ['min-height', LEAST_TARGET],
          ],
          'a target’s least size',
        ),
    }
  const { source } = info
  if (rule === 'image-alt' && source !== null)
    return {
      words: 'It says nothing: alt=""',
      make: () => edits.onElement({ kind: 'set-attribute', source, name: 'alt', value: '' }),
    }
  return null
}
