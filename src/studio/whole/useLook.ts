import { useEffect, useRef, useState } from 'react'
import { useStudio } from '../store'

/** How long edits rest before the page is looked at again; ms. */
const REST = 700

/** What is asked of the page as a whole: when it is first shown, and again once it, or what is written, has become another. */
export function useLook<T>(look: () => Promise<T | null>): { readonly found: T | null; readonly isLooking: boolean } {
  const address = useStudio((s) => s.address)
  const revision = useStudio((s) => s.revision)
  const connected = useStudio((s) => s.connected)
  const now = `${address} ${revision}`
  const [last, setLast] = useState<{ readonly of: string; readonly found: T | null } | null>(null)
  const hasLooked = useRef(false)
  useEffect(() => {
    if (!connected) return
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
  }, [look, now, connected])
  return { found: last?.found ?? null, isLooking: last?.of !== now }
}
