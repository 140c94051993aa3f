import { useColorScheme } from '@mui/material'
import { useEffect } from 'react'
import { useStudio } from '../store'

/** Has the window follow the person's choices of theme and motion. */
export function useAppearance(): void {
  const { setMode } = useColorScheme()
  const theme = useStudio((s) => s.preferences.theme)
  const motion = useStudio((s) => s.preferences.motion)
  useEffect(() => {
    setMode(theme)
  }, [theme, setMode])
  useEffect(() => {
    document.documentElement.dataset.motion = motion
  }, [motion])
}
