import { useEffect } from 'react'
import { getStudio, setStudio } from '../store'
import { useSession } from './SessionContext'
import { SHORTCUTS } from './shortcuts'

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    /^(input|textarea|select)$/i.test(target.tagName) ||
    target.closest('[role="slider"], [role="menu"], [role="dialog"], [role="radiogroup"], [role="tree"], .cm-editor') !== null)

/** Undo and redo anywhere; the other keys while nothing is being typed. */
export function useShortcuts(): void {
  const { session } = useSession()
  useEffect(() => {
    const held = new Set<string>()
    const onDown = (e: KeyboardEvent) => {
      const key = e.key.toLowerCase()
      const inField = e.target instanceof HTMLInputElement && e.target.type === 'text' && e.target.value !== e.target.defaultValue
      if ((e.ctrlKey || e.metaKey) && !e.altKey && (key === 'z' || key === 'y')) {
        if (inField) return
        e.preventDefault()
        void session.timeline.step(key === 'y' || e.shiftKey ? 'redo' : 'undo')
        return
      }
      // Its own fields may have gone from under the keyboard.
      const { inserting, head, keys, drawing, dialog, naming, composing, findingRow } = getStudio()
      if (inserting || head || keys || drawing || dialog || naming || composing || findingRow) {
        if (key === 'escape' || (keys && key === '?'))
          setStudio({
            inserting: false,
            head: false,
            keys: false,
            drawing: null,
            dialog: null,
            naming: false,
            composing: false,
            findingRow: false,
          })
        return
      }
      if (isTyping(e.target)) return
      // Enter on a button presses it.
      if (e.ctrlKey || e.metaKey || (key === 'enter' && e.target instanceof HTMLElement && e.target.closest('button, a') !== null)) return
      const found = SHORTCUTS.find((s) => s.key === key && Boolean(s.alt) === e.altKey)
      const { picked, mode } = getStudio()
      if (!found || (found.chosen && (!picked || mode !== 'pick'))) return
      e.preventDefault()
      if (found.hold) {
        if (held.has(key)) return
        held.add(key)
      }
      found.run(session, true)
    }
    const letGo = (key: string) => {
      if (!held.delete(key)) return
      SHORTCUTS.find((s) => s.key === key)!.run(session, false)
    }
    const onUp = (e: KeyboardEvent) => letGo(e.key.toLowerCase())
    // Text that is marked in the window is copied as text.
    const onClipboard = (e: ClipboardEvent) => {
      const { picked, mode } = getStudio()
      if (!picked || mode !== 'pick' || isTyping(e.target) || (e.type !== 'paste' && getSelection()?.isCollapsed === false)) return
      e.preventDefault()
      if (e.type === 'paste') void session.structure.paste(e.clipboardData?.getData('text/plain') || undefined)
      else void session.structure[e.type === 'cut' ? 'cut' : 'copy']()
    }
    // A window that is left hears no key come up.
    const onBlur = () => [...held].forEach(letGo)
    addEventListener('keydown', onDown)
    addEventListener('keyup', onUp)
    addEventListener('blur', onBlur)
    for (const type of ['copy', 'cut', 'paste'] as const) document.addEventListener(type, onClipboard)
    return () => {
      for (const type of ['copy', 'cut', 'paste'] as const) document.removeEventListener(type, onClipboard)
      removeEventListener('keydown', onDown)
      removeEventListener('keyup', onUp)
      removeEventListener('blur', onBlur)
    }
  }, [session])
}
