import murmurhash from 'murmurhash'
import type { DocumentId } from '../ids'
import { lotsOf, pick } from './visitors'

/** Somebody on the made-up list of a newsletter: the same person in every letter. */
export interface Reader {
  readonly number: number
  readonly address: string
  /** Their id as a visitor of the site. */
  readonly visitor: string
}

/** What is true of the readers, as it was set: shares between 0 and 1. */
export interface ReadersPlan {
  /** Of those it is sent to. */
  readonly opens: number
  /** Of those who open, by what the call to action is to them: its original, or a variant under test. */
  readonly follows: { readonly original: number; readonly variant: number }
  /** Of those who follow. */
  readonly buys: number
}

/** What one reader does with one letter, in hours after it was sent; `null` for what they do not do. */
export interface Reaction {
  readonly opens: number | null
  readonly follows: { readonly call: DocumentId; readonly after: number } | null
  readonly buys: number | null
}

const NOTHING: Reaction = { opens: null, follows: null, buys: null }

export function readerOf(number: number): Reader {
  const part = (which: number) => murmurhash.v3(`reader ${number} ${which}`).toString(16).padStart(8, '0')
  return {
    number,
    address: `reader-${String(number + 1).padStart(5, '0')}@letters.example`,
    visitor: [0, 1, 2, 3].map(part).join(''),
  }
}

/**
 * How a reader takes a letter with these calls to action, of which they follow one at most, the earlier ones sooner.
 * The same reader takes the same letter the same way. Half of those who open do so within four hours.
 */
export function reactionOf(
  plan: ReadersPlan,
  letter: number,
  { number }: Reader,
  calls: readonly { readonly call: DocumentId; readonly isVariant: boolean }[],
): Reaction {
  const lots = lotsOf(murmurhash.v3(`letter ${letter} reader ${number}`))
  // Seeds that lie near each other begin alike.
  for (let skipped = 0; skipped < 8; skipped++) lots()
  const [opening, waiting, choosing, following, buying, reading, thinking] = Array.from({ length: 7 }, lots) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ]
  if (opening >= plan.opens) return NOTHING
  const opens = (-Math.log(1 - waiting) * 4) / Math.LN2
  const [first] = calls
  if (first === undefined) return { ...NOTHING, opens }
  const chosen = pick(
    calls.map((call, place) => [call, 1 / (1 + place)] as const),
    choosing,
  )
  if (following >= (chosen.isVariant ? plan.follows.variant : plan.follows.original)) return { ...NOTHING, opens }
  const after = opens + 0.01 + reading * 0.1
  return { opens, follows: { call: chosen.call, after }, buys: buying < plan.buys ? after + 0.05 + thinking : null }
}
