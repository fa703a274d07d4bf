import type { FastifyReply, FastifyRequest } from 'fastify'
import fresh from 'fresh'
import rangeParser from 'range-parser'
import { methodsOfRoute } from '@/core/site-routes'
import { readUrl } from '@/core/url'
import type { Asset } from './assets'
import { plainPage } from './compile/head'
import type { CompiledSite } from './compile/compile'
import { coded } from './serve/coding'

export const policy = (scripts: readonly string[]) =>
  `default-src 'none'; script-src ${["'self'", ...scripts].join(' ')}; media-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'`

/** Which of a page's powers nothing on this site needs, and how it stands to pages that it opens or is opened by. */
export const usualPolicies = {
  'permissions-policy': 'camera=(), geolocation=(), microphone=(), payment=(), usb=()',
  'cross-origin-opener-policy': 'same-origin-allow-popups',
}

export const SECURITY = {
  'content-security-policy': policy([]),
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'strict-origin-when-cross-origin',
}

/** A path of this site and no other: nobody is sent elsewhere by an address that begins here. */
export function ownPath(path: string): string {
  return path.length <= 2000 && /^\/(?![/\\])[\x21-\x7e]*$/.test(path) ? path : '/'
}

/** A few words instead of a page. */
export function plain(reply: FastifyReply, status: number, words: string): FastifyReply {
  return reply
    .code(status)
    .headers({ ...SECURITY, 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' })
    .send(`${words}\n`)
}

export function tooMany(reply: FastifyReply, seconds: number): FastifyReply {
  return plain(reply.header('retry-after', String(seconds)), 429, `That is too often. Try again in ${seconds} seconds.`)
}

export function notFound(reply: FastifyReply, compiled: CompiledSite, style: string): FastifyReply {
  const body = `<main class="section ground-light"><div class="measure text"><h1 class="heading grand">There is no page here.</h1><div class="text lead"><p>It may have moved. <a href="${compiled.view.front}">Start again from the front</a>.</p></div></div></main>`
  return reply
    .code(404)
    .headers({ ...SECURITY, 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' })
    .send(plainPage('Not here', style, body, compiled.release.identity.language))
}

/** A file from memory, or the one range of it that was asked for. */
export function sendAsset(
  request: FastifyRequest,
  reply: FastifyReply,
  asset: Asset | undefined,
  forGood: boolean,
  more: Readonly<Record<string, string>> = {},
): FastifyReply {
  if (asset === undefined) return plain(reply, 404, 'There is no such file.')
  const asked = request.headers
  // A range is one of the bytes as they are.
  const whole = asked.range === undefined
  const sent = coded(asset.body, asset.type, whole ? asked['accept-encoding'] : undefined, asset.etag)
  const etag = sent.etag ?? asset.etag
  const headers = {
    ...SECURITY,
    ...sent.said.headers,
    'content-type': asset.type,
    etag,
    'cache-control': forGood ? 'public, max-age=31536000, immutable' : 'public, max-age=300',
    'accept-ranges': 'bytes',
    ...more,
  }
  if (fresh(asked, { etag })) return reply.code(304).headers(withoutBody(headers)).send()
  const ranges = isRangeOf(asset, asked) ? rangeParser(asset.body.length, asked.range ?? '') : undefined
  if (ranges === -1)
    return plain(reply, 416, 'The file ends before that.').header('content-range', `bytes */${asset.body.length}`)
  const [range, ...others] = ranges === undefined || ranges === -2 ? [] : ranges
  // Of several ranges at once, which no player asks for, the whole is sent.
  if (range === undefined || others.length > 0) return reply.code(200).headers(headers).send(sent.body)
  return reply
    .code(206)
    .headers({ ...headers, 'content-range': `bytes ${range.start}-${range.end}/${asset.body.length}` })
    .send(asset.body.subarray(range.start, range.end + 1))
}

/** What was asked for by bytes is that only while the file is still the same (RFC 9110, 13.1.5). */
function isRangeOf({ etag }: Asset, { range, 'if-range': same }: FastifyRequest['headers']): boolean {
  return range?.startsWith('bytes=') === true && (same === undefined || same === etag)
}

/** What was not changed is not described again. */
function withoutBody(headers: Readonly<Record<string, string>>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(headers).filter(
      ([name]) => name !== 'content-type' && name !== 'content-encoding' && name !== 'accept-ranges',
    ),
  )
}

/** The methods of an address that is no page. */
/** How an address can be asked; where no route of the site is, there is a page or nothing. */
export function methodsAt(url: string): string {
  const methods = methodsOfRoute(url.split('?')[0] ?? '') ?? ['GET']
  return [...methods.flatMap((method) => (method === 'GET' ? ['GET', 'HEAD'] : [method])), 'OPTIONS'].join(', ')
}

/** For a method that an address does not have, or the question which ones it has (RFC 9110, 9.3.7 and 15.5.6). */
export function otherMethod(request: FastifyRequest, reply: FastifyReply): FastifyReply {
  const allow = methodsAt(request.url)
  if (request.method === 'OPTIONS')
    return reply
      .code(204)
      .headers({ ...SECURITY, allow })
      .send()
  return plain(reply.header('allow', allow), 405, `This address answers to ${allow.replace(/, OPTIONS$/, '')} only.`)
}

/** A browser always names the origin of a cross-site POST; what comes without one is no browser. */
export function isOwnOrigin(request: FastifyRequest): boolean {
  const { origin, host } = request.headers
  if (origin === undefined) return true
  return readUrl(origin)?.host === host
}

/** An address as it may stand in a header: an address with other signs in it in its encoded form (RFC 3986; IDNA for hosts). */
export function inHeader(address: string): string {
  if (/^[\x21-\x7e]*$/.test(address)) return address
  const url = readUrl(address, 'http://site')
  if (url === null) return '/'
  return url.origin === 'http://site' ? url.href.slice(url.origin.length) : url.href
}
