import { isStyleModule, type HouseStyle, type Sheet } from '../css'

/** A style sheet wherever it stands: a file, or the text of a `<style>` element. */
export interface SheetRef {
  /** The path of its file, with `?style=` and the place of a component's style block, `#` and the source of its element, or `=` and the path of a file that another sheet is served in the place of. */
  readonly key: string
  readonly path: string
  readonly sheet: Sheet
  readonly style: HouseStyle
  /** What to add to the sheet's offsets to get offsets of the file. */
  readonly base: number
  /** What the sheet was worked out from, when it is no file of the project and so cannot be edited; else null. */
  readonly generated: string | null
}

/** Whether a sheet is what a compiler of utility classes wrote: its banner says so. The next build writes it again. */
export const isOfUtilities = (sheet: Sheet): boolean => /^\s*\/\*!\s*tailwindcss\b/i.test(sheet.slice(0, 200))

/** Whether a sheet is one where an author writes nothing: in a folder of packages, or compiled. */
export const isVendored = ({ path, sheet }: Pick<SheetRef, 'path' | 'sheet'>): boolean =>
  isOfUtilities(sheet) || /(^|\/)(vendors?|node_modules|bower_components|third-?party)\//i.test(path)

/** Whether a sheet's class names are those of its module alone (CSS Modules), or its rules those of its component. */
export const isScopedSheet = ({ path }: Pick<SheetRef, 'path'>): boolean => isStyleModule(path) || /\.(vue|svelte|astro)$/i.test(path)

/** Whether a sheet came with what the project uses, and is not written by hand: kept in a folder for such, or made smaller for serving. */
export const isLibrary = ({ path, sheet }: Pick<SheetRef, 'path' | 'sheet'>): boolean =>
  isVendored({ path, sheet }) ||
  /[.-]min\.css$|(^|\/)(normalize|sanitize|bootstrap(-grid|-reboot|-utilities)?|bulma|foundation|font-?awesome|animate|swiper|leaflet)\.css$/i.test(
    path,
  )
