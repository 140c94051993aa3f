import { isPreprocessed, isStyleModule, readBundledPart } from '../core/css'
import { ID_ATTRIBUTE } from '../core/html'
import { SCRIPT_SHEET } from './protocol'

/** The name of a sheet without what a bundler asks for with it. */
export const fileIn = (name: string): string => name.replace(/[?#].*$/, '')

/** Whether a sheet is a module, whose classes have other names on the page (CSS Modules). */
export const isModule = (name: string): boolean => name.startsWith(SCRIPT_SHEET) && isStyleModule(fileIn(name))

/** Whether a sheet is a style block of a component of one file. */
export const isOfComponent = (name: string): boolean => name.startsWith(SCRIPT_SHEET) && /\.(vue|svelte|astro)\?.*\btype=style\b/.test(name)

/** Whether the page has names of its own for what the source of a sheet names. */
export const hasNames = (name: string): boolean => isModule(name) || isOfComponent(name)

/** UTF-16 units; a server refuses longer ones. */
const LONGEST_ADDRESS = 5000

/** A development server's own word for the file of a `<style>` element. */
const FILE_ATTRIBUTE = 'data-vite-dev-id'

/** Where a sheet comes from: the address it was loaded from, `#` and the source of its `<style>` element, or `@` and the file that a script names; null when that names none. */
export function nameOf(sheet: CSSStyleSheet): string | null {
  const owner = sheet.ownerNode as Element | null
  if (owner?.localName === 'style') {
    const source = owner.getAttribute(ID_ATTRIBUTE)
    const file = owner.getAttribute(FILE_ATTRIBUTE)
    return source !== null ? `#${source}` : file !== null && file.length < LONGEST_ADDRESS ? SCRIPT_SHEET + file : null
  }
  const part = sheet.href === null ? null : partOfBundle(sheet.href)
  if (part) return part.file === null ? null : SCRIPT_SHEET + part.file
  // What is in an address of its own, or made up by a script, has no source.
  return sheet.href && sheet.href.length <= LONGEST_ADDRESS && /^https?:/i.test(sheet.href) ? sheet.href : null
}

const partOfBundle = (href: string) => (href.length <= LONGEST_ADDRESS && URL.canParse(href) ? readBundledPart(new URL(href).search) : null)

// What Tailwind CSS writes over its base, which version 3 has some variables before; or, where a bundler took the comment out,
// the layers that version 4 begins with, and those variables of version 3.
const COMPILED = /\/\*\s*!\s*tailwindcss\s+v\d|^\s*@layer (properties|theme)\b|--tw-border-spacing-x\s*:/i
const LONGEST_LEAD = 20_000

const compiledIn = (text: string): string | null => (COMPILED.test(text.slice(0, LONGEST_LEAD)) ? text : null)

/** What a compiler wrote, of utility classes or of Sass and the like, where a sheet is that: the text of its element, or of its part of a bundle. */
export async function compiledText(name: string, { ownerNode, href }: CSSStyleSheet): Promise<string | null> {
  const read = isPreprocessed(fileIn(name)) ? (text: string) => text : compiledIn
  if (ownerNode) return read(ownerNode.textContent ?? '')
  if (href === null || !partOfBundle(href)) return null
  const response = await fetch(href).catch(() => null)
  return response?.ok ? read(await response.text()) : null
}
