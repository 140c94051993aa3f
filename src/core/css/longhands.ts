const sides = (make: (side: string) => string): string[] => ['top', 'right', 'bottom', 'left'].map(make)

/**
 * Which properties a shorthand sets, in the order of its own syntax where that has one.
 * CSS Box 4, CSS Backgrounds 3, CSS Flexbox 1, CSS Grid 2, CSS Fonts 4, CSS Transitions 1, CSS Logical 1 and others.
 */
export const SHORTHANDS: Readonly<Record<string, readonly string[]>> = {
  padding: sides((s) => `padding-${s}`),
  margin: sides((s) => `margin-${s}`),
  inset: sides((s) => s),
  'scroll-margin': sides((s) => `scroll-margin-${s}`),
  'scroll-padding': sides((s) => `scroll-padding-${s}`),
  'border-width': sides((s) => `border-${s}-width`),
  'border-style': sides((s) => `border-${s}-style`),
  'border-color': sides((s) => `border-${s}-color`),
  'border-radius': ['border-top-left-radius', 'border-top-right-radius', 'border-bottom-right-radius', 'border-bottom-left-radius'],
  'padding-inline': ['padding-inline-start', 'padding-inline-end'],
  'padding-block': ['padding-block-start', 'padding-block-end'],
  'margin-inline': ['margin-inline-start', 'margin-inline-end'],
  'margin-block': ['margin-block-start', 'margin-block-end'],
  'inset-inline': ['inset-inline-start', 'inset-inline-end'],
  'inset-block': ['inset-block-start', 'inset-block-end'],
  gap: ['row-gap', 'column-gap'],
  'grid-gap': ['row-gap', 'column-gap'],
  overflow: ['overflow-x', 'overflow-y'],
  'overscroll-behavior': ['overscroll-behavior-x', 'overscroll-behavior-y'],
  'place-content': ['align-content', 'justify-content'],
  'place-items': ['align-items', 'justify-items'],
  'place-self': ['align-self', 'justify-self'],
  'grid-row': ['grid-row-start', 'grid-row-end'],
  'grid-column': ['grid-column-start', 'grid-column-end'],
  'grid-area': ['grid-row-start', 'grid-column-start', 'grid-row-end', 'grid-column-end'],
  border: [
    ...sides((s) => `border-${s}-width`),
    ...sides((s) => `border-${s}-style`),
    ...sides((s) => `border-${s}-color`),
    'border-image-source',
    'border-image-slice',
    'border-image-width',
    'border-image-outset',
    'border-image-repeat',
  ],
  'border-top': ['border-top-width', 'border-top-style', 'border-top-color'],
  'border-right': ['border-right-width', 'border-right-style', 'border-right-color'],
  'border-bottom': ['border-bottom-width', 'border-bottom-style', 'border-bottom-color'],
  'border-left': ['border-left-width', 'border-left-style', 'border-left-color'],
  outline: ['outline-width', 'outline-style', 'outline-color'],
  'column-rule': ['column-rule-width', 'column-rule-style', 'column-rule-color'],
  columns: ['column-width', 'column-count'],
  'list-style': ['list-style-type', 'list-style-position', 'list-style-image'],
  'text-decoration': ['text-decoration-line', 'text-decoration-style', 'text-decoration-color', 'text-decoration-thickness'],
  'text-emphasis': ['text-emphasis-style', 'text-emphasis-color'],
  'flex-flow': ['flex-direction', 'flex-wrap'],
  flex: ['flex-grow', 'flex-shrink', 'flex-basis'],
  background: [
    'background-color',
    'background-image',
    'background-position-x',
    'background-position-y',
    'background-size',
    'background-repeat',
    'background-attachment',
    'background-origin',
    'background-clip',
  ],
  'background-position': ['background-position-x', 'background-position-y'],
  font: [
    'font-style',
    'font-variant-caps',
    'font-weight',
    'font-stretch',
    'font-size',
    'line-height',
    'font-family',
    'font-variant-ligatures',
    'font-variant-numeric',
    'font-variant-east-asian',
    'font-variant-alternates',
    'font-variant-position',
    'font-variant-emoji',
    'font-size-adjust',
    'font-kerning',
    'font-optical-sizing',
    'font-feature-settings',
    'font-variation-settings',
  ],
  transition: ['transition-property', 'transition-duration', 'transition-timing-function', 'transition-delay', 'transition-behavior'],
  animation: [
    'animation-duration',
    'animation-timing-function',
    'animation-delay',
    'animation-iteration-count',
    'animation-direction',
    'animation-fill-mode',
    'animation-play-state',
    'animation-name',
    'animation-timeline',
    'animation-range-start',
    'animation-range-end',
  ],
  'grid-template': ['grid-template-rows', 'grid-template-columns', 'grid-template-areas'],
  grid: ['grid-template-rows', 'grid-template-columns', 'grid-template-areas', 'grid-auto-rows', 'grid-auto-columns', 'grid-auto-flow'],
  'border-image': ['border-image-source', 'border-image-slice', 'border-image-width', 'border-image-outset', 'border-image-repeat'],
  mask: ['mask-image', 'mask-mode', 'mask-repeat', 'mask-position', 'mask-clip', 'mask-origin', 'mask-size', 'mask-composite'],
}

// Physical and logical names of the same side, in a left-to-right, top-to-bottom writing mode.
const LOGICAL_SIDES: Readonly<Record<string, string>> = {
  'block-start': 'top',
  'block-end': 'bottom',
  'inline-start': 'left',
  'inline-end': 'right',
}

/**
 * The physical property that a flow-relative one sets when text runs left to right and top to bottom
 * (CSS Logical 1 §4); any other name as it is. The caller checks the writing mode.
 */
export function physicalName(name: string): string {
  const m = /^(padding|margin|inset|border|scroll-margin|scroll-padding)-(block|inline)-(start|end)(-\w+)?$/.exec(name)
  if (m) {
    const side = LOGICAL_SIDES[`${m[2]}-${m[3]}`]
    return m[1] === 'inset' ? side : `${m[1]}-${side}${m[4] ?? ''}`
  }
  const size = /^(min-|max-)?(block|inline)-size$/.exec(name)
  if (size) return `${size[1] ?? ''}${size[2] === 'block' ? 'height' : 'width'}`
  const corner = /^border-(start|end)-(start|end)-radius$/.exec(name)
  if (corner) return `border-${corner[1] === 'start' ? 'top' : 'bottom'}-${corner[2] === 'start' ? 'left' : 'right'}-radius`
  return name
}

const LOGICAL_BORDERS: Readonly<Record<string, readonly string[]>> = Object.fromEntries(
  ['block', 'inline'].flatMap((axis) => {
    const both = ['start', 'end'].map((e) => `border-${axis}-${e}`)
    const parts = ['width', 'style', 'color']
    return [
      [`border-${axis}`, both.flatMap((b) => parts.map((p) => `${b}-${p}`))],
      ...both.map((b) => [b, parts.map((p) => `${b}-${p}`)]),
      ...parts.map((p) => [`border-${axis}-${p}`, both.map((b) => `${b}-${p}`)]),
    ] as [string, string[]][]
  }),
)

const longhandCache = new Map<string, readonly string[]>()

/** The physical longhands that a property sets; a longhand gives itself. `all` is not expanded. */
export function longhandsOf(name: string): readonly string[] {
  let found = longhandCache.get(name)
  if (!found) {
    found = (SHORTHANDS[name] ?? LOGICAL_BORDERS[name] ?? [ALIASES[name] ?? name]).map(physicalName)
    if (longhandCache.size < 2000) longhandCache.set(name, found)
  }
  return found
}

const ALIASES: Readonly<Record<string, string>> = {
  'grid-row-gap': 'row-gap',
  'grid-column-gap': 'column-gap',
  'word-wrap': 'overflow-wrap',
}

export const isShorthand = (name: string): boolean => name in SHORTHANDS || name in LOGICAL_BORDERS

/** Whether a declaration of `name` sets the longhand `longhand`. */
export const sets = (name: string, longhand: string): boolean =>
  name === longhand ||
  longhandsOf(name).includes(longhand) ||
  (name === 'all' && !longhand.startsWith('--') && longhand !== 'direction' && longhand !== 'unicode-bidi')
