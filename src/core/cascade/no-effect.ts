import { parseLength } from '../value'

/** What has to be known of an element to say why a property does nothing for it: computed values, as the page gives them. */
export interface EffectFacts {
  readonly tag: string
  readonly isSvg: boolean
  /** Of the element. Properties that are not known are left out and nothing is said of them. */
  readonly computed: Readonly<Record<string, string>>
  /** Of its parent element. */
  readonly parent: Readonly<Record<string, string>>
  /** The declared value in question, as written. */
  readonly value: string
}

/** The smallest change that would give the value its effect. */
export interface Remedy {
  readonly on: 'element' | 'parent'
  readonly name: string
  readonly value: string
  readonly words: string
}

export interface NoEffect {
  readonly code: string
  /** A sentence for the person, without the property's name at its start. */
  readonly why: string
  /** The specification that says so, with its section. */
  readonly spec: string
  readonly remedy: Remedy | null
}

interface Context extends EffectFacts {
  readonly property: string
  readonly display: string
  readonly parentDisplay: string
}

interface Reason {
  readonly code: string
  readonly of: RegExp
  readonly spec: string
  readonly when: (c: Context) => boolean
  readonly why: (c: Context) => string
  readonly remedy?: (c: Context) => Remedy | null
}

const isFlex = (d: string): boolean => /^(inline-)?flex$/.test(d)
const isGrid = (d: string): boolean => /^(inline-)?grid$/.test(d)
const isContainer = (d: string): boolean => isFlex(d) || isGrid(d)
const isTablePart = (d: string): boolean => /^table-(row|row-group|header-group|footer-group|column|column-group)$/.test(d)
const REPLACED = /^(img|video|iframe|canvas|embed|object|input|audio|svg)$/
const isReplaced = (c: Context): boolean => REPLACED.test(c.tag)
const isInlineBox = (c: Context): boolean => c.display === 'inline' && !isReplaced(c)
const isStatic = (c: Context): boolean => (c.computed.position ?? '') === 'static'
const isOutOfFlow = (c: Context): boolean => /^(absolute|fixed)$/.test(c.computed.position ?? '')
const isItem = (c: Context): boolean => isContainer(c.parentDisplay) && !isOutOfFlow(c)
/** Nothing stands in it that would inherit from it. */
const isLeaf = (c: Context): boolean => c.computed['--holds-elements'] !== 'yes'
const isBlockLevel = (d: string): boolean => /^(block|flex|grid|table|list-item|flow-root)$/.test(d)

const on = (name: string, value: string, words: string): Remedy => ({ on: 'element', name, value, words })
const onParent = (name: string, value: string, words: string): Remedy => ({ on: 'parent', name, value, words })
const asBlock = (): Remedy => on('display', 'inline-block', 'Make it an inline block')
const asFlex = (): Remedy => on('display', 'flex', 'Make it a flex container')
const parentFlex = (): Remedy => onParent('display', 'flex', 'Make its parent a flex container')
const parentGrid = (): Remedy => onParent('display', 'grid', 'Make its parent a grid')

/** In order: the first that fits is told. */
const REASONS: readonly Reason[] = [
  {
    code: 'not-rendered',
    of: /^(?!display$|--)/,
    spec: 'CSS Display 3 §2.6',
    when: (c) => c.display === 'none',
    why: () => 'the element is not rendered: its display is none',
  },
  {
    code: 'contents',
    of: /^(margin|padding|border|background|width|height|min-|max-|overflow|position|top|right|bottom|left|inset|z-index|transform|box-shadow|outline|opacity|gap|row-gap|column-gap)/,
    spec: 'CSS Display 3 §2.5',
    when: (c) => c.display === 'contents',
    why: () => 'its display is contents, so it has no box of its own',
  },
  {
    code: 'gap-without-container',
    of: /^(gap|grid-gap|row-gap)$/,
    spec: 'CSS Box Alignment 3 §8.1',
    when: (c) => !isContainer(c.display) && (c.computed['column-count'] ?? 'auto') === 'auto',
    why: (c) => `${c.tag} is not a flex or grid container`,
    remedy: asFlex,
  },
  {
    code: 'column-gap-without-container',
    of: /^(column-gap)$/,
    spec: 'CSS Box Alignment 3 §8.1',
    when: (c) =>
      !isContainer(c.display) && (c.computed['column-count'] ?? 'auto') === 'auto' && (c.computed['column-width'] ?? 'auto') === 'auto',
    why: (c) => `${c.tag} has no columns and is not a flex or grid container`,
    remedy: asFlex,
  },
  {
    code: 'row-gap-single-line',
    of: /^row-gap$/,
    spec: 'CSS Flexbox 1 §9.6',
    when: (c) => isFlex(c.display) && /^row/.test(c.computed['flex-direction'] ?? '') && c.computed['flex-wrap'] === 'nowrap',
    why: () => 'its items stand on one line, so there is no gap between lines',
    remedy: () => on('flex-wrap', 'wrap', 'Let the items wrap'),
  },
  {
    code: 'alignment-without-container',
    of: /^(align-items|justify-content|place-items)$/,
    spec: 'CSS Box Alignment 3 §5',
    when: (c) => !isContainer(c.display),
    why: (c) => `${c.tag} is not a flex or grid container`,
    remedy: asFlex,
  },
  {
    code: 'align-content-inline',
    of: /^(align-content|place-content)$/,
    spec: 'CSS Box Alignment 3 §5.1',
    when: (c) => !isContainer(c.display) && !isBlockLevel(c.display) && c.display !== 'table-cell' && c.display !== 'inline-block',
    why: () => 'the element is no block, flex or grid container',
  },
  {
    code: 'align-content-single-line',
    of: /^align-content$/,
    spec: 'CSS Flexbox 1 §8.4',
    when: (c) => isFlex(c.display) && c.computed['flex-wrap'] === 'nowrap',
    why: () => 'a flex container that does not wrap has one line only',
    remedy: () => on('flex-wrap', 'wrap', 'Let the items wrap'),
  },
  {
    code: 'justify-items-outside-grid',
    of: /^justify-items$/,
    spec: 'CSS Box Alignment 3 §7.1',
    when: (c) => isFlex(c.display),
    why: () => 'flex containers ignore it; items share the line by justify-content',
    remedy: () => on('display', 'grid', 'Make it a grid'),
  },
  {
    code: 'justify-self-in-flex',
    of: /^justify-self$/,
    spec: 'CSS Box Alignment 3 §6.1',
    when: (c) => isFlex(c.parentDisplay) && !isOutOfFlow(c),
    why: () => 'flex items ignore it; an auto margin moves one item along the line',
    remedy: () => on('margin-left', 'auto', 'Push it with an auto margin'),
  },
  {
    code: 'align-self-outside',
    of: /^(align-self|place-self)$/,
    spec: 'CSS Box Alignment 3 §6.2',
    when: (c) => !isContainer(c.parentDisplay) && !isOutOfFlow(c),
    why: () => 'its parent is not a flex or grid container',
    remedy: parentFlex,
  },
  {
    code: 'flex-item-outside-flex',
    of: /^(flex|flex-grow|flex-shrink|flex-basis)$/,
    spec: 'CSS Flexbox 1 §7',
    when: (c) => !isFlex(c.parentDisplay) || isOutOfFlow(c),
    why: () => 'its parent is not a flex container',
    remedy: parentFlex,
  },
  {
    code: 'order-outside',
    of: /^order$/,
    spec: 'CSS Flexbox 1 §5.4',
    when: (c) => !isItem(c),
    why: () => 'its parent is not a flex or grid container',
    remedy: parentFlex,
  },
  {
    code: 'flex-container-only',
    of: /^(flex-direction|flex-wrap|flex-flow)$/,
    spec: 'CSS Flexbox 1 §5',
    when: (c) => !isFlex(c.display),
    why: (c) => `${c.tag} is not a flex container`,
    remedy: asFlex,
  },
  {
    code: 'grid-container-only',
    of: /^(grid|grid-template|grid-template-(rows|columns|areas)|grid-auto-(rows|columns|flow))$/,
    spec: 'CSS Grid 2 §7',
    when: (c) => !isGrid(c.display),
    why: (c) => `${c.tag} is not a grid container`,
    remedy: () => on('display', 'grid', 'Make it a grid'),
  },
  {
    code: 'grid-item-outside-grid',
    of: /^(grid-area|grid-(row|column)(-start|-end)?)$/,
    spec: 'CSS Grid 2 §8',
    when: (c) => !isGrid(c.parentDisplay),
    why: () => 'its parent is not a grid container',
    remedy: parentGrid,
  },
  {
    code: 'size-on-inline',
    of: /^((min-|max-)?(width|height|inline-size|block-size))$/,
    spec: 'CSS Sizing 3 §3.1',
    when: isInlineBox,
    why: () => 'an inline box takes its size from its text',
    remedy: asBlock,
  },
  {
    code: 'width-on-table-row',
    of: /^((min-|max-)?width)$/,
    spec: 'CSS 2 §10.2',
    when: (c) => /^table-(row|row-group|header-group|footer-group)$/.test(c.display),
    why: () => 'table rows are as wide as their table',
  },
  {
    code: 'height-on-table-column',
    of: /^((min-|max-)?height)$/,
    spec: 'CSS 2 §10.5',
    when: (c) => /^table-column/.test(c.display),
    why: () => 'table columns are as high as their table',
  },
  {
    code: 'percent-of-auto-height',
    of: /^(height|min-height|max-height)$/,
    spec: 'CSS 2 §10.5',
    when: (c) => parseLength(c.value)?.unit === '%' && c.parent['--declared-height'] === 'auto' && !isOutOfFlow(c) && !isItem(c),
    why: () => 'a percentage of a parent whose height is auto is auto too',
    remedy: () => onParent('height', '100%', 'Give its parent a height'),
  },
  {
    code: 'flex-basis-over-width',
    of: /^width$/,
    spec: 'CSS Flexbox 1 §7.2.3',
    when: (c) =>
      isFlex(c.parentDisplay) &&
      /^row/.test(c.parent['flex-direction'] ?? 'row') &&
      !isOutOfFlow(c) &&
      !/^(auto|content)?$/.test(c.computed['flex-basis'] ?? 'auto'),
    why: (c) => `in a flex row its flex-basis of ${c.computed['flex-basis']} counts instead`,
    remedy: () => on('flex-basis', 'auto', 'Let its width count'),
  },
  {
    code: 'aspect-ratio-both-sizes',
    of: /^aspect-ratio$/,
    spec: 'CSS Sizing 4 §5.1',
    when: (c) => c.computed['--declared-width'] === 'set' && c.computed['--declared-height'] === 'set',
    why: () => 'both its width and its height are set',
    remedy: () => on('height', 'auto', 'Let its height follow'),
  },
  {
    code: 'vertical-margin-on-inline',
    of: /^margin-(top|bottom|block-start|block-end)$/,
    spec: 'CSS 2 §8.3',
    when: isInlineBox,
    why: () => 'margins above and below an inline box are ignored',
    remedy: asBlock,
  },
  {
    code: 'margin-on-table-part',
    of: /^margin/,
    spec: 'CSS 2 §8.3',
    when: (c) => isTablePart(c.display) || c.display === 'table-cell',
    why: () => 'rows, columns and cells of a table have no margins; border-spacing of the table spaces them',
  },
  {
    code: 'padding-on-table-part',
    of: /^padding/,
    spec: 'CSS 2 §8.4',
    when: (c) => isTablePart(c.display),
    why: () => 'rows and columns of a table have no padding; their cells have',
  },
  {
    code: 'auto-margin-vertical',
    of: /^margin-(top|bottom)$/,
    spec: 'CSS 2 §10.6.3',
    when: (c) => c.value.trim() === 'auto' && !isItem(c) && !isOutOfFlow(c),
    why: () => 'auto margins above and below come to 0 in block layout',
    remedy: parentFlex,
  },
  {
    code: 'auto-margin-inline-level',
    of: /^margin-(left|right)$/,
    spec: 'CSS 2 §10.3.1',
    when: (c) => c.value.trim() === 'auto' && /^inline/.test(c.display) && !isItem(c),
    why: () => 'auto margins of inline-level boxes come to 0',
    remedy: () => on('display', 'block', 'Make it a block'),
  },
  {
    code: 'margin-collapses-through',
    of: /^margin-(top|bottom)$/,
    spec: 'CSS 2 §8.3.1',
    when: (c) =>
      c.computed[c.property === 'margin-top' ? '--collapses-top' : '--collapses-bottom'] === 'yes' &&
      (parseLength(c.value)?.number ?? 0) !== 0,
    why: () => 'it collapses with its parent’s margin and shows outside the parent',
    remedy: () => onParent('display', 'flow-root', 'Keep margins inside the parent'),
  },
  {
    code: 'z-index-static',
    of: /^z-index$/,
    spec: 'CSS 2 §9.9.1',
    when: (c) => isStatic(c) && !isContainer(c.parentDisplay),
    why: () => 'its position is static, and its parent is no flex or grid container',
    remedy: () => on('position', 'relative', 'Make it relative'),
  },
  {
    code: 'offset-static',
    of: /^(top|right|bottom|left|inset(-.*)?)$/,
    spec: 'CSS Positioned Layout 3 §3.1',
    when: isStatic,
    why: () => 'its position is static',
    remedy: () => on('position', 'relative', 'Make it relative'),
  },
  {
    code: 'offset-overconstrained',
    of: /^bottom$/,
    spec: 'CSS 2 §10.6.4',
    when: (c) => c.computed.position === 'relative' && c.computed['--declared-top'] === 'set',
    why: () => 'its top is set as well, and top wins on a relative box',
    remedy: () => on('top', 'auto', 'Leave top to follow'),
  },
  {
    code: 'right-overconstrained',
    of: /^right$/,
    spec: 'CSS 2 §9.4.3',
    when: (c) => c.computed.position === 'relative' && c.computed['--declared-left'] === 'set' && c.computed.direction !== 'rtl',
    why: () => 'its left is set as well, and left wins on a relative box',
    remedy: () => on('left', 'auto', 'Leave left to follow'),
  },
  {
    code: 'sticky-without-offset',
    of: /^position$/,
    spec: 'CSS Positioned Layout 3 §3.4',
    when: (c) => c.value.trim() === 'sticky' && ['top', 'right', 'bottom', 'left'].every((s) => (c.computed[s] ?? '') === 'auto'),
    why: () => 'a sticky box needs an offset to stick at',
    remedy: () => on('top', '0', 'Stick it at the top'),
  },
  {
    code: 'float-on-item',
    of: /^float$/,
    spec: 'CSS Flexbox 1 §3',
    when: isItem,
    why: () => 'flex and grid items do not float',
  },
  {
    code: 'float-out-of-flow',
    of: /^float$/,
    spec: 'CSS 2 §9.7',
    when: isOutOfFlow,
    why: () => 'an absolutely placed box does not float',
  },
  {
    code: 'clear-on-inline',
    of: /^clear$/,
    spec: 'CSS 2 §9.5.2',
    when: (c) => !isBlockLevel(c.display),
    why: () => 'only block-level boxes clear floats',
    remedy: () => on('display', 'block', 'Make it a block'),
  },
  {
    code: 'vertical-align-on-item',
    of: /^vertical-align$/,
    spec: 'CSS Flexbox 1 §3',
    when: isItem,
    why: () => 'flex and grid items ignore it',
    remedy: () => on('align-self', 'center', 'Align it with align-self'),
  },
  {
    code: 'vertical-align-on-block',
    of: /^vertical-align$/,
    spec: 'CSS 2 §10.8.1',
    when: (c) => !/^inline/.test(c.display) && c.display !== 'table-cell',
    why: () => 'it moves inline boxes and table cells only',
    remedy: () => on('display', 'inline-block', 'Make it an inline block'),
  },
  {
    code: 'text-align-on-inline',
    of: /^(text-align|text-indent)$/,
    spec: 'CSS Text 3 §7',
    when: (c) => isInlineBox(c) && isLeaf(c),
    why: () => 'lines are aligned by the block around them',
    remedy: () => on('display', 'block', 'Make it a block'),
  },
  {
    code: 'ellipsis-needs-overflow',
    of: /^text-overflow$/,
    spec: 'CSS UI 4 §3.1',
    when: (c) => (c.computed['overflow-x'] ?? '') === 'visible',
    why: () => 'its text is not cut off, since its overflow is visible',
    remedy: () => on('overflow', 'hidden', 'Hide what overflows'),
  },
  {
    code: 'ellipsis-needs-one-line',
    of: /^text-overflow$/,
    spec: 'CSS UI 4 §3.1',
    when: (c) => /^(normal|pre-wrap|pre-line)$/.test(c.computed['white-space'] ?? '') && c.computed['--wide-text'] !== 'yes',
    why: () => 'its text wraps, so no line is cut off',
    remedy: () => on('white-space', 'nowrap', 'Keep it on one line'),
  },
  {
    code: 'overflow-on-inline',
    of: /^overflow(-x|-y)?$/,
    spec: 'CSS Overflow 3 §3.1',
    when: isInlineBox,
    why: () => 'an inline box cannot clip or scroll',
    remedy: asBlock,
  },
  {
    code: 'resize-needs-overflow',
    of: /^resize$/,
    spec: 'CSS UI 4 §6.1',
    when: (c) => c.computed['overflow-x'] === 'visible' && !/^(textarea|iframe|video|img)$/.test(c.tag),
    why: () => 'only boxes that clip or scroll can be resized',
    remedy: () => on('overflow', 'auto', 'Let it scroll'),
  },
  {
    code: 'object-fit-not-replaced',
    of: /^object-(fit|position)$/,
    spec: 'CSS Images 3 §5.5',
    when: (c) => !isReplaced(c),
    why: (c) => `${c.tag} is no image, video or other replaced element`,
  },
  {
    code: 'list-style-not-item',
    of: /^list-style/,
    spec: 'CSS Lists 3 §2',
    when: (c) => c.display !== 'list-item' && isLeaf(c),
    why: () => 'it is no list item',
    remedy: () => on('display', 'list-item', 'Make it a list item'),
  },
  {
    code: 'table-only',
    of: /^(table-layout|border-collapse|border-spacing|caption-side|empty-cells)$/,
    spec: 'CSS 2 §17',
    when: (c) => !/table/.test(c.display) && (c.property === 'table-layout' || isLeaf(c)),
    why: (c) => `${c.tag} is no table`,
  },
  {
    code: 'spacing-collapsed',
    of: /^border-spacing$/,
    spec: 'CSS 2 §17.6',
    when: (c) => c.computed['border-collapse'] === 'collapse',
    why: () => 'the borders of the table are collapsed',
    remedy: () => on('border-collapse', 'separate', 'Separate the borders'),
  },
  {
    code: 'radius-collapsed',
    of: /^border-.*radius$/,
    spec: 'CSS Backgrounds 3 §4.3',
    when: (c) => /table/.test(c.display) && c.computed['border-collapse'] === 'collapse',
    why: () => 'a table with collapsed borders has no round corners',
    remedy: () => on('border-collapse', 'separate', 'Separate the borders'),
  },
  {
    code: 'columns-on-container',
    of: /^(columns|column-(count|width|fill|rule.*|span))$/,
    spec: 'CSS Multi-column 1 §2',
    when: (c) => isContainer(c.display) || isInlineBox(c),
    why: (c) => (isInlineBox(c) ? 'an inline box has no columns' : 'flex and grid containers have no text columns'),
    remedy: () => on('display', 'block', 'Make it a block'),
  },
  {
    code: 'transform-on-inline',
    of: /^(transform|translate|rotate|scale|transform-origin|perspective)$/,
    spec: 'CSS Transforms 1 §3',
    when: (c) => isInlineBox(c) && !c.isSvg,
    why: () => 'inline boxes cannot be transformed',
    remedy: asBlock,
  },
  {
    code: 'color-on-image',
    of: /^color$/,
    spec: 'CSS Color 4 §3.1',
    when: (c) => /^(img|video|canvas|iframe|embed|object)$/.test(c.tag),
    why: (c) => `${c.tag} has no text of its own to colour`,
  },
  {
    code: 'svg-paint-on-html',
    of: /^(fill|stroke)(-.*)?$/,
    spec: 'SVG 2 §13',
    when: (c) => !c.isSvg && c.tag !== 'svg' && isLeaf(c),
    why: (c) => `${c.tag} is no SVG shape or text`,
    remedy: (c) => on('color', c.value, 'Set its colour'),
  },
  {
    code: 'background-without-image',
    of: /^background-(size|position|position-x|position-y|repeat|attachment|origin)$/,
    spec: 'CSS Backgrounds 3 §2',
    when: (c) => c.computed['background-image'] === 'none',
    why: () => 'it has no background image',
  },
  {
    code: 'border-without-style',
    of: /^border-(top|right|bottom|left)-(width|color)$/,
    spec: 'CSS Backgrounds 3 §3.3',
    when: (c) => c.computed[c.property.replace(/width$|color$/, 'style')] === 'none',
    why: () => 'its border has no style',
    remedy: () => on('border-style', 'solid', 'Make the border solid'),
  },
  {
    code: 'outline-without-style',
    of: /^outline-(width|color|offset)$/,
    spec: 'CSS UI 4 §4.3',
    when: (c) => c.computed['outline-style'] === 'none',
    why: () => 'its outline has no style',
    remedy: () => on('outline-style', 'solid', 'Make the outline solid'),
  },
  {
    code: 'decoration-without-line',
    of: /^text-decoration-(color|style|thickness)$/,
    spec: 'CSS Text Decoration 3 §2',
    when: (c) => c.computed['text-decoration-line'] === 'none',
    why: () => 'its text has no decoration line',
    remedy: () => on('text-decoration-line', 'underline', 'Underline it'),
  },
  {
    code: 'transition-without-duration',
    of: /^transition-(property|timing-function)$/,
    spec: 'CSS Transitions 1 §2.2',
    when: (c) => /^0s(, 0s)*$/.test(c.computed['transition-duration'] ?? ''),
    why: () => 'its transitions last 0 seconds',
    remedy: () => on('transition-duration', '200ms', 'Let them last 200 ms'),
  },
  {
    code: 'animation-without-name',
    of: /^animation-(duration|delay|timing-function|iteration-count|direction|fill-mode)$/,
    spec: 'CSS Animations 1 §3.1',
    when: (c) => c.computed['animation-name'] === 'none',
    why: () => 'it has no animation',
  },
  {
    code: 'content-on-element',
    of: /^content$/,
    spec: 'CSS Content 3 §2',
    when: (c) => !/^(url|image|none|normal|.*gradient)/.test(c.value.trim()),
    why: () => 'text content is for ::before and ::after; an element takes images only',
  },
]

/** Why `property` does nothing for an element, by the rules of layout; null when nothing is known against it. */
export function whyNoEffect(property: string, facts: EffectFacts): NoEffect | null {
  const context: Context = {
    ...facts,
    property,
    display: facts.computed.display ?? '',
    parentDisplay: facts.parent.display ?? '',
  }
  if (!context.display) return null
  const reason = REASONS.find((r) => r.of.test(property) && r.when(context))
  return reason ? { code: reason.code, why: reason.why(context), spec: reason.spec, remedy: reason.remedy?.(context) ?? null } : null
}

/** The reasons there are, for the manual and the tests. */
export const NO_EFFECT_CODES: readonly string[] = REASONS.map((r) => r.code)
