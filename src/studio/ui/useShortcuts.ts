import { useEffect } from 'react'
import { getStudio } from '../store'
import { useSession } from './SessionContext'

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(input|textarea|select)$/i.test(target.tagName) || target.closest('[role="slider"], [role="menu"], [role="dialog"], .cm-editor') !== null)

/** Undo and redo anywhere; walking the tree while nothing is being typed. */
export function useShortcuts(): void {
  const { session } = useSession()
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase()
      const inField = e.target instanceof HTMLInputElement && e.target.type === 'text' && e.target.value !== e.target.defaultValue
      if ((e.ctrlKey || e.metaKey) && !e.altKey && (key === 'z' || key === 'y')) {
        if (inField) return
        e.preventDefault()
        void session.edits.step(key === 'y' || e.shiftKey ? 'redo' : 'undo')
        return
      }
      if (isTyping(e.target) || e.ctrlKey || e.metaKey || e.altKey) return
      const { picked, mode } = getStudio()
      if (key === 'p') session.setMode('pick')
      else if (key === 'u') session.setMode('use')
      else if (mode !== 'pick' || !picked) return
      else if (key === 'escape') session.selection.letGo()
      else if (key === 'arrowup') void session.selection.walk('parent')
      else if (key === 'arrowdown') void session.selection.walk('child')
      else if (key === 'arrowright') void session.selection.walk('next')
      else if (key === 'arrowleft') void session.selection.walk('previous')
      else return
      e.preventDefault()
    }
    addEventListener('keydown', onKey)
    return () => removeEventListener('keydown', onKey)
  }, [session])
}
