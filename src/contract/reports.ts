import * as z from 'zod'
import { dayOrders } from '@/core/formats/dates'
import { orderNumberSchema } from '@/core/goals'
import { idText } from '@/core/ids'
import { readUrl } from '@/core/url'
import { asks, goesLive, nothing, paging, rulesSite, when } from './action'

/** An origin as browsers send it: scheme, host and port, nothing after it. */
export const originSchema = z
  .string()
  .trim()
  .max(200)
  .refine((text) => /^https?:/.test(text) && readUrl(text)?.origin === text, {
    error: 'an origin looks like https://shop.example, without a path',
  })
  .refine((text) => !text.includes('*'), 'one origin, and no pattern: make a key for each')

export const keyLine = z.object({
  id: z.string(),
  name: z.string(),
  origin: z.string(),
  createdAt: when,
  createdBy: z.string(),
  revokedAt: when.nullable(),
})

/** What a column of a table of orders and conversions can be. */
export const csvFields = ['number', 'at', 'value', 'visitor', 'event', 'kind', 'currency'] as const

export type CsvField = (typeof csvFields)[number]

/** The column of each field, counted from 0; `null` where the table has none. */
export const csvMapping = z.object({
  number: z.number().int().min(0).nullable(),
  at: z.number().int().min(0).nullable(),
  value: z.number().int().min(0).nullable(),
  visitor: z.number().int().min(0).nullable(),
  event: z.number().int().min(0).nullable(),
  kind: z.number().int().min(0).nullable(),
  currency: z.number().int().min(0).nullable(),
  /** What stands before the cents; `null` where the column says it. */
  decimal: z.enum(['.', ',']).nullable().default(null),
  /** Which number of a date is the day; `null` where the column says it. */
  dayOrder: z.enum(dayOrders).nullable().default(null),
})
export type CsvMapping = z.infer<typeof csvMapping>

export type CsvColumn = Exclude<keyof CsvMapping, 'decimal' | 'dayOrder'>

export const csvRefusal = z.object({ line: z.number(), fault: z.string() })

/** A table of orders that was sent and lies ready to be brought in. */
export const csvPreview = z.object({
  table: idText,
  columns: z.array(z.string()),
  rows: z.array(z.array(z.string())),
  lines: z.number(),
  mapping: csvMapping,
  /** What each column, read as amounts, says of its decimal sign. */
  decimals: z.array(z.enum(['.', ',', 'none', 'unclear', 'both'])),
  /** What each column, read as dates, says of which number is the day. */
  dayOrders: z.array(z.enum([...dayOrders, 'none', 'unclear', 'both'])),
  /** By whose clock times without a zone are read. */
  timeZone: z.string(),
})

export const csvReport = z.object({
  taken: z.number(),
  known: z.number(),
  /** Lines that say again what a line above them said. */
  repeated: z.array(csvRefusal),
  repeatedInAll: z.number(),
  refused: z.array(csvRefusal),
  refusedInAll: z.number(),
})

/** How far a table is brought in. `fault`: why nothing of it is. */
export const csvProgress = z.object({
  table: idText,
  name: z.string(),
  lines: z.number(),
  done: z.number(),
  state: z.enum(['reading', 'done', 'refused']),
  report: csvReport,
  fault: z.string(),
})

/** How the stand-in for the service behind forms behaves. */
export const moods = ['accepts', 'refuses', 'slow', 'down'] as const

export const standInView = z.object({
  mood: z.enum(moods),
  currency: z.string(),
  entries: z.array(
    z.object({
      id: z.number(),
      page: z.string(),
      values: z.record(z.string(), z.string()),
      at: when,
      status: z.enum(['waiting', 'accepted', 'refused']),
      tries: z.number(),
      message: z.string(),
    }),
  ),
  entriesInAll: z.number(),
  /** What visitors wrote is for publishers and administrators; others see that it came. */
  entriesHidden: z.boolean(),
  waiting: z.number(),
  orders: z.array(z.object({ number: z.string(), at: when, value: z.number(), refunded: z.number(), closed: z.boolean() })),
  ordersInAll: z.number(),
  /** Where addresses are, by the stand-in’s table. */
  regions: z.array(z.object({ code: z.string(), name: z.string(), ranges: z.array(z.string()).readonly() })).readonly(),
})

export const reportActions = {
  'key.list': asks(nothing, z.object({ keys: z.array(keyLine), address: z.string() })),
  'key.create': rulesSite(
    z.object({ name: z.string().trim().min(1, 'say what the key is for').max(120), origin: originSchema }),
    z.object({ id: z.string(), key: z.string() }),
  ),
  'key.revoke': rulesSite(z.object({ id: idText }), z.object({ release: z.number() })),
  'order.take': goesLive(z.object({ table: idText, mapping: csvMapping }), nothing),
  'order.progress': asks(z.object({ table: idText }), csvProgress),
  'order.reading': asks(nothing, z.object({ tables: z.array(csvProgress) })),
  'standIn.read': asks(z.object({ ...paging, orders: z.number().int().min(1).max(100_000).default(1) }), standInView),
  'standIn.setList': goesLive(z.object({ mood: z.enum(moods) }), nothing),
  'standIn.closeOrder': goesLive(z.object({ order: orderNumberSchema }), nothing),
  'standIn.refundOrder': goesLive(
    z.object({ order: orderNumberSchema, amount: z.number().positive('pay back more than nothing').max(1_000_000) }),
    nothing,
  ),
}
