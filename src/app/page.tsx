import { connection } from 'next/server'
import { liveOriginTemplate } from '@/live/origin'
import { StudioLoader } from '@/studio/ui/StudioLoader'

export default async function Page() {
  // Read when the page is asked for: the live origin is set where the server runs, not where it was built.
  await connection()
  return <StudioLoader liveOrigin={liveOriginTemplate()} />
}
