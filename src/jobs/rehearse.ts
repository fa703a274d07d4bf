import { noteOfSegments } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { orderWorth, visitors, type SimulatedVisitor } from '@/core/simulate'
import type { Database } from '@/server/database/connect'
import { eventsOf } from '@/server/rehearse'
import { writeEvents } from '@/server/stores/events'
import { nextRehearsal, rehearsalStatus, type RehearsalRow } from '@/server/stores/rehearsals'
import { liveNow } from '@/server/stores/releases'
import { segmentsNow } from '@/server/stores/segments'
import { calendarIn, readSettings } from '@/server/stores/settings'
import { roundsById, type RoundRow } from '@/server/stores/tests'
import { siteOrigin } from '@/serving/addresses'
import { compile } from '@/site/compile/compile'
import { throughPages } from '@/site/rehearsal/through-pages'

const VISITORS_AT_ONCE = 1000
/** Through the pages: told of, and looked for whether it was cancelled, after so many. */
const PAGES_AT_ONCE = 100
const DAY = 86_400_000

const firstDay = ({ started_at }: RoundRow) => new Date(Math.floor(started_at.getTime() / DAY) * DAY)

/**
 * Sends the next visitors of the rehearsal whose turn it is.
 *
 * @param count resolves when what was sent has been counted
 * @returns whether there is more to do
 */
export async function rehearseOn(db: Database, count: (crowd: number) => Promise<unknown>): Promise<boolean> {
  const row = await nextRehearsal(db)
  if (row === null) return false
  try {
    await sendVisitors(db, row, count)
  } catch (reason) {
    await db('rehearsals')
      .where({ id: row.id })
      .update({ status: 'failed', message: 'The rehearsal could not go on. Start it again.' })
    throw reason
  }
  return true
}

const crowdOf = ({ seed, visitors: count, days, mix }: RehearsalRow['plan']) => ({ seed, visitors: count, days, mix })

async function sendVisitors(db: Database, row: RehearsalRow, count: (crowd: number) => Promise<unknown>): Promise<void> {
  const [round] = await roundsById(db, [row.round_id])
  if (round === undefined) throw new Error(`rehearsal ${row.id}: its round ${row.round_id} is gone`)
  if (row.plan.through === 'pages') return sendThroughPages(db, row, round, count)
  const truths = new Map(row.plan.rates.map((one) => [one.version, one]))
  const rates = new Map(row.plan.rates.map(({ version, rate }) => [version, rate]))
  const startsAt = firstDay(round)
  await db('rehearsals').where({ id: row.id, status: 'waiting' }).update({ status: 'running' })
  const calendar = calendarIn((await readSettings(db)).timeZone)
  const besides = {
    segmentsOf: noteOfSegments(await segmentsNow(db)),
    mishapOf: (version: VersionId) => truths.get(version)?.mishap ?? 'none',
    dayOf: ({ arrivesAt }: SimulatedVisitor) => Math.floor((arrivesAt.getTime() - startsAt.getTime()) / DAY),
    known: ({ returns }: SimulatedVisitor) => (returns ? ('looked' as const) : null),
    others: (version: VersionId) => truths.get(version)?.others ?? [],
    worthOf: ({ id }: SimulatedVisitor) => orderWorth(row.plan.worth, id),
    momentOf: (at: Date) => calendar.clockOf(at),
  }
  let index = 0
  let group: ReturnType<typeof eventsOf> = []
  // Whoever was sent before an interruption is made again and passed over: the crowd is the same for the same seed.
  for (const visitor of visitors({ ...crowdOf(row.plan), startsAt })) {
    index++
    if (index <= row.sent) continue
    group.push(...eventsOf(visitor, round.snapshot, row.id, rates, besides))
    if (index % VISITORS_AT_ONCE === 0 || index === row.plan.visitors) {
      await writeEvents(db, group)
      group = []
      await count(row.id)
      await db('rehearsals').where({ id: row.id }).update({ sent: index })
      if ((await rehearsalStatus(db, row.id)) !== 'running') return
    }
  }
  await db('rehearsals').where({ id: row.id, status: 'running' }).update({ status: 'done', message: '' })
}

/** The same through the site as it would be with the test on it: served, taken and collected by its own code, in this process. */
async function sendThroughPages(
  db: Database,
  row: RehearsalRow,
  round: RoundRow,
  count: (crowd: number) => Promise<unknown>,
): Promise<void> {
  // Who was given which id is the site’s own doing and is not the same a second time.
  if (row.sent > 0) {
    await db('rehearsals')
      .where({ id: row.id })
      .update({ status: 'failed', message: 'It was interrupted on its way through the pages. Start it again.' })
    return
  }
  await db('rehearsals').where({ id: row.id, status: 'waiting' }).update({ status: 'running' })
  const { snapshot } = round
  const { plan } = row
  const live = await liveNow(db)
  const rounds = [...live.rounds.filter(({ test }) => test !== snapshot.test), { ...snapshot, paused: false }]
  const addresses = { script: '/look/count.js', style: '/look/site.css', origin: siteOrigin() }
  const compiled = compile({ ...live, rounds }, addresses)
  const startsAt = firstDay(round)
  const rehearsal = await throughPages(compiled, {
    ...{ round: snapshot, crowd: row.id, startsAt, seed: plan.seed },
    truths: new Map(plan.rates.map((one) => [one.version, one])),
    worth: plan.worth,
  })
  try {
    let index = 0
    for (const visitor of visitors({ ...crowdOf(plan), startsAt })) {
      await rehearsal.send(visitor)
      index++
      if (index % PAGES_AT_ONCE !== 0 && index !== plan.visitors) continue
      await writeEvents(db, await rehearsal.take())
      if (index % VISITORS_AT_ONCE === 0 || index === plan.visitors) await count(row.id)
      await db('rehearsals')
        .where({ id: row.id })
        .update({ sent: index, found: JSON.stringify(rehearsal.found) })
      if ((await rehearsalStatus(db, row.id)) !== 'running') return
    }
    await db('rehearsals').where({ id: row.id, status: 'running' }).update({ status: 'done', message: '' })
  } finally {
    await rehearsal.close()
  }
}
