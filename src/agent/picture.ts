import { domToBlob } from 'modern-screenshot'
import { isOurs } from './own-script'
import type { Picture, PictureFormat } from './protocol'

/** The most pixels that a picture has that somebody asked for, and one for an assistant; a larger element is drawn smaller. */
const MOST_PIXELS = 40_000_000
const MOST_FOR_ASSISTANTS = 4_000_000

/** How long a file of the picture, such as an image, is waited for; ms. */
const PATIENCE = 5000

/** Draws an element with what is in it, the whole of a page where that is its root; `wanted` is how many pixels a px is to have; null for the screen's own. Frames of other origins and what the engine does not let be read stay empty. */
export async function pictureOf(element: Element, format: PictureFormat, wanted: number | null): Promise<Picture> {
  const { width, height } = element.getBoundingClientRect()
  if (width < 1 || height < 1) return { ok: false, why: 'The element takes no room on the page.' }
  const most = wanted === null ? MOST_FOR_ASSISTANTS : MOST_PIXELS
  const scale = Math.min(wanted ?? devicePixelRatio, Math.sqrt(most / (width * height)))
  const blob = await domToBlob(element, {
    type: `image/${format}`,
    quality: 1,
    scale,
    timeout: PATIENCE,
    // What stands in a line would be drawn at its base line, and cut below.
    style: { verticalAlign: 'top' },
    filter: (node) => !(node instanceof Element && isOurs(node)),
  })
  return { ok: true, bytes: new Uint8Array(await blob.arrayBuffer()), width, height, scale }
}
