import { useEffect, useRef, useState } from 'react'
import { useStudio } from '../store'

/** How long edits rest before the page is looked at again; ms. */
const REST = 700

/** What is asked of the page, or of all of the project: when it is first shown, and again once that has become another. */
export function useLook<T>(
  look: () => Promise<T | null>,
  of: 'page' | 'project',
): { readonly found: T | null; readonly isLooking: boolean } {
  const address = useStudio((s) => s.address)
  const revision = useStudio((s) => s.revision)
  const isThere = useStudio((s) => of === 'project' || s.connected)
  const now = of === 'project' ? String(revision) : `${address} ${revision}`
  const [last, setLast] = useState<{ readonly of: string; readonly found: T | null } | null>(null)
  const hasLooked = useRef(false)
  useEffect(() => {
    if (!isThere) return
    let isWanted = true
    const timer = setTimeout(
      () => {
        // What fails has found nothing: a page may keep scripts from being loaded.
        hasLooked.current = true
        void look()
          .catch(() => null)
          .then((found) => isWanted && setLast({ of: now, found }))
      },
      hasLooked.current ? REST : 0,
    )
    return () => {
      isWanted = false
      clearTimeout(timer)
    }
  }, [look, now, isThere])
  return { found: last?.found ?? null, isLooking: last?.of !== now }
}
