/** Documents of the page: its own and those of the frames it may look into. */
export function documentsOf(root: Document): Document[] {
  const out = [root]
  for (const doc of out) {
    for (const frame of doc.querySelectorAll<HTMLIFrameElement>('iframe, frame')) {
      const inner = innerDocument(frame)
      if (inner?.documentElement) out.push(inner)
    }
  }
  return out
}

/** The document of a frame of the same origin; null for any other. */
export function innerDocument(frame: HTMLIFrameElement): Document | null {
  try {
    return frame.contentDocument
  } catch {
    return null
  }
}

export const frameOf = (doc: Document): Element | null => {
  try {
    return doc.defaultView?.frameElement ?? null
  } catch {
    return null
  }
}
