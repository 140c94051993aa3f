'use client'
import { useStudio } from '../store'
import styles from './Overlay.module.css'

/** Where what is dragged would land on the page: a bar between two elements, or the element that it goes into; and in words. */
export function DropMark({ scale, width: room }: { scale: number; width: number }) {
  const drop = useStudio((s) => s.drop)
  if (!drop?.mark) return null
  const { x, y, width, height } = drop.mark
  const box = {
    left: x * scale,
    top: y * scale,
    width: Math.max(3, width * scale),
    height: Math.max(3, height * scale),
  }
  return (
    <>
      <div
        className={styles.dropMark}
        data-within={drop.within || undefined}
        data-refused={!drop.place || undefined}
        style={box}
        data-testid="drop-mark"
      />
      <div
        className={styles.dropWords}
        data-refused={!drop.place || undefined}
        style={{
          ...(box.left > (room * scale) / 2
            ? { right: Math.max(4, room * scale - box.left - box.width) }
            : { left: Math.max(4, box.left) }),
          top: Math.max(4, box.top - 26),
        }}
        data-testid="drop-words"
      >
        {drop.place ? drop.words : `Not here: ${drop.words}`}
      </div>
    </>
  )
}
