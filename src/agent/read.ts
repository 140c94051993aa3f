import type {
  Answer,
  Box,
  ContainerLayout,
  Finding,
  FromPage,
  Geometry,
  GridItem,
  Hello,
  HoverFacts,
  Judged,
  NodeFacts,
  NodeInfo,
  PageEvent,
  Place,
  Rect,
  RequestType,
  Sides,
  Track,
  TreeRow,
} from './protocol'

/** What the page sent is not what was agreed on. */
export class ProtocolError extends Error {
  override readonly name = 'ProtocolError'

  constructor(
    private readonly wanted: string,
    private readonly path: readonly string[] = [],
  ) {
    super(`The page sent something that is not ${wanted}${path.length ? `, as ${path.join('.')}` : ''}`)
  }

  /** The same error of the field that holds what was refused. */
  within(field: string): ProtocolError {
    return new ProtocolError(this.wanted, [field, ...this.path])
  }
}

type Reader<T> = (value: unknown) => T

const fail = (what: string): never => {
  throw new ProtocolError(what)
}

const number: Reader<number> = (v) => (typeof v === 'number' && Number.isFinite(v) ? v : fail('a number'))
const whole: Reader<number> = (v) => (Number.isSafeInteger(v) && (v as number) >= 0 ? (v as number) : fail('a count'))
const boolean: Reader<boolean> = (v) => (typeof v === 'boolean' ? v : fail('a boolean'))
const text =
  (most = 100_000): Reader<string> =>
  (v) =>
    typeof v === 'string' && v.length <= most ? v : fail('a text of its length')
/** The most that a picture weighs; bytes. */
const MOST_PICTURE = 64 * 1024 * 1024
/** PNG §5.2, and WebP's container (RFC 9649 §2.4). */
const PNG_SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]
const WEBP_SIGNATURE = [0x57, 0x45, 0x42, 0x50]
const startsWith = (v: Uint8Array, at: number, bytes: readonly number[]): boolean => bytes.every((b, i) => v[at + i] === b)
const picture: Reader<Uint8Array> = (v) =>
  v instanceof Uint8Array && v.length <= MOST_PICTURE && (startsWith(v, 0, PNG_SIGNATURE) || startsWith(v, 8, WEBP_SIGNATURE))
    ? v
    : fail('a picture as PNG or WebP')
const oneOf =
  <T extends string>(...words: T[]): Reader<T> =>
  (v) =>
    words.includes(v as T) ? (v as T) : fail(words.join(' or '))
const nullable =
  <T>(read: Reader<T>): Reader<T | null> =>
  (v) =>
    v === null || v === undefined ? null : read(v)
const list =
  <T>(read: Reader<T>, most: number): Reader<T[]> =>
  (v) =>
    Array.isArray(v) && v.length <= most ? v.map(read) : fail(`a list of at most ${most}`)
const record =
  <T>(read: Reader<T>, most: number): Reader<Record<string, T>> =>
  (v) => {
    if (typeof v !== 'object' || v === null || Array.isArray(v)) return fail('a record')
    const entries = Object.entries(v)
    if (entries.length > most) return fail(`a record of at most ${most}`)
    return Object.fromEntries(entries.map(([k, x]) => [k, read(x)]))
  }
const object =
  <T extends object>(shape: { [K in keyof T]: Reader<T[K]> }): Reader<T> =>
  (v) => {
    if (typeof v !== 'object' || v === null) return fail('an object')
    const out: Partial<T> = {}
    for (const key in shape) {
      try {
        out[key] = shape[key]((v as Record<string, unknown>)[key])
      } catch (error) {
        throw error instanceof ProtocolError ? error.within(key) : error
      }
    }
    return out as T
  }

/** More than any page has; a list beyond it is not an answer but an attack. */
const MANY = 20_000

const box = object<Box>({ cx: number, cy: number, a: number, b: number, c: number, d: number, w: number, h: number })
const sides: Reader<Sides> = (v) => {
  const four = list(number, 4)(v)
  return four.length === 4 ? (four as unknown as Sides) : fail('four sides')
}
const rect = object<Rect>({ x: number, y: number, w: number, h: number })
const rects = list(rect, MANY)
const tracks = list(object<Track>({ at: number, size: number }), 1000)
const layout = object<ContainerLayout>({
  kind: oneOf('flex', 'grid'),
  columns: tracks,
  rows: tracks,
  mirrored: boolean,
  areas: list(object({ name: text(1000), x: number, y: number, w: number, h: number }), 1000),
  lines: rects,
  free: rects,
  content: rect,
})
const source: Reader<string> = (v) => (/^\d{1,9}\.\d{1,9}$/.test(text(20)(v)) ? (v as string) : fail('a source'))
// A page can put any text in the attribute; what is no id of ours is no source.
const looseSource: Reader<string | null> = (v) => {
  try {
    return nullable(source)(v)
  } catch {
    return null
  }
}
const place: Reader<Place> = (v) =>
  (v as { kind?: unknown } | null)?.kind === 'grid'
    ? object<Extract<Place, { kind: 'grid' }>>({
        kind: oneOf('grid'),
        columns: tracks,
        rows: tracks,
        mirrored: boolean,
        items: nullable(list(object<GridItem>({ source: looseSource, column: number, row: number, own: boolean }), MANY)),
      })(v)
    : object<Extract<Place, { kind: 'flex' }>>({
        kind: oneOf('flex'),
        axis: oneOf('x', 'y'),
        from: number,
        to: number,
        free: number,
        freeBefore: number,
      })(v)
const geometry = object<Geometry>({
  boxes: list(box, MANY),
  padding: sides,
  border: sides,
  margin: sides,
  gaps: rects,
  layout: nullable(layout),
  place: nullable(place),
  edges: nullable(object({ x: list(number, 1000), y: list(number, 1000) })),
})
const info = object<NodeInfo>({
  node: number,
  origin: oneOf('source', 'component', 'script', 'parser'),
  source: looseSource,
  tag: text(1000),
  id: text(10_000),
  classes: list(text(10_000), 2000),
  twin: nullable(number),
})
const stamp = object({ path: text(1000), nth: whole, mark: text(40) })
const madeBy = object({
  stamp,
  node: number,
  tag: text(1000),
  isOwn: boolean,
  index: whole,
  count: whole,
  sameUsage: whole,
  owners: list(object({ name: text(200), node: nullable(number), usage: nullable(stamp) }), 200),
})
const reach = object({ count: number, kin: boolean })
const matched = object({
  sheet: text(5000),
  order: number,
  rule: number,
  selectors: list(number, MANY),
  proximity: nullable(number),
})
const size = object({ width: number, height: number })
const facts = object<NodeFacts>({
  states: list(text(100), 100),
  partsPossible: list(text(100), 20),
  children: list(rect, 50),
  backdrop: nullable(text(200)),
  renderedFamily: text(1000),
  weights: nullable(list(text(100), 100)),
  ch: nullable(number),
  lineHeight: number,
  rootLineHeight: number,
  container: nullable(size),
  around: nullable(size),
  viewport: size,
  textLines: number,
  naturalWidth: number,
  stickyHindered: nullable(text(500)),
})
const sheetInfo = object({ name: text(5000), order: number, compiled: nullable(text(20_000_000)) })
const nothing: Reader<null> = () => null
const values = list(list(text(), 2000), 200_000)

const ANSWERS: { readonly [T in RequestType]: Reader<Answer<T>> } = {
  hit: nullable(
    object<NonNullable<Answer<'hit'>>>({
      info,
      geometry,
      facts: nullable(
        object<HoverFacts>({
          family: text(1000),
          size: text(100),
          weight: text(100),
          color: text(200),
          backdrop: nullable(text(200)),
          padding: text(500),
          margin: text(500),
          display: text(100),
          around: text(100),
        }),
      ),
    }),
  ),
  pick: nullable(
    object({
      info,
      geometry,
      ancestors: list(info, MANY),
      matched: list(list(matched, MANY), MANY),
      unmet: list(matched, MANY),
      unique: text(10_000),
      place: oneOf('first', 'last', 'only', 'between'),
      holds: object({ elements: boolean, wideText: boolean }),
      shadow: number,
      parts: list(text(100), 50),
      facts,
      reach: list(reach, MANY),
      computed: record(text(), 2000),
      parent: record(text(), 50),
      isSvg: boolean,
      nearestSource: nullable(info),
      made: nullable(madeBy),
      inline: list(text(1_000_000), MANY),
      rootFontSize: number,
      parentFontSize: number,
      writingMode: text(100),
      direction: text(100),
      nth: number,
      sheets: list(text(5000), MANY),
    }),
  ),
  walk: nullable(info),
  locate: nullable(info),
  tree: list(
    object<TreeRow>({ info, component: text(1000), depth: number, text: text(300), layout: oneOf('flex', 'grid', ''), hidden: boolean }),
    MANY,
  ),
  find: list(number, MANY),
  bringIntoView: nothing,
  within: list(info, MANY),
  like: list(info, MANY),
  sheets: list(sheetInfo, MANY),
  tie: object({ tied: number, dropped: number }),
  reach: list(number, MANY),
  watch: nothing,
  preview: nullable(values),
  read: values,
  judge: list(
    object<Judged>({
      of: number,
      shows: number,
      misses: list(
        object<Judged['misses'][number]>({
          reason: oneOf('stronger', 'undefined-variable', 'held', 'clamped', 'no-line'),
          property: text(200),
          shown: text(),
          meant: text(),
          by: nullable(text(200)),
          node: number,
          chosen: boolean,
        }),
        100,
      ),
    }),
    200,
  ),
  element: nullable(
    object({
      tag: text(1000),
      attributes: list(object({ name: text(1000), value: text(1_000_000) }), 2000),
      texts: list(text(1_000_000), MANY),
      children: list(text(100), MANY),
      count: number,
    }),
  ),
  lend: nothing,
  hold: nothing,
  sheetHolds: object({ count: number, differs: nullable(text(2000)) }),
  adopt: nothing,
  made: boolean,
  childTags: list(list(whole, 5000), 5000),
  given: list(nullable(text(100_000)), 5000),
  listed: list(text(1000), 5000),
  beginText: nullable(text(1000)),
  endText: list(object({ source, index: whole, was: text(1_000_000), text: text(1_000_000) }), 5000),
  drop: list(
    object({
      source: nullable(source),
      stamp: nullable(stamp),
      tag: text(1000),
      where: oneOf('before', 'after', 'first', 'last'),
      mark: object({ x: number, y: number, width: number, height: number }),
      within: boolean,
    }),
    100,
  ),
  hide: nothing,
  closed: list(info, 2000),
  stacking: nullable(
    object({
      contexts: list(object({ info, z: text(50), why: text(200) }), 1000),
      sharing: list(object({ info, z: text(50), above: boolean, context: info }), 200),
    }),
  ),
  palette: object({
    faces: list(object({ family: text(1000), weights: list(text(100), 100) }), 500),
    colors: list(object({ color: text(200), count: number }), 500),
  }),
  sync: object({ reload: boolean, whole: list(text(5000), 1000) }),
  sketch: object({
    width: number,
    height: number,
    ground: text(200),
    boxes: list(object({ x: number, y: number, w: number, h: number, fill: text(200), round: number }), 1000),
  }),
  picture: (v) => {
    const { ok } = object({ ok: boolean })(v)
    return ok
      ? { ok, ...object({ bytes: picture, width: number, height: number, scale: number })(v) }
      : { ok, ...object({ why: text(1000) })(v) }
  },
  findings: list(
    object<Finding>({
      info,
      rule: text(100),
      impact: oneOf('minor', 'moderate', 'serious', 'critical'),
      help: text(1000),
      why: text(5000),
      contrast: nullable(object({ ground: text(200), wanted: number })),
    }),
    MANY,
  ),
  overflow: object({ width: number, elements: list(info, 200) }),
  loaded: object({
    files: list(object({ url: text(10_000), by: text(100), size: whole, packed: whole }), MANY),
    pictures: list(object({ info, url: text(5000), width: whole, height: whole, enough: object({ width: whole, height: whole }) }), MANY),
    faces: list(object({ url: text(10_000), family: text(1000) }), MANY),
  }),
  inUse: object({
    faces: list(
      object({
        family: text(1000),
        weight: text(50),
        style: text(100),
        size: text(50),
        characters: whole,
        count: whole,
        nodes: list(number, 500),
      }),
      MANY,
    ),
    colors: list(
      object({ color: text(200), text: whole, ground: whole, edge: whole, paint: whole, count: whole, nodes: list(number, 500) }),
      MANY,
    ),
  }),
  reveal: nothing,
  wheel: nothing,
  scrollTo: nothing,
}

/** @throws ProtocolError when `value` is not an answer to a request of this type. */
export const readAnswer = <T extends RequestType>(type: T, value: unknown): Answer<T> => (ANSWERS[type] as Reader<Answer<T>>)(value)

const event: Reader<PageEvent> = (v) => {
  switch ((v as { event?: unknown }).event) {
    case 'frames':
      return object<Extract<PageEvent, { event: 'frames' }>>({
        event: oneOf('frames'),
        hover: nullable(geometry),
        picked: nullable(geometry),
        others: list(box, MANY),
        reach: list(box, MANY),
        containers: list(box, MANY),
        page: object({ scrollX: number, scrollY: number, width: number, height: number }),
      })(v)
    case 'sheets':
      return { event: 'sheets' }
    case 'tree':
      return { event: 'tree' }
    case 'typed':
      return object<Extract<PageEvent, { event: 'typed' }>>({ event: oneOf('typed'), keep: boolean })(v)
    case 'moved':
      return object<Extract<PageEvent, { event: 'moved' }>>({ event: oneOf('moved'), address: text(10_000) })(v)
    case 'painted':
      return { event: 'painted' }
    case 'leaving':
      return { event: 'leaving' }
    default:
      return fail('an event')
  }
}

/** @throws ProtocolError when the message is none of ours. The body of an answer is read by {@link readAnswer}. */
export function readFromPage(value: unknown): FromPage {
  if (typeof value !== 'object' || value === null) return fail('a message')
  const v = value as Record<string, unknown>
  if ('event' in v) return event(v)
  if ('error' in v) return { id: number(v.id), error: text()(v.error) }
  return { id: number(v.id), answer: v.answer }
}

/** The page's first message; null for anything else that it posts to its parent. */
export function readHello(value: unknown): Hello | null {
  try {
    return object<Hello>({ steady: oneOf('hello'), address: text(10_000), title: text(10_000) })(value)
  } catch {
    return null
  }
}
