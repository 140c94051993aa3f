'use client'
import { createTheme, CssBaseline, ThemeProvider } from '@mui/material'
import type { ReactNode } from 'react'

const shared = { fontFamily: 'var(--text-font)' }

/** The colours of DESIGN section 3; the same hues stand as custom properties in `globals.css` for what MUI does not draw. */
const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#0f5b66' },
        error: { main: '#b23c26' },
        success: { main: '#406c31' },
        warning: { main: '#8a5d08' },
        background: { default: '#f4f1ea', paper: '#fbf9f4' },
        text: { primary: '#1d2b2f', secondary: '#5c6663' },
        divider: '#d9d3c5',
      },
    },
    dark: {
      palette: {
        primary: { main: '#7cc0c8' },
        error: { main: '#ec8a72' },
        success: { main: '#9ac586' },
        warning: { main: '#d9a950' },
        background: { default: '#141c1e', paper: '#1b2527' },
        text: { primary: '#e9e5db', secondary: '#a5afab' },
        divider: '#36454a',
      },
    },
  },
  typography: { ...shared, fontSize: 13, button: { textTransform: 'none', fontWeight: 600 } },
  shape: { borderRadius: 4 },
  components: {
    MuiButton: { defaultProps: { disableElevation: true, size: 'small' } },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiTooltip: { defaultProps: { arrow: true, enterDelay: 500 } },
  },
})

export function StudioTheme({ children }: { children: ReactNode }) {
  return (
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      {children}
    </ThemeProvider>
  )
}
