import axe from 'axe-core'
import { isOurs } from './own-script'
import { MOST_OF_A_RULE, type Finding } from './protocol'

/** Success criteria of levels A and AA (WCAG 2.2). */
const LEVELS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

/** What one of the checks found, with its element. */
export type ElementFinding = Omit<Finding, 'info'> & { readonly element: Element }

interface ContrastData {
  readonly bgColor?: string
  readonly expectedContrastRatio?: string
}

const contrastOf = (data: ContrastData | null): Finding['contrast'] => {
  const wanted = parseFloat(data?.expectedContrastRatio ?? '')
  return data?.bgColor && wanted > 0 ? { ground: data.bgColor, wanted } : null
}

/** Looks through the page for what WCAG 2.2 asks for and it does not do. Frames are not looked into. */
export async function findingsOf(root: Document): Promise<readonly ElementFinding[]> {
  const { violations } = await axe.run(root, {
    runOnly: { type: 'tag', values: LEVELS },
    resultTypes: ['violations'],
    elementRef: true,
    // It would put a script of its own into frames.
    iframes: false,
  })
  return violations.flatMap(({ id, help, impact, nodes }) =>
    nodes.slice(0, MOST_OF_A_RULE).flatMap(({ element, any, all, none }): ElementFinding[] => {
      if (!element || isOurs(element)) return []
      const checks = [...any, ...all, ...none]
      return [
        {
          element,
          rule: id,
          impact: impact ?? 'moderate',
          help,
          why: [...new Set(checks.map((c) => c.message))].join('. '),
          contrast: contrastOf((any.find((c) => c.id === 'color-contrast')?.data as ContrastData | undefined) ?? null),
        },
      ]
    }),
  )
}
