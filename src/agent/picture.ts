import { domToBlob } from 'modern-screenshot'
import { isOurs } from './own-script'
import type { Picture } from './protocol'

/** The most pixels that a picture has; a larger element is drawn smaller. */
const MOST_PIXELS = 4_000_000

/** How long a file of the picture, such as an image, is waited for; ms. */
const PATIENCE = 5000

/** Draws an element with what is in it, as PNG. Frames of other origins and what the engine does not let be read stay empty. */
export async function pictureOf(element: Element): Promise<Picture> {
  const { width, height } = element.getBoundingClientRect()
  if (width < 1 || height < 1) return { ok: false, why: 'The element takes no room on the page.' }
  const scale = Math.min(devicePixelRatio, Math.sqrt(MOST_PIXELS / (width * height)))
  const blob = await domToBlob(element, {
    type: 'image/png',
    scale,
    timeout: PATIENCE,
    filter: (node) => !(node instanceof Element && isOurs(node)),
  })
  return { ok: true, png: new Uint8Array(await blob.arrayBuffer()), width, height }
}
