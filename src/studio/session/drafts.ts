import { diffSplice } from '../../core/text'
import { getStudio, setStudio, type Draft } from '../store'

/** Text typed in Source that cannot be read: kept beside its file, and taken back before any edit is undone. */
export class Drafts {
  private settle: () => Promise<void> = async () => {}

  /** `settle` writes what was typed a moment ago, or makes it a draft; answers what ends that. */
  onTyping(settle: () => Promise<void>): () => void {
    this.settle = settle
    return () => {
      if (this.settle === settle) this.settle = async () => {}
    }
  }

  /** Ends once nothing typed waits to be written. */
  settled(): Promise<void> {
    return this.settle()
  }

  keep(path: string, draft: Draft): void {
    setStudio({ drafts: new Map(getStudio().drafts).set(path, draft) })
  }

  drop(path: string): void {
    const drafts = new Map(getStudio().drafts)
    if (drafts.delete(path)) setStudio({ drafts })
  }

  /** Takes the draft of the file on show back, else the last one made; whether there was one. */
  takeBack(): boolean {
    const { drafts, source } = getStudio()
    const path = source && drafts.has(source.path) ? source.path : [...drafts.keys()].at(-1)
    if (path === undefined) return false
    this.drop(path)
    return true
  }
}

/** A draft on a file that was edited elsewhere meanwhile; as it was, where both are of the same place. */
export function onto(draft: Draft, now: string): Draft {
  const other = diffSplice(draft.base, now)
  const own = diffSplice(draft.base, draft.text)
  if (!other || !own) return { ...draft, base: other ? now : draft.base, text: own ? draft.text : now }
  if (own.to < other.from)
    return {
      ...draft,
      base: now,
      text:
        draft.text.slice(0, other.from + own.insert.length - (own.to - own.from)) +
        other.insert +
        draft.text.slice(other.to + own.insert.length - (own.to - own.from)),
    }
  if (other.to < own.from) return { ...draft, base: now, text: draft.text.slice(0, other.from) + other.insert + draft.text.slice(other.to) }
  return draft
}
