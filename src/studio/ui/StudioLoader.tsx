'use client'
import dynamic from 'next/dynamic'

/** The interface lives in the browser alone: its data is there. */
const Studio = dynamic(() => import('./Studio').then((m) => m.Studio), {
  ssr: false,
  loading: () => <main style={{ padding: 24 }}>Opening Steady Brush…</main>,
})

export function StudioLoader({ liveOrigin }: { liveOrigin: string }) {
  return <Studio liveOrigin={liveOrigin} />
}
