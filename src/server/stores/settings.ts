import type { Knex } from 'knex'
import * as z from 'zod'
import { siteSettings } from '@/contract/contract'
import { calendarOf, type Calendar } from '@/core/time'
import type { LiveTransaction } from '../database/go-live'
import { jsonColumn } from '../database/json-column'

const { shape } = siteSettings

/** What an administrator decides for the whole site, as it is kept; what was never decided is as it is here. */
export const settingsSchema = z.object({
  identity: shape.identity.prefault({}),
  scripts: shape.scripts.default(false),
  currency: shape.currency.default('EUR'),
  // A zone that this machine does not know (any more) must not hold up all that is read beside it.
  timeZone: shape.timeZone.default('UTC').catch('UTC'),
  bounceSeconds: shape.bounceSeconds.default(5),
  share: shape.share.default(10_000),
  keeping: shape.keeping.default('browser'),
  withinDays: shape.withinDays.default(14),
  leavingOut: shape.leavingOut.prefault({}),
  consent: shape.consent.prefault({}),
  attributes: shape.attributes.default([]),
  demonstration: shape.demonstration.default(false),
  mail: shape.mail.default('none'),
  auditDays: shape.auditDays.default(400),
  eventDays: shape.eventDays.default(400),
  visitorDays: shape.visitorDays.default(90),
} satisfies Record<keyof typeof shape, z.ZodType>)
export type Settings = z.infer<typeof settingsSchema>

export async function readSettings(db: Knex): Promise<Settings> {
  const row: unknown = await db('settings').where({ name: 'site' }).first('value')
  return row === undefined ? settingsSchema.parse({}) : z.object({ value: jsonColumn(settingsSchema) }).parse(row).value
}

const calendars = new Map<string, Calendar>()

/** The calendar of the site. */
export async function readCalendar(db: Knex): Promise<Calendar> {
  return calendarIn((await readSettings(db)).timeZone)
}

/** A calendar remembers days: one for each zone is enough for a process. */
export function calendarIn(zone: string): Calendar {
  const known = calendars.get(zone) ?? calendarOf(zone)
  calendars.set(zone, known)
  return known
}

export async function writeSettings(trx: LiveTransaction, settings: Settings, author: string): Promise<void> {
  await trx('settings')
    .insert({ name: 'site', value: JSON.stringify(settings), updated_at: new Date(), updated_by: author })
    .onConflict('name')
    .merge()
}

/** What signs the links in newsletters; never leaves the servers. */
export async function readLetterKey(db: Knex): Promise<string> {
  const row: unknown = await db('settings').where({ name: 'letterKey' }).first('value')
  return row === undefined ? '' : z.object({ value: jsonColumn(z.object({ key: z.string() })) }).parse(row).value.key
}
