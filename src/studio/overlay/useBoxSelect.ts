import { useRef, useState, type PointerEvent } from 'react'
import { useSession } from '../ui/SessionContext'

interface Drawn {
  readonly x: number
  readonly y: number
  readonly toX: number
  readonly toY: number
}

/** With Shift held, a drag draws a box, and what stands in it is chosen too. Screen px from the overlay's corner. */
export function useBoxSelect(scale: number) {
  const { session } = useSession()
  const [box, setBox] = useState<Drawn | null>(null)
  /** A drag ends with a click, which is then no pick. */
  const taken = useRef(false)
  const at = (e: PointerEvent) => {
    const r = e.currentTarget.getBoundingClientRect()
    return { x: e.clientX - r.left, y: e.clientY - r.top }
  }
  const area = box && {
    left: Math.min(box.x, box.toX),
    top: Math.min(box.y, box.toY),
    width: Math.abs(box.toX - box.x),
    height: Math.abs(box.toY - box.y),
  }
  return {
    area: area && area.width + area.height >= 8 ? area : null,
    down: (e: PointerEvent) => {
      taken.current = false
      if (!e.shiftKey || e.button !== 0) return
      e.currentTarget.setPointerCapture(e.pointerId)
      const { x, y } = at(e)
      setBox({ x, y, toX: x, toY: y })
    },
    /** Whether the move belongs to a box. */
    move: (e: PointerEvent): boolean => {
      if (!box) return false
      const { x, y } = at(e)
      setBox({ ...box, toX: x, toY: y })
      return true
    },
    up: () => {
      setBox(null)
      if (!area || area.width + area.height < 8) return
      taken.current = true
      void session.selection.pickBox(area.left / scale, area.top / scale, area.width / scale, area.height / scale, true)
    },
    cancel: () => setBox(null),
    tookClick: () => taken.current,
  }
}
