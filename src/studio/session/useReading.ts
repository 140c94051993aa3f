import { useEffect, useEffectEvent, useState } from 'react'
import { useStudio } from '../store'

/**
 * What the desk says, read again for another `key` and after each edit, which may have changed it; null until it is known.
 * With `keep`, what was known for the key before stays until then.
 */
export function useReading<T>(key: string, read: () => Promise<T> | null, keep = false): T | null {
  const revision = useStudio((s) => s.revision)
  const [told, setTold] = useState<{ key: string; revision: number; value: T } | null>(null)
  const ask = useEffectEvent(read)
  useEffect(() => {
    let current = true
    void ask()?.then((value) => current && setTold({ key, revision, value }))
    return () => {
      current = false
    }
  }, [key, revision])
  return told && (keep || told.key === key) ? told.value : null
}
