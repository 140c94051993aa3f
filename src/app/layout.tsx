import '@fontsource-variable/source-sans-3'
import '@fontsource/source-code-pro/400.css'
import './globals.css'
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter'
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript'
import type { Metadata } from 'next'
import type { ReactNode } from 'react'
import { StudioTheme } from '@/studio/ui/StudioTheme'

export const metadata: Metadata = {
  title: 'Steady Brush',
  description: 'Adjust a live page; every change is an edit of its source.',
  icons: { icon: '/mark.svg' },
}

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    // The scheme is set before the first paint, which the server cannot know of.
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-theme" defaultMode="system" />
        <AppRouterCacheProvider>
          <StudioTheme>{children}</StudioTheme>
        </AppRouterCacheProvider>
      </body>
    </html>
  )
}
