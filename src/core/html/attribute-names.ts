/** What HTML knows of attributes (HTML §4 and its index of attributes): which there are for an element, and what they take. */

const list = (names: string): readonly string[] => names.split(' ')

/** They are there or not, whatever they say (HTML §2.3.2). */
const BOOLEAN: ReadonlySet<string> = new Set(
  list(
    'allowfullscreen async autofocus autoplay checked controls default defer disabled formnovalidate hidden inert ismap itemscope loop multiple muted nomodule novalidate open playsinline readonly required reversed selected',
  ),
)

export const isBooleanAttribute = (name: string): boolean => BOOLEAN.has(name.toLowerCase())

const GLOBAL = list(
  'accesskey autocapitalize autofocus class contenteditable dir draggable enterkeyhint hidden id inert inputmode is itemid itemprop itemref itemscope itemtype lang nonce popover role slot spellcheck style tabindex title translate',
)

const MEDIA = 'src crossorigin preload autoplay loop muted controls'
const FORM = 'form formaction formenctype formmethod formnovalidate formtarget'

const OWN: Readonly<Record<string, readonly string[]>> = {
  a: list('href target download ping rel hreflang type referrerpolicy'),
  area: list('alt coords shape href target download rel'),
  audio: list(MEDIA),
  blockquote: list('cite'),
  button: list(`disabled name type value popovertarget popovertargetaction ${FORM}`),
  canvas: list('width height'),
  col: list('span'),
  colgroup: list('span'),
  data: list('value'),
  del: list('cite datetime'),
  details: list('name open'),
  dialog: list('open'),
  fieldset: list('disabled form name'),
  form: list('accept-charset action autocomplete enctype method name novalidate target rel'),
  iframe: list('src srcdoc name sandbox allow allowfullscreen width height referrerpolicy loading'),
  img: list('alt src srcset sizes crossorigin usemap ismap width height referrerpolicy decoding loading fetchpriority'),
  input: list(
    `accept alt autocomplete checked dirname disabled height list max maxlength min minlength multiple name pattern placeholder readonly required size src step type value width popovertarget ${FORM}`,
  ),
  ins: list('cite datetime'),
  label: list('for'),
  li: list('value'),
  link: list('href crossorigin rel media integrity hreflang type referrerpolicy sizes as disabled'),
  meta: list('name http-equiv content charset media property'),
  meter: list('value min max low high optimum'),
  object: list('data type name form width height'),
  ol: list('reversed start type'),
  optgroup: list('disabled label'),
  option: list('disabled label selected value'),
  output: list('for form name'),
  progress: list('value max'),
  q: list('cite'),
  script: list('src type nomodule async defer crossorigin integrity'),
  select: list('autocomplete disabled form multiple name required size'),
  source: list('type media src srcset sizes width height'),
  table: list('border'),
  td: list('colspan rowspan headers'),
  textarea: list('autocomplete cols dirname disabled form maxlength minlength name placeholder readonly required rows wrap'),
  th: list('colspan rowspan headers scope abbr'),
  time: list('datetime'),
  track: list('default kind label src srclang'),
  video: list(`${MEDIA} poster playsinline width height`),
}

/** The attributes that HTML has for an element, its own first. */
export const attributesFor = (tag: string): readonly string[] => [...(OWN[tag] ?? []), ...GLOBAL]

const KEYWORDS: Readonly<Record<string, readonly string[]>> = {
  autocapitalize: list('off none on sentences words characters'),
  autocomplete: list('on off name email username new-password current-password tel street-address postal-code country-name cc-number bday'),
  contenteditable: list('true false plaintext-only'),
  crossorigin: list('anonymous use-credentials'),
  decoding: list('auto sync async'),
  dir: list('ltr rtl auto'),
  draggable: list('true false'),
  enctype: list('application/x-www-form-urlencoded multipart/form-data text/plain'),
  enterkeyhint: list('enter done go next previous search send'),
  fetchpriority: list('auto high low'),
  inputmode: list('none text tel url email numeric decimal search'),
  loading: list('lazy eager'),
  method: list('get post dialog'),
  popover: list('auto manual hint'),
  popovertargetaction: list('toggle show hide'),
  preload: list('none metadata auto'),
  referrerpolicy: list(
    'no-referrer no-referrer-when-downgrade origin origin-when-cross-origin same-origin strict-origin strict-origin-when-cross-origin unsafe-url',
  ),
  scope: list('row col rowgroup colgroup'),
  shape: list('rect circle poly default'),
  spellcheck: list('true false'),
  target: list('_self _blank _parent _top'),
  translate: list('yes no'),
  wrap: list('soft hard'),
  'input type': list(
    'text email tel url search password number range date time datetime-local month week color checkbox radio file hidden submit reset button image',
  ),
  'button type': list('button submit reset'),
  'ol type': list('1 a A i I'),
  'script type': list('module importmap'),
  'track kind': list('subtitles captions descriptions chapters metadata'),
  'a rel': list('external nofollow noopener noreferrer author help license next prev search tag'),
  'link rel': list('stylesheet icon preload modulepreload preconnect alternate canonical manifest'),
}

/** The keywords that an attribute takes on an element; empty where it takes any text. */
export const keywordsOf = (tag: string, name: string): readonly string[] => KEYWORDS[`${tag} ${name}`] ?? KEYWORDS[name] ?? []

/** One picture of a `srcset` with its descriptor, `2x` or `640w`; `''` for none (HTML §4.8.4.2.1). */
export interface SrcsetCandidate {
  readonly url: string
  readonly descriptor: string
}

/** What a `srcset` says (HTML §4.8.4.3.10); URLs may hold commas, but not end in one. */
export function parseSrcset(text: string): SrcsetCandidate[] {
  const out: SrcsetCandidate[] = []
  let rest = text.replace(/^[\s,]+/, '')
  while (rest !== '') {
    const [url] = /^\S+/.exec(rest)!
    rest = rest.slice(url.length)
    const bare = url.replace(/,+$/, '')
    // A comma at the end of the URL ends the candidate.
    const [, descriptor = ''] = bare === url ? (/^\s*([^,]*)/.exec(rest) ?? []) : []
    if (bare === url) rest = rest.replace(/^[^,]*/, '')
    if (bare) out.push({ url: bare, descriptor: descriptor.trim() })
    rest = rest.replace(/^[\s,]+/, '')
  }
  return out
}

export const srcsetText = (candidates: readonly SrcsetCandidate[]): string =>
  candidates.map((c) => (c.descriptor ? `${c.url} ${c.descriptor}` : c.url)).join(', ')
