import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import Negotiator from 'negotiator'

/** The codings that bytes may be sent in (RFC 9110, 8.4.1), the best first. */
const codings = ['br', 'gzip'] as const
type Coding = (typeof codings)[number]

/** Shorter than one packet of a network: nothing is won. */
const SHORTEST = 1000
const words = /^(text\/|application\/(json|xml|javascript|atom\+xml|rss\+xml)|image\/svg\+xml)/

/** What has been put into a coding stays with the bytes it was made of, for as long as these are kept. */
const made = new WeakMap<Buffer, Map<Coding, Buffer>>()

export interface Coded {
  readonly body: Buffer
  /** `content-encoding` and `vary` as far as they apply. */
  readonly headers: Readonly<Record<string, string>>
  /** The entity tag of these bytes: another one for each coding. */
  readonly etag: string | null
}

/**
 * Bytes in the best coding that whoever asks can take.
 *
 * @param accepts the header `accept-encoding`
 * @param etag of the bytes without a coding; `null` where they have none
 */
export function coded(body: Buffer, type: string, accepts: string | undefined, etag: string | null): Coded {
  if (body.length < SHORTEST || !words.test(type)) return { body, headers: {}, etag }
  const coding = codingFor(accepts)
  if (coding === null) return { body, headers: { vary: 'accept-encoding' }, etag }
  return {
    body: inCoding(body, coding),
    headers: { 'content-encoding': coding, vary: 'accept-encoding' },
    etag: etag === null ? null : etag.replace(/"$/, `-${coding}"`),
  }
}

function codingFor(accepts: string | undefined): Coding | null {
  if (accepts === undefined || accepts === '') return null
  const wanted = new Negotiator({ headers: { 'accept-encoding': accepts } }).encodings([...codings, 'identity'])
  // What somebody takes as well as any other is sent as small as can be.
  return codings.find((coding) => wanted.includes(coding)) ?? null
}

function inCoding(body: Buffer, coding: Coding): Buffer {
  const known = made.get(body) ?? new Map<Coding, Buffer>()
  const before = known.get(coding)
  if (before !== undefined) return before
  const small =
    coding === 'gzip'
      ? gzipSync(body, { level: 6 })
      : brotliCompressSync(body, {
          params: { [constants.BROTLI_PARAM_QUALITY]: 5, [constants.BROTLI_PARAM_SIZE_HINT]: body.length },
        })
  made.set(body, known.set(coding, small))
  return small
}
