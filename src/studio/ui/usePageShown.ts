import { useState } from 'react'
import { useStudio } from '../store'

/** Whether the page has answered once. What only works on one is loaded after it, and before it is asked for. */
export function usePageShown(): boolean {
  const connected = useStudio((s) => s.connected)
  const [shown, setShown] = useState(connected)
  if (connected && !shown) setShown(true)
  return shown
}
