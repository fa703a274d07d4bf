import { NextResponse, type NextRequest } from 'next/server'

/** A content security policy with a nonce for each page: no script runs but the studio's own. */
export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID())
  const policy = [
    "default-src 'self'",
    "worker-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    // Drawn parts carry styles of their own, as attributes and as sheets; scripts never stand in a page.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "frame-src 'self'",
    "frame-ancestors 'none'",
    "form-action 'self'",
    "base-uri 'none'",
    "object-src 'none'",
  ].join('; ')
  const headers = new Headers(request.headers)
  headers.set('x-nonce', nonce)
  headers.set('content-security-policy', policy)
  const response = NextResponse.next({ request: { headers } })
  response.headers.set('content-security-policy', policy)
  response.headers.set('x-content-type-options', 'nosniff')
  response.headers.set('referrer-policy', 'same-origin')
  return response
}

// Not for the interface under /api/: the framework would read what is sent there, up to a limit of its own, and cut it.
export const config = { matcher: [{ source: '/((?!_next/static|look/|icon.svg|healthz|api/).*)' }] }
