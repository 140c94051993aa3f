import type { Intent } from '../edit'
import {
  family,
  formatColor,
  formatLength,
  isLengthText,
  notationOf,
  parseColor,
  parseLength,
  PLAIN_NOTATION,
  sameColor,
  shadow,
} from '../value'
import { mainPlace, type Theme, type ThemeToken } from './read-theme'

/** What a token is as the format has it: a type, and a value (Design Tokens Format Module, §8 and §9). */
interface Said {
  readonly $type?: string
  readonly $value: unknown
}

/** Names that a token or a group may not have (§5.1.1). */
const NOT_A_NAME = /^\$|[{}.]/

/** The names of tokens as paths: cut at hyphens where that gives groups, and no name is a group's too. */
export function pathsOf(names: readonly string[]): ReadonlyMap<string, readonly string[]> {
  const bare = names.map((n) => n.slice(2))
  const out = new Map<string, readonly string[]>()
  for (const name of bare) {
    const path: string[] = []
    let rest = name
    for (;;) {
      const group = /^([^-]+)-(?=[^-])/.exec(rest)?.[1]
      const before = [...path, group].join('-')
      const isGroup = group !== undefined && !bare.includes(before) && bare.filter((n) => n.startsWith(`${before}-`)).length > 1
      if (!isGroup) break
      path.push(group)
      rest = rest.slice(group.length + 1)
    }
    out.set(`--${name}`, [...path, rest])
  }
  return out
}

/** The colour spaces of CSS Color 4, by the names that the format has for them (Color Module §4). */
const SPACES: Readonly<Record<string, readonly [space: string, channels: readonly string[], times: readonly number[]]>> = {
  rgb: ['srgb', ['r', 'g', 'b'], [1, 1, 1]],
  lrgb: ['srgb-linear', ['r', 'g', 'b'], [1, 1, 1]],
  hsl: ['hsl', ['h', 's', 'l'], [1, 100, 100]],
  hwb: ['hwb', ['h', 'w', 'b'], [1, 100, 100]],
  lab: ['lab', ['l', 'a', 'b'], [1, 1, 1]],
  lch: ['lch', ['l', 'c', 'h'], [1, 1, 1]],
  oklab: ['oklab', ['l', 'a', 'b'], [1, 1, 1]],
  oklch: ['oklch', ['l', 'c', 'h'], [1, 1, 1]],
  p3: ['display-p3', ['r', 'g', 'b'], [1, 1, 1]],
  a98: ['a98-rgb', ['r', 'g', 'b'], [1, 1, 1]],
  prophoto: ['prophoto-rgb', ['r', 'g', 'b'], [1, 1, 1]],
  rec2020: ['rec2020', ['r', 'g', 'b'], [1, 1, 1]],
  xyz65: ['xyz-d65', ['x', 'y', 'z'], [1, 1, 1]],
  xyz50: ['xyz-d50', ['x', 'y', 'z'], [1, 1, 1]],
}

const round = (n: number): number => Number(n.toFixed(6))

function colorSaid(text: string): unknown {
  const color = parseColor(text)
  const known = color && SPACES[color.mode]
  if (!color || !known) return null
  const [colorSpace, channels, times] = known
  const value = color as unknown as Record<string, number | undefined>
  const alpha = color.alpha ?? 1
  return {
    colorSpace,
    // A channel that a colour lacks is none (CSS Color 4 §4.4).
    components: channels.map((c, i) => (value[c] === undefined ? 'none' : round(value[c] * times[i]))),
    ...(alpha < 1 && { alpha: round(alpha) }),
    ...(text.trim().startsWith('#') && { hex: formatColor({ ...color, alpha: 1 }, { ...PLAIN_NOTATION, short: false }) }),
  }
}

function lengthSaid(text: string): unknown {
  const length = parseLength(text)
  const unit = length?.number === 0 && length.unit === '' ? 'px' : length?.unit
  // It has no other units (§8.2).
  return length && /^(px|rem)$/.test(unit ?? '') ? { value: length.number, unit } : null
}

function shadowSaid(text: string): unknown {
  const list = shadow.parse(text)?.map((s) => {
    const [offsetX, offsetY, blur, spread] = [s.x, s.y, s.blur ?? '0', s.spread ?? '0'].map(lengthSaid)
    const color = s.color === null ? null : colorSaid(s.color)
    return offsetX && offsetY && blur && spread && color ? { color, offsetX, offsetY, blur, spread, ...(s.inset && { inset: true }) } : null
  })
  if (!list?.length || list.some((s) => s === null)) return null
  return list.length === 1 ? list[0] : list
}

/** What a value is in the format; null where it has no form for it. */
function said({ name, kind, value }: Pick<ThemeToken, 'name' | 'kind' | 'value'>): Said | null {
  const of = ($type: string, $value: unknown): Said | null => ($value === null ? null : { $type, $value })
  if (kind === 'color') return of('color', colorSaid(value))
  if (kind === 'length') return of('dimension', lengthSaid(value))
  if (kind === 'shadow') return of('shadow', shadowSaid(value))
  if (kind === 'face') {
    const names = family.parse(value).map((f) => f.name)
    return of('fontFamily', names.length === 1 ? names[0] : names)
  }
  const time = /^(\d*\.?\d+)(ms|s)$/i.exec(value)
  if (time) return of('duration', { value: Number(time[1]), unit: time[2].toLowerCase() })
  const curve = /^cubic-bezier\(([^()]*)\)$/i.exec(value)?.[1].split(',').map(Number)
  if (curve?.length === 4 && curve.every(Number.isFinite)) return of('cubicBezier', curve)
  if (/^[+-]?(\d+\.?\d*|\.\d+)$/.test(value)) return of(/weight/.test(name) ? 'fontWeight' : 'number', Number(value))
  return null
}

const ALIAS = /^var\(\s*(--[^\s,()]+)\s*\)$/

/** The tokens of a project in the Design Tokens Community Group's format, and those that it has no form for. */
export function toDesignTokens({ tokens }: Pick<Theme, 'tokens'>): { readonly json: string; readonly left: readonly string[] } {
  const paths = pathsOf(tokens.map((t) => t.name))
  const kindOf = new Map(tokens.map((t) => [t.name, t]))
  const root: Record<string, unknown> = {}
  const left: string[] = []
  for (const token of tokens) {
    const alias = ALIAS.exec(token.value)?.[1]
    const target = alias === undefined ? null : kindOf.get(alias)
    const is: Said | null = target && said(withValue(target)) ? { $value: `{${paths.get(target.name)!.join('.')}}` } : said(token)
    const path = paths.get(token.name)!
    if (!is || path.some((part) => NOT_A_NAME.test(part))) {
      left.push(token.name)
      continue
    }
    let at = root
    for (const part of path.slice(0, -1)) at = (at[part] ??= {}) as Record<string, unknown>
    Object.defineProperty(at, path.at(-1)!, { value: is, enumerable: true, writable: true, configurable: true })
  }
  return { json: `${JSON.stringify(root, null, 2)}\n`, left }
}

// What a token says in the end, so that an alias of one that has no form has none.
const withValue = (token: ThemeToken): ThemeToken => ({ ...token, value: token.resolved ?? token.value })

/** The tokens as a rule of CSS. */
export const toCss = ({ tokens }: Pick<Theme, 'tokens'>): string =>
  `:root {\n${tokens.map(({ name, value }) => `  ${name}: ${value};\n`).join('')}}\n`

/** A token that a file brings. */
export interface GivenToken {
  readonly name: string
  /** As CSS writes it. */
  readonly value: string
}

/** What a file brings, and what of it could not be read, in words. */
export interface Given {
  readonly tokens: readonly GivenToken[]
  readonly faults: readonly string[]
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)

const isNumber = (value: unknown): value is number => typeof value === 'number' && Number.isFinite(value)

function colorText(value: unknown): string | null {
  if (typeof value === 'string') return parseColor(value) ? value.trim() : null
  if (!isObject(value) || !Array.isArray(value.components)) return null
  const { components, alpha = 1, hex } = value
  const space = Object.values(SPACES).find(([name]) => name === value.colorSpace)
  if (!space || components.length !== 3 || !isNumber(alpha) || !components.every((c) => c === 'none' || isNumber(c))) return null
  if (space[0] === 'srgb' && typeof hex === 'string' && parseColor(hex) && alpha === 1) return hex
  const isPercent = /^(hsl|hwb)$/.test(space[0])
  const parts = components.map((c, i) =>
    isPercent && i > 0 && c !== 'none' ? `${round(c as number)}%` : isNumber(c) ? String(round(c)) : 'none',
  )
  const words = parts.join(' ') + (alpha < 1 ? ` / ${round(alpha)}` : '')
  const text = /^(hsl|hwb|lab|lch|oklab|oklch)$/.test(space[0]) ? `${space[0]}(${words})` : `color(${space[0]} ${words})`
  const color = parseColor(text)
  if (!color) return null
  return space[0] === 'srgb' ? formatColor(color, PLAIN_NOTATION) : text
}

function lengthText(value: unknown): string | null {
  // Before it was an object, it was a text.
  if (typeof value === 'string') return isLengthText(value) ? value.trim() : null
  if (!isObject(value) || !isNumber(value.value) || typeof value.unit !== 'string' || !/^(px|rem)$/.test(value.unit)) return null
  return formatLength({ number: value.value, unit: value.unit })
}

function shadowText(value: unknown): string | null {
  const list = (Array.isArray(value) ? value : [value]).map((s: unknown) => {
    if (!isObject(s)) return null
    const parts = [s.offsetX, s.offsetY, s.blur, s.spread].map(lengthText)
    const color = colorText(s.color)
    return parts.every((p) => p !== null) && color !== null ? `${s.inset === true ? 'inset ' : ''}${parts.join(' ')} ${color}` : null
  })
  return list.length && list.every((s) => s !== null) ? list.join(', ') : null
}

function familyText(value: unknown): string | null {
  const names: unknown[] = Array.isArray(value) ? value : [value]
  if (!names.length || !names.every((n): n is string => typeof n === 'string' && n !== '' && !/["\\\n;{}]/.test(n))) return null
  return family.format(family.parse(names.map((n) => n.replace(/^'|'$/g, '')).join(', ')))
}

/** The weights that the format has names for (§8.5), as numbers. */
const WEIGHTS: Readonly<Record<string, number>> = {
  thin: 100,
  hairline: 100,
  'extra-light': 200,
  'ultra-light': 200,
  light: 300,
  normal: 400,
  regular: 400,
  book: 400,
  medium: 500,
  'semi-bold': 600,
  'demi-bold': 600,
  bold: 700,
  'extra-bold': 800,
  'ultra-bold': 800,
  black: 900,
  heavy: 900,
  'extra-black': 950,
  'ultra-black': 950,
}

/** A value as CSS writes it; null where its type is not one that a custom property is made of here, or it is not of that type. */
function textOfValue(type: string | null, value: unknown): string | null {
  switch (type) {
    case 'color':
      return colorText(value)
    case 'dimension':
      return lengthText(value)
    case 'shadow':
      return shadowText(value)
    case 'fontFamily':
      return familyText(value)
    case 'duration':
      if (typeof value === 'string') return /^\d*\.?\d+m?s$/i.test(value) ? value : null
      return isObject(value) && isNumber(value.value) && (value.unit === 'ms' || value.unit === 's') ? `${value.value}${value.unit}` : null
    case 'cubicBezier':
      return Array.isArray(value) && value.length === 4 && value.every(isNumber) ? `cubic-bezier(${value.join(', ')})` : null
    case 'number':
      return isNumber(value) ? String(value) : null
    case 'fontWeight':
      if (isNumber(value)) return value >= 1 && value <= 1000 ? String(value) : null
      return typeof value === 'string' && Object.hasOwn(WEIGHTS, value) ? String(WEIGHTS[value]) : null
    default:
      return null
  }
}

/** How many tokens of a file are taken. */
const MOST_TOKENS = 2000

const NAME = /^--[\w-]+$/

/** The first of the tokens of a file, with what of them cannot be taken, in words. */
export function firstOf(tokens: readonly GivenToken[], faults: readonly string[]): Given {
  const named = tokens.filter(({ name }) => NAME.test(name))
  return {
    tokens: named.slice(0, MOST_TOKENS),
    faults: [
      ...faults,
      ...tokens.flatMap(({ name }) => (NAME.test(name) ? [] : [`${name}: a custom property cannot have that name here.`])),
      ...(named.length > MOST_TOKENS ? [`It has ${named.length} tokens: the first ${MOST_TOKENS} are taken.`] : []),
      ...(tokens.length === 0 && faults.length === 0 ? ['It has no tokens.'] : []),
    ],
  }
}

const REFERENCE = /^\{([^{}]+)\}$/

/** How deep groups stand in each other at most. */
const MOST_DEEP = 32

/** Reads a file of the Design Tokens Community Group's format. What cannot be read is named in its faults, and the rest is taken. */
export function fromDesignTokens(json: string): Given {
  let root: unknown
  try {
    root = JSON.parse(json)
  } catch (error) {
    return { tokens: [], faults: [`It is not JSON: ${error instanceof Error ? error.message : String(error)}`] }
  }
  if (!isObject(root)) return { tokens: [], faults: ['It has no tokens.'] }
  const found = new Map<string, { readonly type: string | null; readonly value: unknown }>()
  const faults: string[] = []
  const visit = (group: Record<string, unknown>, path: readonly string[], around: string | null): void => {
    const type = typeof group.$type === 'string' ? group.$type : around
    if ('$value' in group) {
      found.set(path.join('.'), { type, value: group.$value })
      return
    }
    for (const [key, value] of Object.entries(group)) {
      const own = key === '$root' ? path : [...path, key]
      if ((key.startsWith('$') && key !== '$root') || !isObject(value)) continue
      if (own.length > MOST_DEEP) faults.push(`${path.join('.')} stands too deep in groups.`)
      else visit(value, own, type)
    }
  }
  visit(root, [], null)
  // An alias has the type of what it stands for (§7).
  const typeOf = (path: string, seen = new Set<string>()): string | null => {
    const token = found.get(path)
    const target = typeof token?.value === 'string' ? REFERENCE.exec(token.value)?.[1] : undefined
    if (target === undefined || seen.has(path)) return token?.type ?? null
    return token!.type ?? typeOf(target, seen.add(path))
  }
  const tokens = [...found].flatMap(([path, { value }]): GivenToken[] => {
    const name = nameOf(path)
    const target = typeof value === 'string' ? REFERENCE.exec(value)?.[1] : undefined
    const text = target !== undefined ? (found.has(target) ? `var(${nameOf(target)})` : null) : textOfValue(typeOf(path), value)
    if (text === null)
      faults.push(`${path}: ${typeOf(path) ?? 'a token without a type'} cannot be read from ${JSON.stringify(value)?.slice(0, 60)}.`)
    else return [{ name, value: text }]
    return []
  })
  return firstOf(tokens, faults)
}

const nameOf = (path: string): string => `--${path.split('.').join('-').replace(/\s+/g, '-')}`

/** How a project's tokens and those that a file brings differ. */
export interface Taking {
  readonly changed: readonly { readonly token: ThemeToken; readonly value: string }[]
  readonly fresh: readonly GivenToken[]
  /** How many say the same already. */
  readonly same: number
}

// Whether two values are the same thing, however they are written.
function isSame(a: string, b: string): boolean {
  const [one, other] = [a, b].map((t) => t.replace(/\s+/g, ' ').trim())
  if (one === other || sameColor(parseColor(one), parseColor(other))) return true
  const [x, y] = [parseLength(one), parseLength(other)]
  if (x && y) return x.number === y.number && (x.unit === y.unit || x.number === 0)
  const plain = (t: string) => t.replace(/["']/g, '').toLowerCase()
  return plain(one) === plain(other)
}

/** What of a file's tokens would change a project's, each in the notation that its own is written in. */
export function takingOf(theme: Pick<Theme, 'tokens'>, given: readonly GivenToken[]): Taking {
  const own = new Map(theme.tokens.map((t) => [t.name, t]))
  // Of two of one name the last counts.
  const last = [...new Map(given.map((g) => [g.name, g])).values()]
  const changed = last.flatMap(({ name, value }) => {
    const token = own.get(name)
    if (!token || isSame(token.value, value)) return []
    const [was, is] = [parseColor(token.value), parseColor(value)]
    // Hexadecimal both, it stays as the file has it.
    const isOther = was && is && !(token.value.startsWith('#') && value.startsWith('#'))
    return [{ token, value: isOther ? formatColor(is, notationOf(token.value)) : value }]
  })
  const fresh = last.filter(({ name }) => !own.has(name))
  return { changed, fresh, same: last.length - changed.length - fresh.length }
}

/** What writes them: each where the project defines it for always, new ones beside the last token that it has; null where nothing is to be written. */
export function takingIntent(theme: Pick<Theme, 'tokens'>, { changed, fresh }: Taking): Intent | null {
  const home = mainPlace(theme.tokens.at(-1)?.places ?? [])
  const set = ({ sheet, rule }: { readonly sheet: string; readonly rule: number }, name: string, value: string): Intent => ({
    kind: 'set',
    aim: { kind: 'rule', sheet, rule },
    name,
    value,
  })
  const intents = [
    ...changed.flatMap(({ token, value }) => {
      const place = mainPlace(token.places)
      return place ? [set(place, token.name, value)] : []
    }),
    ...(home ? fresh.map(({ name, value }) => set(home, name, value)) : []),
  ]
  const label = `${intents.length} ${intents.length === 1 ? 'token' : 'tokens'}`
  return intents.length ? { kind: 'together', intents, label, told: { name: 'tokens', after: 'as the file has them' } } : null
}
