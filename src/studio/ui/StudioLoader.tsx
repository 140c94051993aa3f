'use client'
import dynamic from 'next/dynamic'
import { theDesk } from '../../desk'

/** The interface lives in the browser alone: its data is there. */
const Studio = dynamic(
  () => {
    // Its code is read by another thread while the interface's is read here.
    theDesk()
    return import('./Studio').then((m) => m.Studio)
  },
  {
    ssr: false,
    loading: () => <main style={{ padding: 24 }}>Opening Steady Brush…</main>,
  },
)

export function StudioLoader({ liveOrigin }: { liveOrigin: string }) {
  return <Studio liveOrigin={liveOrigin} />
}
