import {
  request as ask,
  type ClientRequest,
  type IncomingHttpHeaders,
  type IncomingMessage,
  type OutgoingHttpHeaders,
  type ServerResponse,
} from 'node:http'
import { request as askSafely } from 'node:https'
import { Transform, type Duplex } from 'node:stream'
import { INTERFACE_ATTRIBUTE } from '../../core/html'
import { OWN_PATH } from '../../live/protocol'
import { readBundledPart } from '../../core/css'
import { isJsxPath, stampCompiled } from '../../core/jsx'
import { decodePath } from '../../core/text'
import { partsOf, sheetOfParts } from './sheet-parts'

/** Headers that are about one connection and not the message (RFC 9110 §7.6.1). */
const HOP_BY_HOP: ReadonlySet<string> = new Set([
  'connection',
  'keep-alive',
  'proxy-authenticate',
  'proxy-authorization',
  'te',
  'trailer',
  'transfer-encoding',
  'upgrade',
])

/** How far into a page a place for the script is looked for; bytes. */
const LONGEST_START = 64 * 1024
const HEAD = /<head(?:\s[^>]*)?>/i

/** Headers of a request as the server is to get it: it is asked by its own address, as a browser there would ask. */
function forwarded(headers: IncomingHttpHeaders, { live, target }: Route): OutgoingHttpHeaders {
  const own = (value: string | undefined) => value?.replaceAll(`http://${live}`, target.origin)
  return {
    ...Object.fromEntries(Object.entries(headers).filter(([name]) => !HOP_BY_HOP.has(name))),
    host: target.host,
    ...(headers.origin && { origin: own(headers.origin) }),
    ...(headers.referer && { referer: own(headers.referer) }),
  }
}

// Asks the target and nobody else, whatever the request's own target names (RFC 9112 §3.2).
function asked(
  { method, url = '/' }: { readonly method?: string; readonly url?: string },
  headers: OutgoingHttpHeaders,
  { protocol, hostname, port }: URL,
): ClientRequest {
  const to = { method, headers, hostname: hostname.replace(/^\[|\]$/g, ''), port, path: url.startsWith('/') ? url : '/' }
  // The certificate of a server on this machine is its own.
  return protocol === 'https:' ? askSafely({ ...to, rejectUnauthorized: false }) : ask(to)
}

/** A `Content-Security-Policy` with our one script let in, and our window around the page (CSP 3 §6.1, §6.4.2). */
export function policyWithOurs(policy: string, studio: string, live: string): string {
  const directives = policy
    .split(';')
    .map((d) => d.trim())
    .filter(Boolean)
  const name = (d: string) => d.split(/\s+/)[0].toLowerCase()
  const script = ['script-src-elem', 'script-src', 'default-src'].find((n) => directives.some((d) => name(d) === n))
  return directives
    .flatMap((d) => {
      if (name(d) === 'frame-ancestors') return [`frame-ancestors ${studio}`]
      if (name(d) !== script) return [d]
      const ours = `http://${live}${OWN_PATH}`
      const more = `${d.replace(/\s+'none'$/i, '')} ${ours}`
      return script === 'default-src' ? [d, more.replace(/^\S+/, 'script-src')] : [more]
    })
    .join('; ')
}

/** Puts text into a page of HTML after its `<head>` tag, in front where it has none; what follows is passed on as it comes. */
export function insertIntoHead(text: string): Transform {
  let start: Buffer | null = Buffer.alloc(0)
  // One unit for each byte: tags are ASCII in each encoding that a server sends.
  const put = (html: Buffer): Buffer => {
    const tags = html.toString('latin1')
    const at = HEAD.exec(tags) ?? /<html(?:\s[^>]*)?>/i.exec(tags) ?? /<!doctype[^>]*>/i.exec(tags)
    const end = at ? at.index + at[0].length : 0
    return Buffer.concat([html.subarray(0, end), Buffer.from(text), html.subarray(end)])
  }
  return new Transform({
    transform(chunk: Buffer, _, done) {
      if (start === null) return done(null, chunk)
      start = Buffer.concat([start, chunk])
      if (!HEAD.test(start.toString('latin1')) && start.length < LONGEST_START) return done()
      const html = put(start)
      start = null
      done(null, html)
    },
    flush(done) {
      done(null, start === null ? undefined : put(start))
    },
  })
}

/** Where a live page comes from: a development server, behind the host of the page, in a window of the origin `studio`. */
export interface Route {
  readonly target: URL
  readonly live: string
  readonly studio: string
  /** The path that the project's pages begin with, where the server knows nothing of our stamps: its modules get them on their way. */
  readonly stampedBelow?: string
}

/** Answers a request to a live origin from its development server, with our script in pages. */
export function forward(route: Route, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const { target } = route
  const { accept = '', 'sec-fetch-dest': wanted } = request.headers
  const { path, query, part } = sheetAsked(request.url ?? '/')
  const isPage = wanted === undefined ? accept.includes('text/html') : wanted === 'iframe' || wanted === 'document'
  return new Promise((done) => {
    const headers = forwarded(request.headers, route)
    const isSheet = wanted === 'style' || part !== null
    const module = moduleAsked(path, route)
    // A page is changed on its way, so it is asked for as it is; and so is a sheet.
    if (isPage || isSheet || module !== null) headers['accept-encoding'] = 'identity'
    // What is kept of a bundle says nothing of its parts.
    if (isSheet) for (const name of ['if-none-match', 'if-modified-since', 'range']) delete headers[name]
    const going = asked({ method: request.method, url: part ? path + part.whole : request.url }, headers, target)
    going.on('response', (answer) => {
      if (isSheet && isType(answer, /^text\/css\b/i)) void sendSheet(answer, response, route, { path, query, nth: part?.nth ?? null })
      else if (module !== null && answer.statusCode === 200 && isType(answer, /javascript/i))
        void sendModule(answer, response, route, module)
      else passOn(answer, response, route)
      done()
    })
    going.on('error', (error: NodeJS.ErrnoException) => {
      if (response.headersSent) response.destroy()
      else
        response
          .writeHead(502, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' })
          .end(`The development server at ${target.host} does not answer (${error.code ?? error.message}).`)
      done()
    })
    response.on('close', () => going.destroy())
    request.pipe(going)
  })
}

/** The text of an answer. @throws where it is cut off. */
const textOf = async (answer: IncomingMessage): Promise<string> => Buffer.concat(await answer.toArray()).toString('utf8')

const isType = ({ headers }: IncomingMessage, type: RegExp): boolean =>
  type.test(headers['content-type'] ?? '') && !headers['content-encoding']

// The headers of an answer as the page is to get them.
function answered(answer: IncomingMessage, { target, live, studio }: Route): OutgoingHttpHeaders {
  const headers: OutgoingHttpHeaders = Object.fromEntries(Object.entries(answer.headers).filter(([name]) => !HOP_BY_HOP.has(name)))
  const { location, 'set-cookie': cookies, 'content-security-policy': policy } = answer.headers
  if (location) headers.location = location.replace(target.origin, `http://${live}`)
  // It may be set for the server's own address, which this is not.
  if (cookies) headers['set-cookie'] = cookies.map((c) => c.replace(/;\s*domain=[^;]*/i, ''))
  if (policy !== undefined) headers['content-security-policy'] = policyWithOurs(String(policy), studio, live)
  delete headers['x-frame-options']
  return headers
}

function passOn(answer: IncomingMessage, response: ServerResponse, route: Route): void {
  const headers = answered(answer, route)
  const isHtml = isType(answer, /^text\/html\b/i)
  if (isHtml) {
    delete headers['content-length']
    headers['cache-control'] = 'no-store'
  }
  response.writeHead(answer.statusCode!, headers)
  // What is streamed is passed on as it comes.
  response.flushHeaders()
  const script = `<script src="${OWN_PATH}agent.js" ${INTERFACE_ATTRIBUTE}="${route.studio}"></script>`
  if (isHtml) answer.pipe(insertIntoHead(script)).pipe(response)
  else answer.pipe(response)
  answer.on('error', () => response.destroy())
}

/** The path and the query of a request, and the part of a sheet that it asks for. */
function sheetAsked(url: string): { readonly path: string; readonly query: string; readonly part: ReturnType<typeof readBundledPart> } {
  const at = url.indexOf('?')
  const [path, query] = at < 0 ? [url, ''] : [url.slice(0, at), url.slice(at)]
  return { path, query, part: readBundledPart(query) }
}

/** The path from the top of the project of the component that a module is; null where it is none of the project's own, or it has its stamps. */
function moduleAsked(path: string, { stampedBelow }: Route): string | null {
  const decoded = decodePath(path)
  if (stampedBelow === undefined || !decoded?.startsWith(stampedBelow)) return null
  const own = decoded.slice(stampedBelow.length)
  return isJsxPath(own) && !own.startsWith('@') && !own.includes('node_modules/') ? own : null
}

/** Sends a module with the stamps of its tags; what cannot be read as it came. */
async function sendModule(answer: IncomingMessage, response: ServerResponse, route: Route, module: string): Promise<void> {
  const text = await textOf(answer).catch(() => null)
  if (text === null) {
    response.destroy()
    return
  }
  let body = text
  try {
    body = stampCompiled(text, module)
  } catch {
    // What cannot be read is for the browser to say.
  }
  response.writeHead(200, { ...answered(answer, route), 'content-length': Buffer.byteLength(body) }).end(body)
}

/** Sends the sheet that a bundler joined of several as one that imports them, or, of those, the one that is the `nth`; any other as it came. */
async function sendSheet(
  answer: IncomingMessage,
  response: ServerResponse,
  route: Route,
  { path, query, nth }: { readonly path: string; readonly query: string; readonly nth: number | null },
): Promise<void> {
  const text = await textOf(answer).catch(() => null)
  if (text === null) {
    response.destroy()
    return
  }
  const parts = partsOf(text)
  const body =
    nth !== null
      ? (parts.find((part) => part.nth === nth)?.text ?? '')
      : parts.length
        ? sheetOfParts(parts, path.slice(path.lastIndexOf('/') + 1), query)
        : text
  const headers = { ...answered(answer, route), 'content-length': Buffer.byteLength(body) }
  response.writeHead(answer.statusCode!, parts.length ? { ...headers, 'cache-control': 'no-store' } : headers).end(body)
}

/** Opens a web socket to the server (RFC 6455 §4), such as the one that brings hot updates. */
export function upgrade(route: Route, request: IncomingMessage, socket: Duplex, head: Buffer): void {
  const headers = { ...forwarded(request.headers, route), connection: 'Upgrade', upgrade: request.headers.upgrade }
  const going = asked(request, headers, route.target)
  const end = () => {
    going.destroy()
    socket.destroy()
  }
  going.on('upgrade', (answer, far, farHead) => {
    const lines = Object.entries(answer.headers).flatMap(([name, value]) => [value ?? ''].flat().map((v) => `${name}: ${v}`))
    socket.write(`HTTP/1.1 101 Switching Protocols\r\n${lines.join('\r\n')}\r\n\r\n`)
    if (farHead.length) socket.write(farHead)
    if (head.length) far.write(head)
    far.pipe(socket).pipe(far)
    far.on('error', end)
    far.on('close', end)
  })
  going.on('response', (answer) => {
    socket.end(`HTTP/1.1 ${answer.statusCode} ${answer.statusMessage}\r\nconnection: close\r\n\r\n`)
    answer.resume()
  })
  going.on('error', end)
  socket.on('error', end)
  socket.on('close', end)
  going.end()
}
