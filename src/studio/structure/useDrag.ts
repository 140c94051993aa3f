import { useEffect, useRef, type PointerEvent as ReactPointerEvent } from 'react'
import type { Drop } from '../session/drop'
import { getStudio, setStudio } from '../store'
import { useSession } from '../ui/SessionContext'

/** How far the pointer has to go before it is a drag; px. */
const START = 4
/** How often a pointer that rests is asked about; ms. */
const REST = 120

/**
 * Drags what is chosen: `at` says where it would land at a place of the window, in client px. Nothing is moved before it
 * is let go, and Escape ends it without. Gives what begins a drag.
 */
export function useDrag(at: (x: number, y: number) => Promise<Drop | null>): (e: ReactPointerEvent) => void {
  const { session } = useSession()
  const stop = useRef<() => void>(() => {})
  useEffect(() => () => stop.current(), [])

  return (down) => {
    if (down.button !== 0 || down.shiftKey) return
    const { clientX, clientY, pointerId } = down
    let dragging = false
    let latest: Promise<Drop | null> = Promise.resolve(null)
    const ask = (e: PointerEvent) => {
      latest = at(e.clientX, e.clientY)
      return latest.then((drop) => {
        if (drop && dragging) setStudio({ drop })
        return drop
      })
    }
    let repeating: ReturnType<typeof setInterval> | undefined
    const onMove = (e: PointerEvent) => {
      if (!dragging && Math.hypot(e.clientX - clientX, e.clientY - clientY) < START) return
      // What is pressed may be drawn again meanwhile; the window stays.
      if (!dragging) document.body.setPointerCapture(pointerId)
      dragging = true
      e.stopPropagation()
      void ask(e)
      // A pointer that rests is asked about too: what is under it may scroll.
      clearInterval(repeating)
      repeating = setInterval(() => void ask(e), REST)
    }
    const onUp = (e: PointerEvent) => {
      if (!dragging) return end()
      e.stopPropagation()
      // Where it was let go, not where it was asked about last.
      void ask(e).then((drop) => {
        const place = (drop ?? getStudio().drop)?.place
        end()
        if (place) void session.structure.move(place)
      })
      swallowClick()
    }
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== 'Escape') return
      e.stopPropagation()
      end()
    }
    const end = () => {
      dragging = false
      clearInterval(repeating)
      stop.current = () => {}
      setStudio({ drop: null })
      removeEventListener('pointermove', onMove, true)
      removeEventListener('pointerup', onUp, true)
      removeEventListener('pointercancel', end)
      removeEventListener('keydown', onKey, true)
    }
    stop.current()
    stop.current = end
    addEventListener('pointermove', onMove, true)
    addEventListener('pointerup', onUp, true)
    addEventListener('pointercancel', end)
    addEventListener('keydown', onKey, true)
  }
}

// A drag ends with a click on what both its ends are in, which is no click of anybody's.
function swallowClick(): void {
  const onClick = (e: MouseEvent) => e.stopPropagation()
  addEventListener('click', onClick, { capture: true, once: true })
  setTimeout(() => removeEventListener('click', onClick, true), 50)
}
