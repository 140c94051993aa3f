import { documentsOf } from './documents'
import { isOurs } from './own-script'
import { sheetsOf } from './page-sheets'
import type { LargePicture, LoadedFile } from './protocol'

/** Files and pictures that are listed at most, and how long an address may be. */
const MOST = 2000
const LONGEST = 5000

/** Pixels of a screen for each px that a picture is to be sharp on. */
const DENSITY = 2

/** How many times the pixels that such a screen shows make a picture far larger than it is shown. */
const FAR_LARGER = 4

/** What the documents of the page have loaded, themselves first (Resource Timing §4.3), without what stands below the address `ours`. */
export function loadedBy(root: Document, ours: string): readonly LoadedFile[] {
  const found = new Map<string, LoadedFile>()
  for (const doc of documentsOf(root)) {
    const timings = doc.defaultView?.performance
    const entries = ['navigation', 'resource'].flatMap((type) => timings?.getEntriesByType(type) ?? []) as PerformanceResourceTiming[]
    for (const { name, initiatorType, decodedBodySize: size, encodedBodySize: packed } of entries) {
      if (!/^https?:/.test(name) || name.length > LONGEST || name.startsWith(ours) || found.has(name)) continue
      if (found.size < MOST) found.set(name, { url: name, by: initiatorType, size, packed })
    }
  }
  return [...found.values()]
}

/** Those of the loaded files that are of faces which no text of the page is drawn in: a hint in the page's head asks for them. */
export function idleFacesOf(root: Document, files: readonly LoadedFile[]): readonly { readonly url: string; readonly family: string }[] {
  const loaded = new Set(files.map(({ url }) => url))
  const families = new Map<string, string>()
  const used = new Set<string>()
  for (const doc of documentsOf(root)) {
    for (const sheet of sheetsOf(doc.styleSheets)) {
      for (const rule of facesIn(sheet.cssRules)) {
        const family = plain(rule.style.getPropertyValue('font-family'))
        const isUsed = [...doc.fonts].some((f) => f.status !== 'unloaded' && plain(f.family) === family && isOfRule(f, rule.style))
        for (const [, address] of rule.style.getPropertyValue('src').matchAll(/url\(\s*["']?([^"')]+)/g)) {
          const base = sheet.href ?? doc.baseURI
          if (!URL.canParse(address, base)) continue
          const { href } = new URL(address, base)
          families.set(href, family)
          if (isUsed) used.add(href)
        }
      }
    }
  }
  return [...families].flatMap(([url, family]) => (loaded.has(url) && !used.has(url) ? [{ url, family: family.slice(0, 200) }] : []))
}

const plain = (family: string): string => family.trim().replace(/^["']|["']$/g, '')

// Whether a face is the one that a rule gives (CSS Font Loading §2.1).
function isOfRule({ weight, style }: FontFace, given: CSSStyleDeclaration): boolean {
  const said = (name: string) => given.getPropertyValue(name) || 'normal'
  return weight === said('font-weight') && style === said('font-style')
}

const facesIn = (rules: CSSRuleList): readonly CSSFontFaceRule[] =>
  [...rules].flatMap((rule) =>
    rule.constructor.name === 'CSSFontFaceRule'
      ? [rule as CSSFontFaceRule]
      : 'conditionText' in rule || rule.constructor.name === 'CSSLayerBlockRule'
        ? facesIn((rule as CSSGroupingRule).cssRules)
        : [],
  )

/** Pictures that have far more pixels than a screen of two for each px shows of them; those that the page has in several sizes are left out. */
export function largePicturesOf(root: Document): readonly (Omit<LargePicture, 'info'> & { readonly element: Element })[] {
  return documentsOf(root)
    .flatMap((doc) => [...doc.images])
    .flatMap((element) => {
      const { currentSrc: url, naturalWidth, naturalHeight, width, height } = element
      if (isOurs(element) || !url || element.srcset || element.closest('picture') || /\.svg([?#]|$)|^data:image\/svg/i.test(url)) return []
      const shown = { width: width * DENSITY, height: height * DENSITY }
      if (shown.width * shown.height === 0 || naturalWidth * naturalHeight <= FAR_LARGER * shown.width * shown.height) return []
      return [{ element, url: url.slice(0, LONGEST), width: naturalWidth, height: naturalHeight, enough: shown }]
    })
    .slice(0, MOST)
}
