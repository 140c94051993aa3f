import { splitTop, trimTrivia } from './scan'

/** The complex selectors of a selector list, without outer space and comments. */
export const splitSelectors = (prelude: string): string[] =>
  !prelude.includes(',') && !prelude.includes('/*')
    ? [prelude.trim()]
    : splitTop(prelude, 0, prelude.length, ',').map(({ from, to }) => {
        const part = trimTrivia(prelude, from, to)
        return prelude.slice(part.from, part.to)
      })
