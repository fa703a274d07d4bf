import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import Negotiator from 'negotiator'

/** The codings that bytes may be sent in (RFC 9110, 8.4.1), the best first. */
const codings = ['br', 'gzip'] as const
export type Coding = (typeof codings)[number]

/** Shorter than one packet of a network: nothing is won. */
const SHORTEST = 1000
const words = /^(text\/|application\/(json|xml|javascript|atom\+xml|rss\+xml)|image\/svg\+xml)/

/** What has been put into a coding stays with the bytes it was made of, for as long as these are kept. */
const made = new WeakMap<Buffer, Map<Coding, Buffer>>()

/** `content-encoding` and `vary` as far as they apply, in both forms in which Node takes them. */
interface Said {
  readonly headers: Readonly<Record<string, string>>
  readonly lines: readonly string[]
}
const saying = (headers: Readonly<Record<string, string>>): Said => ({ headers, lines: Object.entries(headers).flat() })
const AS_IT_IS = saying({})
const VARIES = saying({ vary: 'accept-encoding' })
const CODED: { readonly [Of in Coding]: Said } = {
  br: saying({ 'content-encoding': 'br', vary: 'accept-encoding' }),
  gzip: saying({ 'content-encoding': 'gzip', vary: 'accept-encoding' }),
}

export interface Coded {
  readonly body: Buffer
  readonly said: Said
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
  if (body.length < SHORTEST || !words.test(type)) return { body, said: AS_IT_IS, etag }
  const coding = codingFor(accepts)
  if (coding === null) return { body, said: VARIES, etag }
  return {
    body: inCoding(body, coding),
    said: CODED[coding],
    etag: etag === null ? null : etag.replace(/"$/, `-${coding}"`),
  }
}

/** A page of which there are too many to keep: in gzip from its parts where that is taken, else as it is. */
export function codedFromParts(assembly: FromParts, accepts: string | undefined): Coded {
  return takesGzip(accepts)
    ? { body: assembly.inGzip(), said: CODED.gzip, etag: null }
    : { body: assembly.plain(), said: VARIES, etag: null }
}

interface FromParts {
  plain(): Buffer
  inGzip(): Buffer
}

/** What somebody takes as well as any other is sent as small as can be. */
export const codingFor = (accepts: string | undefined): Coding | null => wantedBy(accepts)[0] ?? null

export const takesGzip = (accepts: string | undefined): boolean => wantedBy(accepts).includes('gzip')

const NOTHING: readonly Coding[] = []
/** There are a few dozen ways in which browsers say what they take. */
const wanted = new Map<string, readonly Coding[]>()

/** Every coding that can be sent, the best first. */
function wantedBy(accepts: string | undefined): readonly Coding[] {
  if (accepts === undefined || accepts === '') return NOTHING
  const before = wanted.get(accepts)
  if (before !== undefined) return before
  const said = new Negotiator({ headers: { 'accept-encoding': accepts } }).encodings([...codings, 'identity'])
  const found = codings.filter((coding) => said.includes(coding))
  if (wanted.size > 1000) wanted.clear()
  if (accepts.length < 200) wanted.set(accepts, found)
  return found
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
