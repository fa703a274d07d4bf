import * as z from 'zod'
import { testIdSchema, versionIdSchema, type RoundId, type TestId, type VersionId } from '../ids'
import { eventNameSchema } from '../events'
import type { Happening } from '../events'

/** Money that is reported, in the currency of the site. */
const value = z.number().min(0).max(1_000_000)

/** The number that the shop gave an order. */
export const orderNumberSchema = z
  .string()
  .regex(/^[A-Za-z0-9._-]{1,60}$/, 'an order’s number has letters, digits, “.”, “_” and “-”, 1 to 60')

const shared = {
  /** Made by the sender: the same id sent again is the same report. */
  id: z.string().min(1, 'give the report an id').max(120),
  /** The visitor as the site handed it over, 32 hexadecimal digits; without one it counts for nobody’s test. */
  visitor: z
    .string()
    .regex(/^[0-9a-f]{32}$/, 'a visitor has 32 hexadecimal digits')
    .optional(),
  /** When it happened; now where nothing is said. */
  at: z.iso.datetime({ offset: true }).optional(),
  currency: z.string().length(3).optional(),
}

/** Something that happened elsewhere. */
export const outsideReportSchema = z.discriminatedUnion('kind', [
  z.strictObject({ ...shared, kind: z.literal('event'), name: eventNameSchema, value: value.optional() }),
  z.strictObject({ ...shared, kind: z.literal('order'), order: orderNumberSchema, value }),
  z.strictObject({ ...shared, kind: z.literal('refund'), order: orderNumberSchema, value }),
  /** A version that was decided over HTTP was really seen. */
  z.strictObject({
    ...shared,
    visitor: shared.visitor.unwrap(),
    kind: z.literal('exposure'),
    test: testIdSchema,
    version: versionIdSchema,
  }),
])
export type OutsideReport = z.infer<typeof outsideReportSchema>

const factsSchema = z.looseObject({
  order: z.string().optional(),
  value: z.number().optional(),
  currency: z.string().optional(),
})

/**
 * CloudEvents 1.0.2 in JSON: `type` says what happened, `subject` to whom, `data` what it was worth. Data that are no
 * object, or none, say nothing more.
 */
export const cloudEventSchema = z.looseObject({
  specversion: z.literal('1.0'),
  id: z.string().min(1).max(1000),
  source: z.string().min(1).max(2000),
  type: z.string().min(1).max(60),
  subject: z.string().max(60).nullish(),
  time: z.iso.datetime({ offset: true }).nullish(),
  datacontenttype: z.string().max(200).nullish(),
  data: z.union([factsSchema, z.array(z.unknown()), z.string(), z.number(), z.boolean()]).nullish(),
  /** Data as they are when they are no JSON, in base64 (RFC 4648): JSON in it is read. */
  data_base64: z
    .string()
    .max(1_400_000)
    .regex(/^[A-Za-z0-9+/]*={0,2}$/, 'base64 has letters, digits, “+”, “/” and “=” at its end')
    .nullish(),
})
export type CloudEvent = z.infer<typeof cloudEventSchema>

/**
 * The report that a CloudEvent is; its checks are those of the report.
 *
 * @param id of the report: the sender's `source` and `id` together make an event one (CloudEvents 1.0.2, 3.1.1)
 * @param data what came with it
 */
export function reportOfCloudEvent({ type, subject, time }: CloudEvent, id: string, data: unknown): unknown {
  const facts = factsSchema.safeParse(data).data ?? {}
  const base = {
    id,
    ...(subject == null ? {} : { visitor: subject }),
    ...(time == null ? {} : { at: time }),
    ...(facts.currency === undefined ? {} : { currency: facts.currency }),
    ...(facts.value === undefined ? {} : { value: facts.value }),
  }
  return type === 'order' || type === 'refund'
    ? { ...base, kind: type, order: facts.order }
    : { ...base, kind: 'event', name: type }
}

const DAY = 86_400_000
/** Clocks differ a little; what claims to be later than this is wrong. */
const AHEAD = 5 * 60_000
const OLDEST = 90 * DAY

/**
 * What happened and when, from a report that is well formed. A moment a little ahead of the clock here is now.
 *
 * @param roundOf the round of a test that is live and has the version
 * @returns what is wrong with it, in words, where it cannot be taken
 */
export function happenedOutside(
  report: OutsideReport,
  now: number,
  { currency, roundOf }: { readonly currency: string; readonly roundOf: (test: TestId, version: VersionId) => RoundId | null },
): { readonly at: Date; readonly happening: Happening } | { readonly field: string; readonly fault: string } {
  const at = report.at === undefined ? now : Date.parse(report.at)
  if (at > now + AHEAD) return { field: 'at', fault: 'it has not happened yet by the clock here' }
  if (at < now - OLDEST) return { field: 'at', fault: 'it happened more than 90 days ago' }
  if (report.currency !== undefined && report.currency !== currency)
    return { field: 'currency', fault: `this site counts in ${currency}` }
  const when = new Date(Math.min(at, now))
  if (report.kind === 'exposure') {
    const round = roundOf(report.test, report.version)
    if (round === null) return { field: 'test', fault: 'no such test is live, or it has no such version' }
    return { at: when, happening: { kind: 'seen', round, version: report.version } }
  }
  if (report.kind === 'event') return { at: when, happening: { kind: 'event', name: report.name, value: report.value ?? null } }
  const sign = report.kind === 'refund' ? -1 : 1
  return { at: when, happening: { kind: 'order', order: report.order, value: sign * report.value } }
}
