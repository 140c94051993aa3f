import { applySplices, LineIndex, type Span, type Splices } from '../text'
import type { Applied, AppliedForNow, SourceFile, SourceLanguage } from './language'

class TextFile implements SourceFile {
  readonly tree = null

  constructor(public text: string) {}

  slice({ from, to }: Span): string {
    return this.text.slice(from, to)
  }

  lineAt(offset: number): number {
    return new LineIndex(this.text).lineAt(offset)
  }

  sheets(): [] {
    return []
  }

  apply(splices: Splices): Applied {
    this.text = applySplices(this.text, splices)
    return { sheets: [], attributes: [], texts: [], structure: true }
  }

  applyForNow(splices: Splices): AppliedForNow {
    const { text } = this
    return {
      applied: this.apply(splices),
      takeBack: () => {
        this.text = text
      },
    }
  }

  published(): null {
    return null
  }
}

/** Text that is edited as it is typed, and not understood. */
export const PLAIN_TEXT: SourceLanguage = { mayHoldSheets: () => false, read: (text) => new TextFile(text) }
