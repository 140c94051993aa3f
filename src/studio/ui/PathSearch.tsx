'use client'
import { lazy, Suspense, type ComponentProps } from 'react'

/** With more paths than this, they are searched and not listed in full. */
export const MANY_PATHS = 200

// Few projects have so many.
const PathMenu = lazy(() => import('./PathMenu').then((m) => ({ default: m.PathMenu })))

/** A choice among many paths, by what is typed. */
export const PathSearch = (props: ComponentProps<typeof PathMenu>) => (
  <Suspense fallback={null}>
    <PathMenu {...props} />
  </Suspense>
)
