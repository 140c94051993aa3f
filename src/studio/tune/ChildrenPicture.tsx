import type { CSSProperties } from 'react'
import type { PickReport } from '../../agent/protocol'
import styles from './Rows.module.css'

const WIDTH = 34
const HEIGHT = 24
const MOST = 3

const camel = (name: string) => name.replace(/-(\w)/g, (_, c: string) => c.toUpperCase())

/** How the container would stand with one value: a small box with the element's own children, at their own proportions. */
export function ChildrenPicture({ report, property, value }: { report: PickReport; property: string; value: string }) {
  const { children } = report.facts
  const { w, h } = report.geometry.boxes[0] ?? { w: 100, h: 60 }
  const isText = property === 'text-align'
  const shown = children.slice(0, MOST)
  // Wide rows keep their widths comparable, tall ones their heights; every child stays visible.
  const scale = Math.min(WIDTH / Math.max(w, 1), HEIGHT / Math.max(h, 1), 0.25)
  const size = (n: number, most: number) => Math.max(4, Math.min(most, n * scale))
  const { computed } = report
  const style: CSSProperties = {
    display: /grid/.test(computed.display ?? '') ? 'grid' : 'flex',
    flexDirection: computed['flex-direction'] as CSSProperties['flexDirection'],
    flexWrap: computed['flex-wrap'] as CSSProperties['flexWrap'],
    justifyContent: computed['justify-content'],
    alignItems: computed['align-items'],
    alignContent: computed['align-content'],
    gridTemplateColumns: /grid/.test(computed.display ?? '')
      ? `repeat(${Math.max(1, Math.min(3, (computed['grid-template-columns'] ?? '').split(' ').length))}, auto)`
      : undefined,
    gap: 2,
    [camel(property)]: value,
  }
  return (
    <span className={styles.picture} aria-hidden="true" style={isText ? undefined : style}>
      {isText
        ? [26, 18, 22].map((width, i) => (
            <i
              key={i}
              className={styles.line}
              style={{
                width,
                alignSelf: { start: 'flex-start', center: 'center', end: 'flex-end' }[value] ?? 'stretch',
              }}
            />
          ))
        : (shown.length
            ? shown
            : [
                { w: 30, h: 20 },
                { w: 50, h: 30 },
                { w: 30, h: 20 },
              ]
          ).map((c, i) => <i key={i} style={{ width: size(c.w, 9), height: size(c.h, 8) - (i % 2 ? 1.5 : 0) }} />)}
    </span>
  )
}
