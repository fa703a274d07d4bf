import { SESSION_HOURS } from '@/server/accounts/sessions'
import { EDITOR_COOKIE, SESSION_COOKIE } from './session'

const BODY_LIMIT = 2_000_000

/** A request that could have been made by another site is refused before anything is read. */
export function isOwnOrigin(request: Request): boolean {
  return isFromStudio(request) && request.headers.get('content-type')?.startsWith('application/json') === true
}

export function isFromStudio(request: Request): boolean {
  const origin = request.headers.get('origin')
  try {
    return origin !== null && new URL(origin).host === request.headers.get('host')
  } catch {
    return false
  }
}

/** The body as JSON; `undefined` when it is too large or none. */
export async function readBody(request: Request): Promise<unknown> {
  const text = await request.text()
  if (text.length > BODY_LIMIT) return undefined
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

export function sessionCookies(token: string | null): string[] {
  const secure = process.env.STUDIO_SECURE === '1' ? '; Secure' : ''
  const domain = process.env.SPRIG_COOKIE_DOMAIN === undefined ? '' : `; Domain=${process.env.SPRIG_COOKIE_DOMAIN}`
  const life = token === null ? 0 : SESSION_HOURS * 3600
  return [
    `${SESSION_COOKIE}=${token ?? ''}; Path=/; Max-Age=${life}; HttpOnly; SameSite=Strict${secure}`,
    `${EDITOR_COOKIE}=${token === null ? '' : '1'}; Path=/; Max-Age=${life}; HttpOnly; SameSite=Lax${secure}${domain}`,
  ]
}

export function answer(status: number, body: unknown, cookies: readonly string[] = []): Response {
  const headers = new Headers({ 'content-type': 'application/json', 'cache-control': 'no-store' })
  for (const cookie of cookies) headers.append('set-cookie', cookie)
  return new Response(JSON.stringify(body), { status, headers })
}
