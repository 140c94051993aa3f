import { useEffect, useState } from 'react'
import { useStudio } from '../store'

/** How long the first paint of a page that answers is waited for: an empty one has none; ms. */
const PATIENCE = 1000

/** Whether the page is on the screen. What only works on one is loaded after it, and before it is asked for. */
export function usePageShown(): boolean {
  const connected = useStudio((s) => s.connected)
  const painted = useStudio((s) => s.painted)
  const [shown, setShown] = useState(false)
  if (connected && painted && !shown) setShown(true)
  useEffect(() => {
    if (!connected || shown) return
    const timer = setTimeout(() => setShown(true), PATIENCE)
    return () => clearTimeout(timer)
  }, [connected, shown])
  return shown
}
