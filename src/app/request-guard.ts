import { cookies } from 'next/headers'
import type * as z from 'zod'
import { readUrl } from '@/core/url'
import { SESSION_HOURS } from '@/server/accounts/sessions'
import { Failure, statuses } from '@/server/failure'
import { isSecure, siteOrigin, studioOrigin } from '@/serving/addresses'
import { CLIENT_ADDRESS } from '@/serving/client-address-header'
import { log } from './log'
import { EDITOR_COOKIE, SESSION_COOKIE } from './session'

const BODY_LIMIT = 2_000_000

/** A request that could have been made by another site is refused before anything is read. */
export function isOwnOrigin(request: Request): boolean {
  return isFromStudio(request) && request.headers.get('content-type')?.startsWith('application/json') === true
}

export function isFromStudio(request: Request): boolean {
  const origin = request.headers.get('origin')
  return origin === studioOrigin() || readUrl(origin ?? '')?.host === request.headers.get('host')
}

/** Whose request it is, as the server that holds the connection says. */
export function addressOf(request: Request): string {
  return request.headers.get(CLIENT_ADDRESS) ?? 'unknown'
}

/**
 * The body as JSON; `undefined` where it is none.
 *
 * @throws {Failure} where it is too large
 */
export async function readBody(request: Request): Promise<unknown> {
  const bytes = await readUpTo(request, BODY_LIMIT)
  if (bytes === 'tooLarge')
    throw new Failure(
      'input',
      `This is larger than ${BODY_LIMIT / 1e6} MB, and nothing of it was taken. Divide it, or bring it in as a file.`,
    )
  try {
    return bytes === null ? undefined : JSON.parse(bytes.toString('utf8').replace(/^\uFEFF/, ''))
  } catch {
    return undefined
  }
}

/** The body, read only as far as it may go; `null` where there is none. */
async function readUpTo(request: Request, limit: number): Promise<Buffer | 'tooLarge' | null> {
  if (request.body === null) return null
  if (Number(request.headers.get('content-length') ?? 0) > limit) return 'tooLarge'
  const parts: Uint8Array[] = []
  let size = 0
  for await (const part of request.body as unknown as AsyncIterable<Uint8Array>) {
    size += part.length
    if (size > limit) return 'tooLarge'
    parts.push(part)
  }
  return Buffer.concat(parts)
}

export function sessionCookies(token: string | null): string[] {
  const secure = isSecure(studioOrigin()) ? '; Secure' : ''
  const siteToo = isSecure(siteOrigin()) ? secure : ''
  const domain = process.env.SPRIG_COOKIE_DOMAIN === undefined ? '' : `; Domain=${process.env.SPRIG_COOKIE_DOMAIN}`
  const life = token === null ? 0 : SESSION_HOURS * 3600
  return [
    `${SESSION_COOKIE}=${token ?? ''}; Path=/; Max-Age=${life}; HttpOnly; SameSite=Strict${secure}`,
    `${EDITOR_COOKIE}=${token === null ? '' : '1'}; Path=/; Max-Age=${life}; HttpOnly; SameSite=Lax${siteToo}${domain}`,
  ]
}

interface More {
  readonly cookies?: readonly string[]
  readonly retryAfter?: number | null
}

export function answer(status: number, body: unknown, { cookies = [], retryAfter = null }: More = {}): Response {
  const headers = new Headers({
    'content-type': 'application/json',
    'cache-control': 'no-store',
    'x-content-type-options': 'nosniff',
    'content-security-policy': "default-src 'none'; frame-ancestors 'none'",
    'referrer-policy': 'same-origin',
  })
  for (const cookie of cookies) headers.append('set-cookie', cookie)
  if (retryAfter !== null) headers.set('retry-after', String(retryAfter))
  return new Response(JSON.stringify(body), { status, headers })
}

export function refusal({ code, message, retryAfter }: Failure): Response {
  return answer(statuses[code], { fault: message, code }, { retryAfter })
}

/**
 * A door for somebody whose session is not asked for first: refuses what another site sent and what does not parse, and
 * says in words what went wrong behind it.
 *
 * @param hint what to give, where the body is not that
 */
export function door<Body extends z.ZodType>(
  body: Body,
  hint: string,
  enter: (given: z.output<Body>, from: { readonly address: string; readonly token: string | undefined }) => Promise<Response>,
): (request: Request) => Promise<Response> {
  return async (request) => {
    if (!isOwnOrigin(request)) return notFromStudio()
    const parsed = body.safeParse(await readBody(request))
    if (!parsed.success) return answer(400, { fault: hint, code: 'input' })
    try {
      const token = (await cookies()).get(SESSION_COOKIE)?.value
      return await enter(parsed.data, { address: addressOf(request), token })
    } catch (reason) {
      if (reason instanceof Failure) return refusal(reason)
      log.error(reason)
      return databaseAway()
    }
  }
}

export const signedOut = () => answer(401, { fault: 'You are signed out. Sign in again.', code: 'signIn' })
export const notFromStudio = () => answer(403, { fault: 'This request did not come from the studio.', code: 'role' })
export const databaseAway = () =>
  answer(503, { fault: 'The database does not answer. What you typed is kept here; try again in a moment.', code: 'broken' })
