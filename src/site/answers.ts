import { readUrl } from '@/core/url'
import type { FastifyReply, FastifyRequest } from 'fastify'
import type { Asset } from './assets'
import { plainPage } from './compile/head'
import type { CompiledSite } from './compile/compile'

export const policy = (scripts: readonly string[]) =>
  `default-src 'none'; script-src ${["'self'", ...scripts].join(' ')}; media-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'`

export const SECURITY = {
  'content-security-policy': policy([]),
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'strict-origin-when-cross-origin',
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
  const body = `<main class="section ground-cream"><div class="measure text"><h1 class="heading grand">There is no page here.</h1><div class="text lead"><p>It may have moved. <a href="${compiled.view.addressOf('page:home')}">Start again from the front</a>.</p></div></div></main>`
  return reply
    .code(404)
    .headers({ ...SECURITY, 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' })
    .send(plainPage('Not here', style, body))
}

/** A file from memory, or the one range of it that was asked for. */
export function sendAsset(
  request: FastifyRequest,
  reply: FastifyReply,
  asset: Asset | undefined,
  forGood: boolean,
): FastifyReply {
  if (asset === undefined) return plain(reply, 404, 'There is no such file.')
  const unchanged = request.headers['if-none-match'] === asset.etag
  const headers = {
    ...SECURITY,
    'content-type': asset.type,
    etag: asset.etag,
    'cache-control': forGood ? 'public, max-age=31536000, immutable' : 'public, max-age=300',
    'accept-ranges': 'bytes',
  }
  if (unchanged) return reply.code(304).headers(headers).send()
  const range = rangeOf(request.headers.range, asset.body.length)
  if (range === null) return reply.code(200).headers(headers).send(asset.body)
  const [from, to] = range
  return reply
    .code(206)
    .headers({ ...headers, 'content-range': `bytes ${from}-${to}/${asset.body.length}` })
    .send(asset.body.subarray(from, to + 1))
}

/** The one range of bytes that players of films ask for (RFC 9110, 14.2); anything else gets the whole. */
function rangeOf(header: string | undefined, length: number): [from: number, to: number] | null {
  const match = /^bytes=(\d{1,15})-(\d{0,15})$/.exec(header ?? '')
  if (match === null) return null
  const from = Number(match[1])
  const to = match[2] === '' ? length - 1 : Math.min(Number(match[2]), length - 1)
  return from <= to ? [from, to] : null
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
