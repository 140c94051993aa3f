import { measureHouseStyle, Sheet, type HouseStyle } from '../css'
import { isCssBlock, styleBlocks } from '../sfc'
import { applySplices, LineIndex, type Span, type Splices } from '../text'
import type { Applied, AppliedForNow, SheetPart, SourceFile, SourceLanguage } from './language'

interface StylePart extends SheetPart {
  readonly element: number
  readonly style: HouseStyle
  base: number
}

/** A component of one file, of which the style blocks are read: each by the number that its compiler has for it. */
class ComponentFile implements SourceFile {
  readonly tree = null
  private parts: readonly StylePart[] = []

  constructor(
    public text: string,
    private readonly path: string,
  ) {
    this.readSheets()
  }

  slice({ from, to }: Span): string {
    return this.text.slice(from, to)
  }

  lineAt(offset: number): number {
    return new LineIndex(this.text).lineAt(offset)
  }

  sheets(): readonly SheetPart[] {
    return this.parts
  }

  apply(splices: Splices): Applied {
    const inside = this.parts.find(({ base, sheet }) => splices.every((s) => s.from >= base && s.to <= base + sheet.length))
    this.text = applySplices(this.text, splices)
    // Ids of rules last through what is edited in their block.
    inside?.sheet.apply(splices.map((s) => ({ ...s, from: s.from - inside.base, to: s.to - inside.base })))
    const sheets = this.readSheets()
    return { sheets: inside ? [...new Set([inside.element, ...sheets])] : sheets, attributes: [], texts: [], structure: !inside }
  }

  applyForNow(splices: Splices): AppliedForNow {
    const { text, parts } = this
    const before = parts.map((part) => ({ part, base: part.base, takeBack: part.sheet.mark() }))
    return {
      applied: this.apply(splices),
      takeBack: () => {
        this.text = text
        this.parts = parts
        for (const { part, base, takeBack } of before) {
          takeBack()
          part.base = base
        }
      },
    }
  }

  published(): null {
    return null
  }

  /** Reads the style blocks; gives those that hold another text than before. */
  private readSheets(): number[] {
    const changed: number[] = []
    this.parts = styleBlocks(this.path, this.text).flatMap(({ block, nth: element }) => {
      if (!isCssBlock(block)) return []
      const { from, to } = block.content
      const known = this.parts.find((p) => p.element === element)
      const text = this.text.slice(from, to)
      if (known?.sheet.text === text) {
        known.base = from
        return [known]
      }
      if (known) changed.push(element)
      const sheet = new Sheet(text)
      return [{ element, sheet, style: measureHouseStyle(sheet), base: from }]
    })
    return changed
  }
}

/** Vue's single-file components (Vue: SFC syntax), Svelte's and Astro's: text with style sheets in it. */
export const COMPONENT: SourceLanguage = {
  mayHoldSheets: (text) => /<style/i.test(text),
  read: (text, path) => new ComponentFile(text, path),
}
