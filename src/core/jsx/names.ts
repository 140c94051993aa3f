/** The names that React gives attributes, where they are not those of HTML or SVG in lower case (React, Common components). */
const REACT_NAMES: readonly string[] = (
  'className htmlFor tabIndex readOnly maxLength minLength colSpan rowSpan autoComplete autoFocus autoPlay srcSet srcDoc ' +
  'crossOrigin dateTime encType formAction formEncType formMethod formNoValidate formTarget hrefLang httpEquiv inputMode ' +
  'noValidate playsInline referrerPolicy spellCheck contentEditable allowFullScreen acceptCharset accessKey useMap ' +
  'enterKeyHint fetchPriority autoCapitalize charSet itemProp itemScope itemType itemID itemRef noModule ' +
  'viewBox preserveAspectRatio gradientUnits gradientTransform patternUnits patternTransform clipPathUnits maskUnits ' +
  'strokeWidth strokeLinecap strokeLinejoin strokeDasharray strokeDashoffset strokeMiterlimit strokeOpacity fillOpacity ' +
  'fillRule clipRule clipPath stopColor stopOpacity textAnchor dominantBaseline fontSize fontFamily fontWeight xlinkHref'
).split(' ')

const SVG_DASHED: ReadonlySet<string> = new Set(
  REACT_NAMES.filter((n) => /^(stroke|fill|clip|stop|text|dominant|font)[A-Z]/.test(n) && n !== 'clipPathUnits'),
)
const SVG_CASED = /^(viewBox|preserveAspectRatio|gradient|pattern|clipPathUnits|maskUnits)/

const markupName = (name: string): string =>
  name === 'className'
    ? 'class'
    : name === 'htmlFor'
      ? 'for'
      : name === 'httpEquiv' || name === 'acceptCharset' || SVG_DASHED.has(name)
        ? name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)
        : name === 'xlinkHref'
          ? 'xlink:href'
          : SVG_CASED.test(name)
            ? name
            : name.toLowerCase()

const TO_MARKUP: ReadonlyMap<string, string> = new Map(REACT_NAMES.map((n) => [n, markupName(n)]))
const TO_REACT: ReadonlyMap<string, string> = new Map(REACT_NAMES.map((n) => [markupName(n), n]))

/** Attributes whose values the types of React have as numbers. */
const NUMERIC: ReadonlySet<string> = new Set('tabIndex colSpan rowSpan maxLength minLength rows cols size span start'.split(' '))

export const isNumeric = (name: string): boolean => NUMERIC.has(name)

/** The name that markup has for an attribute of JSX. */
export const inMarkup = (name: string): string => TO_MARKUP.get(name) ?? name

/** The name that JSX has for an attribute of markup. */
export const inJsx = (name: string): string => TO_REACT.get(name) ?? name

/** A property of CSS as a key of a style object (CSSOM §6.7.3, the camel-cased attribute): `padding-top` is `paddingTop`. */
export const styleKey = (property: string): string =>
  property.startsWith('--') ? property : property.replace(/^-(?=ms-)/, '').replace(/-([a-z])/g, (_, c: string) => c.toUpperCase())

/** The property that a key of a style object sets. */
export const styleProperty = (key: string): string =>
  key.startsWith('--') ? key : key.replace(/^ms(?=[A-Z])/, '-ms').replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)

/** Properties whose numbers have no unit in a style object (React, `style`). */
const UNITLESS: ReadonlySet<string> = new Set(
  (
    'animation-iteration-count aspect-ratio border-image-outset border-image-slice border-image-width column-count columns fill-opacity flex flex-grow ' +
    'flex-shrink flood-opacity font-weight grid-area grid-column grid-column-end grid-column-start grid-row grid-row-end ' +
    'grid-row-start line-clamp line-height opacity order orphans scale stop-opacity stroke-dasharray stroke-dashoffset ' +
    'stroke-miterlimit stroke-opacity stroke-width tab-size widows z-index zoom'
  ).split(' '),
)

export const isUnitless = (property: string): boolean =>
  property.startsWith('--') || UNITLESS.has(property.replace(/^-(webkit|moz|ms|o)-/, ''))
