import { parseColor } from '../../core/value'
import type { Sketch } from '../../agent/protocol'

// Colours come from the page, which is not trusted: what is none is left out.
const safe = (color: string): string => (parseColor(color) ? color.replace(/["<>&]/g, '') : 'none')

/** A sketch as an SVG of its own (SVG 2). */
export function pictureOf({ width, height, ground, boxes }: Sketch): string {
  const n = (x: number) => Number(x.toFixed(1))
  const rects = boxes
    .map(
      (b) =>
        `<rect x="${n(b.x)}" y="${n(b.y)}" width="${n(b.w)}" height="${n(b.h)}" rx="${n(Math.min(b.round, b.w / 2, b.h / 2))}" fill="${safe(b.fill)}"/>`,
    )
    .join('')
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(width)} ${n(height)}" preserveAspectRatio="xMidYMin slice"><rect width="100%" height="100%" fill="${safe(ground)}"/>${rects}</svg>`
}
