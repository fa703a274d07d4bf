import ical, { ICalEventTransparency } from 'ical-generator'
import type { Knex } from 'knex'
import { roles } from '@/contract/contract'
import { accountIdSchema } from '@/core/ids'
import { statusWords } from '@/core/experiment'
import { studioOrigin } from '@/serving/addresses'
import { signerWith } from '@/serving/signer'
import * as z from 'zod'
import { testsBetween } from '../actions/test-calendar'
import { readLetterKey, readSettings } from '../stores/settings'

const DAY = 86_400_000
/** What is told: a year back, a year ahead. */
const AROUND = 365 * DAY
/** How long a test without an end is shown, so that a calendar does not fill up to its end. */
const OPEN_DAYS = 1

/**
 * Starts and ends of all tests as a calendar (RFC 5545). Each run of a test is an event of its own, under a name that it keeps.
 *
 * @returns text in the format of iCalendar
 */
export async function calendarFile(db: Knex, now: Date): Promise<string> {
  const { identity, timeZone } = await readSettings(db)
  const lines = await testsBetween(db, new Date(now.getTime() - AROUND), new Date(now.getTime() + AROUND))
  const calendar = ical({
    name: `Tests${identity.name === '' ? '' : ` on ${identity.name}`}`,
    prodId: '//Upbeat Sprig//Tests//EN',
    ttl: 3600,
  })
  const today = Math.floor(now.getTime() / DAY) * DAY
  for (const { id, name, page, status, changedAt, runs } of lines)
    for (const { from, to, isPlanned } of runs) {
      const start = new Date(from)
      const end = to === null ? new Date(Math.max(today + DAY, start.getTime()) + OPEN_DAYS * DAY) : new Date(to)
      const open = to === null ? ' Nobody has said when it ends.' : ''
      calendar.createEvent({
        id: `${id}-${start.getTime()}@tests`,
        // When it became as it is; what has no end yet goes a day further every day.
        stamp: new Date(to === null ? Math.max(today, Date.parse(changedAt)) : changedAt),
        start,
        end,
        summary: isPlanned ? `${name} (planned)` : name,
        description: `${statusWords[status]}, on “${page}”.${open} By the site’s clock (${timeZone}).`,
        url: `${studioOrigin()}/tests/${id}`,
        // It takes nobody's time.
        transparency: ICalEventTransparency.TRANSPARENT,
      })
    }
  return calendar.toString()
}

const accountRow = z.object({ role: z.enum(roles), disabled: z.coerce.boolean(), calendar: z.number() })

/** The address at which a calendar program may ask for it without signing in; it holds for as long as the account is open. */
export async function calendarAddress(db: Knex, account: string): Promise<string> {
  const signature = signerWith(await readLetterKey(db)).sign(signedText(account, await turnOf(db, account)))
  return `${studioOrigin()}/calendar.ics?for=${encodeURIComponent(account)}&key=${signature}`
}

export async function mayReadCalendar(db: Knex, account: string, signature: string): Promise<boolean> {
  const id = accountIdSchema.safeParse(account)
  if (!id.success) return false
  const row: unknown = await db('accounts').where({ id: id.data }).first('role', 'disabled', 'calendar')
  if (row === undefined) return false
  const { disabled, calendar } = accountRow.parse(row)
  return !disabled && signerWith(await readLetterKey(db)).fits(signedText(id.data, calendar), signature)
}

/** @param turn how often a new one was made: those before are not valid any more */
const signedText = (account: string, turn: number) => `calendar of tests for ${account}${turn === 0 ? '' : ` (${turn})`}`

async function turnOf(db: Knex, account: string): Promise<number> {
  const row: unknown = await db('accounts').where({ id: account }).first('calendar')
  return row === undefined ? 0 : z.object({ calendar: z.number() }).parse(row).calendar
}

/** For whoever gave the address to somebody who is to see it no more. */
export async function newCalendarAddress(db: Knex, account: string): Promise<string> {
  await db('accounts').where({ id: account }).increment('calendar', 1)
  return calendarAddress(db, account)
}
