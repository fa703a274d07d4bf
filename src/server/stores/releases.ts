import type { Knex } from 'knex'
import * as z from 'zod'
import type { ContentDocument } from '@/core/document'
import { versionsInUse } from '@/core/experiment'
import { readReleaseParts, type Release, type ReleaseFault } from '@/core/release'
import { mediaNamedIn } from '@/core/media-names'
import { circleWords, newCircle } from '@/core/release-faults'
import { shortened } from '@/core/text'
import { OvertakenError } from '../database/connect'
import { holdNewest, type LiveTransaction } from '../database/go-live'
import { jsonColumn } from '../database/json-column'
import { Failure } from '../failure'
import { noteRules } from './counting-rules'
import { listRedirects, readAllPublished } from './documents'
import { liveKeys } from './report-keys'
import { approvedScripts } from './scripts'
import { readLetterKey, readSettings } from './settings'
import { publishedGoals } from './goals'
import { readPictureSizes } from './media'
import { mediaOfLetters } from './media-use'
import { lastRounds, testsWhere } from './tests'
import { segmentsNow } from './segments'
import { livePersonalizations } from './versions'

/**
 * Makes the next release from what is published, running and live now, in the transaction that changed it: the site
 * gets all of a change or none of it.
 */
export async function makeRelease(trx: LiveTransaction, reason: string, author: string): Promise<number> {
  const last = await holdNewest(trx)
  const number = last + 1
  // Written, and not only held: where several databases write, two that go live meet here, and one is done again.
  if ((await trx('newest_release').where({ one: 1, number: last }).update({ number })) !== 1) throw new OvertakenError(last)
  const release = await withUnreadable(trx, await liveNow(trx), last)
  await refuseNewCircle(trx, release, last)
  await noteRules(trx)
  await trx('releases').insert({ number, body: JSON.stringify(release), reason: shortened(reason, 300), author, at: new Date() })
  // The site only ever loads the newest; a few older ones are kept to look at.
  await trx('releases')
    .where('number', '<', number - 200)
    .delete()
  return number
}

/**
 * With what is published and cannot be read any more, as it could be last: a page never leaves the site for that, and is
 * named by whoever serves it.
 */
async function withUnreadable(trx: Knex, release: Release, last: number): Promise<Release> {
  if (release.unread.length === 0) return release
  const before = (await readRelease(trx, last))?.release.documents ?? []
  const kept = release.unread.flatMap(({ id }) => before.find((document) => document.id === id) ?? [])
  return { ...release, documents: [...release.documents, ...kept] }
}

/** All that would be in a release made at this moment. */
export async function liveNow(db: Knex): Promise<Release> {
  const running = await testsWhere(db, (query) => void query.whereIn('status', ['running', 'paused']))
  const newest = await lastRounds(
    db,
    running.map(({ number }) => number),
  )
  const rounds = running.flatMap(({ number, status }) => {
    const round = newest.get(number)
    if (round === undefined) return []
    return [{ ...round.snapshot, versions: versionsInUse(round.snapshot), paused: status === 'paused' }]
  })
  const settings = await readSettings(db)
  const live = {
    ...(await readAllPublished(db)),
    rounds,
    personalizations: await livePersonalizations(db),
    segments: await segmentsNow(db),
    goals: await publishedGoals(db),
    bounceSeconds: settings.bounceSeconds,
    currency: settings.currency,
    timeZone: settings.timeZone,
    leavingOut: settings.leavingOut,
    consent: settings.consent,
    attributes: settings.attributes,
    identity: settings.identity,
    reporters: await liveKeys(db),
    redirects: await listRedirects(db),
    scripts: settings.scripts,
    approvedScripts: await approvedScripts(db),
    letterMedia: await mediaOfLetters(db),
    letterKey: await readLetterKey(db),
  }
  return { ...live, pictures: await readPictureSizes(db, [...mediaNamedIn(live)]) }
}

export async function newestReleaseNumber(db: Knex): Promise<number | null> {
  const row = z.object({ number: z.number().nullable() }).parse(await db('releases').max({ number: 'number' }).first())
  return row.number
}

/** A release as far as it can be read, and what of it could not; what is unreadable stays as it was in `before`. */
export async function readRelease(
  db: Knex,
  number: number,
  before: readonly ContentDocument[] = [],
): Promise<{ readonly release: Release; readonly faults: readonly ReleaseFault[] } | null> {
  const row: unknown = await db('releases').where({ number }).first('body')
  return row === undefined ? null : readReleaseParts(z.object({ body: jsonColumn(z.unknown()) }).parse(row).body, before)
}

/** Nothing goes live that would send visitors round in a circle. One that is there already holds up nothing else. */
async function refuseNewCircle(trx: Knex, release: Release, last: number): Promise<void> {
  // The one before is only asked for where there is something to ask.
  if (newCircle(release, null) === null) return
  const circle = newCircle(release, (await readRelease(trx, last))?.release ?? null)
  if (circle === null) return
  throw new Failure(
    'blocked',
    `Visitors would be sent round in a circle: ${circleWords(circle)}. Change where one of these sends its visitors.`,
  )
}

const lineSchema = z.object({ number: z.number(), reason: z.string(), author: z.string(), at: z.date() })
export async function newestRelease(db: Knex): Promise<z.infer<typeof lineSchema> | null> {
  const row: unknown = await db('releases').orderBy('number', 'desc').first('number', 'reason', 'author', 'at')
  return row === undefined ? null : lineSchema.parse(row)
}
