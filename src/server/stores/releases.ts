import type { Knex } from 'knex'
import * as z from 'zod'
import { releaseSchema, type Release } from '@/core/release'
import { jsonColumn } from '../database/json-column'
import { listRedirects, readPublished } from './documents'
import { liveKeys } from './report-keys'
import { readSettings } from './settings'
import { publishedGoals } from './goals'
import { roundsOf, testsWhere } from './tests'
import { livePersonalizations } from './versions'

/**
 * Makes the next release from what is published, running and live now, in the transaction that changed it: the site
 * gets all of a change or none of it. The insert by the next number makes a second maker at the same moment fail and
 * try again.
 */
export async function makeRelease(trx: Knex.Transaction, reason: string, author: string): Promise<number> {
  const last = z
    .object({ number: z.number().nullable() })
    .parse(await trx('releases').max({ number: 'number' }).forUpdate().first())
  const number = (last.number ?? 0) + 1
  const running = await testsWhere(trx, (query) => void query.whereIn('status', ['running', 'paused']))
  const rounds = await Promise.all(
    running.map(async ({ number: test, status }) =>
      (await roundsOf(trx, test)).slice(0, 1).map(({ snapshot }) => ({ ...snapshot, paused: status === 'paused' })),
    ),
  )
  const settings = await readSettings(trx)
  const release: Release = {
    documents: [...(await readPublished(trx, 'all')).values()],
    rounds: rounds.flat(),
    personalizations: await livePersonalizations(trx),
    goals: await publishedGoals(trx),
    bounceSeconds: settings.bounceSeconds,
    currency: settings.currency,
    reporters: await liveKeys(trx),
    redirects: await listRedirects(trx),
    scripts: settings.scripts,
  }
  await trx('releases').insert({ number, body: JSON.stringify(release), reason: reason.slice(0, 300), author, at: new Date() })
  // The site only ever loads the newest; a few older ones are kept to look at.
  await trx('releases')
    .where('number', '<', number - 200)
    .delete()
  return number
}

export async function newestReleaseNumber(db: Knex): Promise<number | null> {
  const row = z.object({ number: z.number().nullable() }).parse(await db('releases').max({ number: 'number' }).first())
  return row.number
}

export async function readRelease(db: Knex, number: number): Promise<Release | null> {
  const row: unknown = await db('releases').where({ number }).first('body')
  return row === undefined ? null : z.object({ body: jsonColumn(releaseSchema) }).parse(row).body
}

const lineSchema = z.object({ number: z.number(), reason: z.string(), author: z.string(), at: z.date() })
export async function newestRelease(db: Knex): Promise<z.infer<typeof lineSchema> | null> {
  const row: unknown = await db('releases').orderBy('number', 'desc').first('number', 'reason', 'author', 'at')
  return row === undefined ? null : lineSchema.parse(row)
}
