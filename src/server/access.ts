import { randomBytes, timingSafeEqual } from 'node:crypto'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { OURS_HEADER } from '../folder'

/** The way in: the address that is printed at the start. */
export const OPEN_PATH = '/open/'

// In a time that tells nothing of where they differ.
function isSame(text: string, secret: string): boolean {
  const [a, b] = [Buffer.from(text), Buffer.from(secret)]
  return a.length === b.length && timingSafeEqual(a, b)
}

/**
 * Who may ask about the folder: a browser that was opened with the secret of this start, and has it in a cookie since
 * (RFC 6265bis), on the interface's own pages alone.
 */
export class Access {
  readonly secret = randomBytes(24).toString('base64url')
  private readonly cookie: string

  constructor(port: number) {
    // Cookies of one host are shared by its ports.
    this.cookie = `steady-brush-${port}`
  }

  isSecret(text: string): boolean {
    return isSame(text, this.secret)
  }

  /** Answers the address with the secret: the browser gets the cookie, and goes on to the interface without it in its address. Whether it was that address. */
  letIn(path: string, response: ServerResponse): boolean {
    if (!path.startsWith(OPEN_PATH)) return false
    if (this.isSecret(path.slice(OPEN_PATH.length)))
      response
        .writeHead(303, {
          location: '/',
          'set-cookie': `${this.cookie}=${this.secret}; Path=/; HttpOnly; SameSite=Strict`,
          'cache-control': 'no-store',
          'referrer-policy': 'no-referrer',
        })
        .end()
    else
      response
        .writeHead(403, { 'content-type': 'text/plain; charset=utf-8' })
        .end('This address is from an earlier start. Use the one that was printed last.')
    return true
  }

  /** Why a request is refused; null where it may go on. */
  refusal(request: IncomingMessage): { readonly status: number; readonly why: string } | null {
    const { host, origin, cookie = '' } = request.headers
    const site = request.headers['sec-fetch-site']
    // What a browser says of a request that another page makes (Fetch §3.2; Fetch Metadata §2.4).
    if (
      (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`) ||
      (site !== undefined && site !== 'same-origin')
    )
      return { status: 403, why: 'Only pages of Steady Brush itself may ask about the folder.' }
    if (request.method !== 'GET' && request.headers[OURS_HEADER] === undefined)
      return { status: 403, why: 'Only Steady Brush itself may change the folder.' }
    const values = cookie
      .split(';')
      .map((part) => part.trim())
      .filter((part) => part.startsWith(`${this.cookie}=`))
      .map((part) => part.slice(this.cookie.length + 1))
    return values.some((value) => this.isSecret(value))
      ? null
      : { status: 401, why: 'This browser was not opened with the address that was printed at the start.' }
  }
}
