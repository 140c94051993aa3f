import { NextResponse, type NextRequest } from 'next/server'
import { isLiveHost, liveOriginTemplate } from './live/origin'
import { OWN_PATH } from './live/protocol'

/** One server, two kinds of origin: the interface's, and those of the live pages. Neither serves the other's routes. */
export function proxy(request: NextRequest): NextResponse {
  const { pathname } = request.nextUrl
  const live = isLiveHost(request.headers.get('host') ?? '', liveOriginTemplate())
  if (!live) {
    if (pathname.startsWith('/live/')) return new NextResponse('Not found', { status: 404 })
    const response = NextResponse.next()
    // A live page must not be able to put the interface in a frame.
    response.headers.set('content-security-policy', "frame-ancestors 'none'")
    return response
  }
  const asset = pathname.startsWith(OWN_PATH) ? pathname.slice(OWN_PATH.length) : 'unpublished'
  return NextResponse.rewrite(new URL(`/live/${encodeURIComponent(asset)}`, request.url))
}
