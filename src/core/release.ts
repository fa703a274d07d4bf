import * as z from 'zod'
import { attributesSchema, consentSchema, leavingOutSchema, segmentSchema } from './decide'
import { documentSchema, type ContentDocument } from './document'
import { personalizationSchema, roundSchema } from './experiment'
import { goalSchema } from './goals'
import { identitySchema } from './identity'
import { documentIdSchema } from './ids'
import { pictureSizesSchema } from './picture-sizes'

/** An immutable, numbered snapshot of all that the site serves. */
export const releaseSchema = z.object({
  documents: z.array(documentSchema),
  rounds: z.array(roundSchema.extend({ paused: z.boolean() })),
  personalizations: z.array(personalizationSchema),
  /** Those that rules name, as they are now; a round keeps its own. */
  segments: z.array(segmentSchema).default([]),
  goals: z.array(goalSchema),
  /** Seconds after which a visit to one page is no bounce. */
  bounceSeconds: z.number().int().min(1).max(600).default(5),
  currency: z.string().default('EUR'),
  /** Whom no test and no count is for. */
  leavingOut: leavingOutSchema.prefault({}),
  /** What visitors are asked before anything is kept of them. */
  consent: consentSchema.prefault({}),
  /** All that the site may say of its visitors. */
  attributes: attributesSchema.default([]),
  /** By whose clock days and hours are meant. */
  timeZone: z.string().default('UTC'),
  /** What the site calls itself. */
  identity: identitySchema.prefault({}),
  /** Who may report from elsewhere: an origin with the SHA-256 of its key. */
  reporters: z.array(z.object({ id: z.string(), origin: z.string(), hash: z.string() })).default([]),
  /** Addresses that pages had before, and the page that answers there now. */
  redirects: z.array(z.object({ from: z.string(), document: documentIdSchema })).default([]),
  /** Whether scripts that variants bring may run. */
  scripts: z.boolean().default(false),
  /** Digests (SHA-256, base64) of the scripts that administrators put in: no other runs, wherever it stands. */
  approvedScripts: z.array(z.string()).default([]),
  /** Files of the media library that nothing else in it names: newsletters that were sent show them. */
  letterMedia: z.array(z.string()).default([]),
  /** What is known of the pictures that it names, by their names. */
  pictures: z.record(z.string(), pictureSizesSchema).default({}),
  /** Documents of it that could not be read any more, and stand in it as they could be last. */
  unread: z.array(z.object({ id: z.string(), words: z.string() })).default([]),
  /** Signs what newsletters and browsers carry, as hexadecimal; without one nothing of it is believed. */
  letterKey: z.string().default(''),
})
export type Release = Readonly<z.infer<typeof releaseSchema>>

/** Something in a release that cannot be used as it is, with the document it is about. */
export interface ReleaseFault {
  readonly id: string
  readonly words: string
}

const lists = ['documents', 'rounds', 'personalizations', 'segments', 'goals', 'reporters', 'redirects'] as const
const named = z.looseObject({ id: z.string().max(90) })

/**
 * A release as far as it can be read: what one part of it gets wrong costs that part, never the rest. A document that
 * cannot be read stays as it was in `before`.
 *
 * @returns `null` where it is no release at all
 */
export function readReleaseParts(
  value: unknown,
  before: readonly ContentDocument[] = [],
): { readonly release: Release; readonly faults: readonly ReleaseFault[] } | null {
  const whole = releaseSchema.safeParse(value)
  if (whole.success) return { release: whole.data, faults: [] }
  const loose = z.looseObject(Object.fromEntries(lists.map((list) => [list, z.array(z.unknown()).default([])]))).safeParse(value)
  if (!loose.success) return null
  const faults: ReleaseFault[] = []
  const parts: Record<string, unknown> = { ...loose.data }
  for (const list of lists) {
    const each = releaseSchema.shape[list]
    parts[list] = (loose.data[list] as unknown[]).flatMap((part): unknown[] => {
      const read = each.safeParse([part])
      if (read.success) return [part]
      const { data } = named.safeParse(part)
      const id = data?.id ?? list
      faults.push({ id, words: faultWords(read.error) })
      const kept = list === 'documents' ? before.find((document) => document.id === id) : undefined
      return kept === undefined ? [] : [kept]
    })
  }
  const mended = releaseSchema.safeParse(parts)
  return mended.success ? { release: mended.data, faults } : null
}

function faultWords({ issues }: z.ZodError): string {
  const [issue] = issues
  return `${issue?.path.slice(1).map(String).join(' › ') ?? ''}: ${issue?.message ?? 'not understood'}`
}
