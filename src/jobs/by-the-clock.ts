import { adaptedWeights, decidesItself, dueByClock, looksOf, nobodySaw, stopsBy, type Weighing } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { endTest, startTest } from '@/server/actions/life'
import { resultOf, type Read } from '@/server/actions/result-of'
import { changesSince, takeChanges } from '@/server/actions/rounds'
import { settle } from '@/server/actions/settle'
import { changesIn } from '@/server/actions/test-changes'
import { record, type Entry } from '@/server/audit'
import { inTransaction, type Database } from '@/server/database/connect'
import { Failure } from '@/server/failure'
import { isWaiting, newestEvent } from '@/server/stores/events'
import { goLive, type LiveTransaction } from '@/server/database/go-live'
import { makeRelease } from '@/server/stores/releases'
import { rowsOfRounds } from '@/server/stores/results'
import { readCalendar } from '@/server/stores/settings'
import { BY_ITSELF, holdTest, roundsOf, tellNews, testId, testsWhere, type News, type TestRow } from '@/server/stores/tests'
import type { Knex } from 'knex'

/** Late by less than this is on time. */
const LATE = 2 * 60_000

/**
 * Starts and ends tests whose time has come, and ends those that have done what their stop rule waits for. What was missed
 * while nothing ran is caught up with, and said. A test is held and looked at again before anything is done: however many
 * processes there are, it is done once.
 */
export async function keepTime(
  db: Database,
  now: Date,
  { stopRules = true, log = () => undefined }: { readonly stopRules?: boolean; readonly log?: (reason: unknown) => void } = {},
): Promise<void> {
  const { read } = await readCalendar(db)
  const clock = (text: string) => read(text)?.at ?? null
  const open = await testsWhere(db, (query) => void query.whereIn('status', ['scheduled', 'running', 'paused']).orderBy('number'))
  for (const row of open) {
    const due = dueByClock(row.status, row.design.schedule, now, clock)
    // What goes wrong with one test keeps no other from its time.
    await (due === null ? (stopRules ? stopWhereDone(db, row, now) : undefined) : inTime(db, row, now, due))?.catch(log)
  }
}

type Due = NonNullable<ReturnType<typeof dueByClock>>

async function inTime(db: Database, row: TestRow, now: Date, { what, since }: Due): Promise<void> {
  const late = now.getTime() - since.getTime() > LATE ? since : null
  await (what === 'start' ? startOnTime(db, row, now, late) : endByItself(db, row, now, { why: 'its time came', late }))
}

async function stopWhereDone(db: Database, row: TestRow, now: Date): Promise<void> {
  const why = await stopsNow(db, row)
  if (why !== null) await endByItself(db, row, now, { why, late: null })
}

async function stopsNow(db: Database, row: TestRow): Promise<string | null> {
  const { stop } = row.design.schedule
  if (stop === null || row.status !== 'running') return null
  const [round] = await roundsOf(db, row.number)
  const found = round === undefined ? null : await resultOf(db, round, 0, null)
  return found === null ? null : stopsBy(stop, found, found.view.days)
}

async function startOnTime(db: Database, { number }: TestRow, now: Date, late: Date | null): Promise<void> {
  try {
    await goLive(db, async (trx) => {
      const row = await holdTest(trx, testId(number))
      if (row.status !== 'scheduled') return
      await startTest(trx, row, BY_ITSELF)
      await tellNews(trx, number, { kind: 'started', at: now, words: `It started at its time${lateWords(late)}.` })
      await record(trx, entryOf(number, 'started at its time'))
    })
  } catch (reason) {
    if (!(reason instanceof Failure)) throw reason
    // It was ready when it was scheduled, and is not any more: somebody has to look at it.
    await inTransaction(db, async (trx) => {
      const row = await holdTest(trx, testId(number))
      if (row.status !== 'scheduled') return
      await trx('tests').where({ number }).update({ status: 'draft' })
      await tellNews(trx, number, { kind: 'notStarted', at: now, words: `It could not start at its time: ${reason.message}` })
      await record(trx, entryOf(number, `did not start at its time: ${reason.message}`))
    })
  }
}

async function endByItself(db: Database, { number }: TestRow, now: Date, of: { why: string; late: Date | null }): Promise<void> {
  const end = (mayDecide: boolean, instead = '') =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, testId(number))
      if (row.status !== 'running' && row.status !== 'paused') return
      const [round] = await roundsOf(trx, number)
      const found = round === undefined || !mayDecide ? null : await resultOf(trx, round, 0, null)
      await endTest(trx, row, BY_ITSELF)
      const { words, ...news } = await whatFollows(trx, { ...row, status: 'ended' }, found, { ...of, now })
      await tellNews(trx, number, { ...news, words: `${words}${instead}` })
      await record(trx, entryOf(number, words))
    })
  try {
    await end(true)
  } catch (reason) {
    if (!(reason instanceof Failure)) throw reason
    // What it would have taken over cannot be any more; it ends all the same, and somebody decides.
    await end(false, ` It could not decide itself: ${reason.message}`)
  }
}

/** Once it has ended: it waits for a decision, or decides itself. */
async function whatFollows(
  trx: LiveTransaction,
  row: TestRow,
  found: Read | null,
  { why, late, now }: { why: string; late: Date | null; now: Date },
): Promise<News> {
  const ended = `It ended, as ${why}${lateWords(late)}.`
  const waits: News = { kind: 'ended', at: now, words: `${ended} It waits for your decision.` }
  if (row.design.schedule.then === 'wait' || found === null) return waits
  if (nobodySaw(found.result))
    return { ...waits, words: `${ended} Nobody has seen it, so nothing is known: it did not decide itself, and waits for you.` }
  const own = decidesItself(found)
  if (own === null)
    return { ...waits, words: `${ended} It did not decide itself, as its counts have to be looked at first: it waits for you.` }
  const changes = own.version === null ? null : await changesIn(trx, row, own.version)
  await trx('tests').where({ number: row.number }).update({ status: 'settled' })
  const { unfit } = await settle(trx, row, {
    version: own.version ?? ('original' as VersionId),
    reason: `It was told to decide by itself, and ${own.why}.`,
    lesson: '',
    changes,
    author: BY_ITSELF,
  })
  const did = own.version === null ? 'The original stays' : 'The better variant was taken over'
  const rest = unfit.length === 0 ? '' : ` Not everything fitted any more: ${unfit.join(', ')}.`
  return { kind: 'settled', at: now, words: `${ended} ${did}, as ${own.why}. This can be taken back.${rest}` }
}

/** Up to which event has to be counted before a test’s visitors are divided anew, where that is due. */
const cameBefore = new Map<number, number>()

/** Divides visitors anew between the versions of tests whose split follows what they do, once all that came is counted. */
export async function adaptSplits(db: Database, now: Date): Promise<void> {
  const running = await testsWhere(db, (query) => void query.where({ status: 'running' }).orderBy('number'))
  for (const row of running) {
    const { adaptive } = row.design
    const since = row.adapted_at ?? row.started_at ?? now
    if (adaptive === null || now.getTime() - since.getTime() < adaptive.every * 60_000) continue
    // What had come when its time came is counted first; what comes meanwhile always will, and is for the next time.
    const until = cameBefore.get(row.number) ?? (await newestEvent(db))
    cameBefore.set(row.number, until)
    if (await isWaiting(db, 0, until)) continue
    cameBefore.delete(row.number)
    await adapt(db, row, now)
  }
}

async function adapt(db: Database, { number }: TestRow, now: Date): Promise<void> {
  await goLive(db, async (trx) => {
    const row = await holdTest(trx, testId(number))
    const { adaptive, primary } = row.design
    await trx('tests').where({ number }).update({ adapted_at: now })
    const [round] = await roundsOf(trx, number)
    if (row.status !== 'running' || adaptive === null || primary === null || round === undefined) return
    const weights = adaptedWeights(round.snapshot.design, adaptive, await evidenceOf(trx, round, primary))
    if (weights === null) return
    const arms = round.snapshot.design.arms.map((arm, index) => ({ ...arm, weight: weights[index] ?? arm.weight }))
    const design = { ...row.design, arms }
    const { changes } = await changesSince(trx, { ...row, design })
    // Something else was changed meanwhile that belongs to a round: that is for people to take live.
    if (changes.some(({ begins }) => begins === 'round')) return
    await trx('tests')
      .where({ number })
      .update({ design: JSON.stringify(design), lock_version: row.lock_version + 1 })
    await takeChanges(trx, { ...row, design }, { because: [{ words: ADAPTED, begins: 'epoch' }], author: BY_ITSELF })
    await makeRelease(trx, `divided visitors of “${row.name}” anew`, BY_ITSELF)
    await record(trx, entryOf(number, ADAPTED))
  })
}

const ADAPTED = 'the split followed what visitors did'

async function evidenceOf(trx: Knex.Transaction, round: Awaited<ReturnType<typeof roundsOf>>[number], primary: string) {
  const { id, design, plannedTotal } = round.snapshot
  const { dayOf } = await readCalendar(trx)
  const rows = ((await rowsOfRounds(trx, 0, [id])).get(id) ?? []).filter(({ goal }) => goal === '' || goal === primary)
  const weighings: Weighing[] = round.epochs.map(({ since, arms }) => ({ since: dayOf(since), arms }))
  const plan = { days: 1, smallestEffect: design.smallestEffect, plannedTotal }
  return looksOf(weighings, rows, plan).at(-1)?.evidence ?? { ...plan, epochs: [] }
}

function entryOf(number: number, detail: string): Entry {
  return {
    account: null,
    person: BY_ITSELF,
    address: '',
    action: 'test.byItself',
    thing: { kind: 'test', id: testId(number) },
    detail,
  }
}

function lateWords(late: Date | null): string {
  return late === null ? '' : ', late, as nothing was running then'
}
