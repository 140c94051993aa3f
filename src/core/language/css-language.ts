import { measureHouseStyle, Sheet, type HouseStyle } from '../css'
import type { Span, Splices } from '../text'
import type { Applied, AppliedForNow, SheetPart, SourceFile, SourceLanguage } from './language'

/** 1-based line of an offset in a sheet. */
export function lineInSheet(sheet: Sheet, offset: number): number {
  const statement = sheet.statementAt(offset)
  return statement ? sheet.lineAt(statement, offset - statement.start) : 1
}

class CssFile implements SourceFile {
  readonly tree = null
  private readonly sheet: Sheet
  private measured: HouseStyle | null = null
  private readonly part: SheetPart

  constructor(text: string) {
    this.sheet = new Sheet(text)
    const measure = () => (this.measured ??= measureHouseStyle(this.sheet))
    // Its style is measured when it is first asked for, which takes the sheet apart.
    this.part = {
      element: null,
      sheet: this.sheet,
      base: 0,
      get style() {
        return measure()
      },
    }
  }

  get text(): string {
    return this.sheet.text
  }

  slice(span: Span): string {
    return this.sheet.slice(span.from, span.to)
  }

  lineAt(offset: number): number {
    return lineInSheet(this.sheet, offset)
  }

  sheets(): readonly SheetPart[] {
    return [this.part]
  }

  apply(splices: Splices): Applied {
    this.sheet.apply(splices)
    return { sheets: [null], attributes: [], texts: [], structure: false }
  }

  applyForNow(splices: Splices): AppliedForNow {
    const takeBack = this.sheet.mark()
    return { applied: this.apply(splices), takeBack }
  }

  published(): null {
    return null
  }
}

/** CSS Syntax 3. */
export const CSS: SourceLanguage = { mayHoldSheets: () => true, read: (text) => new CssFile(text) }
