import { countsFor, epochsOf, roundSchema, type DayCounts } from '@/core/experiment'
import type { GoalId } from '@/core/ids'
import { resultOf } from '@/server/actions/result-of'
import type { Database } from '@/server/database/connect'
import { rowsOfRounds } from '@/server/stores/results'
import { withOwnDatabase } from './own-database'

/*
 * What a results screen asks of tallies, against the same numbers from ten million enrolments: the cost of the one does
 * not grow with traffic, that of the other does. Rows are made by the database itself.
 */
const ENROLMENTS = Number(process.env.ENROLMENTS ?? 10_000_000)
const EVENTS_EACH = 10
const DAYS = 28
const AIM = 100
const goalId = 'reserved' as GoalId
const versions = ['original', 'bold', 'calm', 'warm'] as const
const start = '2026-03-02'

const round = roundSchema.parse({
  id: 'r-large',
  test: 't-1',
  number: 1,
  design: {
    name: 'Large',
    problem: '',
    change: '',
    expected: '',
    document: 'home',
    node: 'title',
    arms: versions.map((version) => ({ version, weight: 2500 })),
    share: 10_000,
    primary: goalId,
    watched: [],
    guards: [{ goal: 'looked', margin: 0.05 }],
    smallestEffect: 0.05,
  },
  versions: versions.slice(1).map((id) => ({ id, name: id, edits: [] })),
  goals: [
    { id: goalId, name: 'Reserved', wiring: { kind: 'page', document: 'done' }, worth: 20 },
    { id: 'looked', name: 'Looked', wiring: { kind: 'page', document: 'plans' } },
  ],
  salt: 'salt',
  plannedTotal: 100_000,
})

const run = () =>
  withOwnDatabase({ folder: 'bench-results', port: 4327 }, async (db) => {
    await fill(db)
    return compare(db)
  })

/** Half of all visitors in the round that is looked at, the others in ten more; one in eight converts, one in four looks. */
async function fill(db: Database): Promise<void> {
  const began = Date.now()
  const visitor = "UNHEX(LPAD(HEX(seq), 32, '0'))"
  const inRound = `IF(seq % 2 = 0, 'r-large', CONCAT('r-', seq % 10))`
  const version = `ELT(1 + (seq DIV 2) % 4, ${versions.map((name) => `'${name}'`).join(',')})`
  const at = `TIMESTAMPADD(SECOND, (seq * 7919) % 86000, TIMESTAMPADD(DAY, (seq * 31) % ${DAYS}, '${start}'))`
  // What a screen would read without tallies: one row for each enrolment and each conversion.
  await db.raw(
    `CREATE TABLE enrolments (source INT UNSIGNED NOT NULL, round_id VARCHAR(40) NOT NULL, visitor BINARY(16) NOT NULL, version VARCHAR(40) NOT NULL,
      assigned_at DATETIME(3) NOT NULL, exposed_at DATETIME(3) NULL, PRIMARY KEY (source, visitor, round_id), INDEX (round_id, source))`,
  )
  await db.raw(
    `CREATE TABLE conversions (source INT UNSIGNED NOT NULL, round_id VARCHAR(40) NOT NULL, visitor BINARY(16) NOT NULL, goal_id VARCHAR(40) NOT NULL,
      times INT UNSIGNED NOT NULL, worth DOUBLE NOT NULL, first_at DATETIME(3) NOT NULL, PRIMARY KEY (source, visitor, round_id, goal_id))`,
  )
  await db.raw(
    `INSERT INTO enrolments (source, round_id, visitor, version, assigned_at, exposed_at)
     SELECT 0, ${inRound}, ${visitor}, ${version}, ${at}, IF(seq % 10 = 0, NULL, ${at}) FROM seq_1_to_${ENROLMENTS}`,
  )
  for (const [goal, every, worth] of [
    [goalId, 8, 20],
    ['looked', 4, 1],
  ] as const)
    await db.raw(
      `INSERT INTO conversions (source, round_id, visitor, goal_id, times, worth, first_at)
       SELECT 0, ${inRound}, ${visitor}, '${goal}', 1, ${worth}, TIMESTAMPADD(MINUTE, 10, ${at})
       FROM seq_1_to_${ENROLMENTS} WHERE (seq DIV 8) % ${every} = 0 AND seq % 10 <> 0`,
    )
  await db.raw(
    `INSERT INTO tallies (crowd, round_id, goal_id, version, day, assigned, exposed, converters, conversions, worth, worth_squared)
     SELECT 0, round_id, '', version, DATE(assigned_at), COUNT(*), COUNT(exposed_at), 0, 0, 0, 0 FROM enrolments GROUP BY round_id, version, DATE(assigned_at)`,
  )
  await db.raw(
    `INSERT INTO tallies (crowd, round_id, goal_id, version, day, assigned, exposed, converters, conversions, worth, worth_squared)
     SELECT 0, c.round_id, c.goal_id, e.version, DATE(c.first_at), 0, 0, COUNT(*), SUM(c.times), SUM(c.worth), SUM(c.worth * c.worth)
     FROM conversions c JOIN enrolments e ON e.source = c.source AND e.visitor = c.visitor AND e.round_id = c.round_id
     GROUP BY c.round_id, c.goal_id, e.version, DATE(c.first_at)`,
  )
  const rows = Number((await db('tallies').count({ total: '*' }).first())?.total)
  console.log(
    `results: ${ENROLMENTS.toLocaleString('en')} enrolments, ${(ENROLMENTS * EVENTS_EACH).toLocaleString('en')} events’ worth, ${rows} rows of tallies, made in ${((Date.now() - began) / 1000).toFixed(0)} s`,
  )
}

async function compare(db: Database): Promise<boolean> {
  const raw = await timed(() => fromRawRows(db), 1)
  const read = async (goal: GoalId) => countsFor((await rowsOfRounds(db, 0, [round.id])).get(round.id) ?? [], goal)
  const counts = await timed(() => read(goalId), 9)
  const guard = await timed(() => read('looked' as GoalId), 9)
  const whole = await timed(
    () =>
      resultOf(
        db,
        {
          snapshot: round,
          epochs: epochsOf(round, new Date(start), []),
          started_at: new Date(start),
          ended_at: new Date('2026-03-30'),
          pauses: [],
          reweighed: [],
          personalization: null,
        },
        0,
        null,
      ),
    5,
  )
  const same = JSON.stringify(totals(counts.value)) === JSON.stringify(totals(raw.value))
  for (const [name, { ms }] of Object.entries({ 'the goal by day': counts, 'a guard by day': guard }))
    console.log(
      `results: ${name} from tallies / from raw rows ${(ms / raw.ms).toFixed(5)}  (${ms.toFixed(1)} ms of ${raw.ms.toFixed(0)} ms; aim ${AIM} ms)`,
    )
  console.log(
    `results: the whole screen, ${DAYS} days read again, ${whole.ms.toFixed(1)} ms; the numbers ${same ? 'are the same' : 'DIFFER'}`,
  )
  return same && [counts, guard].every(({ ms }) => ms <= AIM)
}

/** The same counts without tallies. */
async function fromRawRows(db: Database): Promise<Omit<DayCounts, 'epoch'>[]> {
  const [came] = (await db.raw(
    `SELECT version, DATE_FORMAT(assigned_at, '%Y-%m-%d') AS day, COUNT(*) AS assigned, COUNT(exposed_at) AS exposed
     FROM enrolments WHERE source = 0 AND round_id = ? GROUP BY version, day`,
    [round.id],
  )) as [Row[]]
  const [reached] = (await db.raw(
    `SELECT e.version, DATE_FORMAT(c.first_at, '%Y-%m-%d') AS day, COUNT(*) AS converters, SUM(c.worth) AS worth, SUM(c.worth * c.worth) AS worthSquared
     FROM enrolments e JOIN conversions c ON c.source = e.source AND c.visitor = e.visitor AND c.round_id = e.round_id AND c.goal_id = ?
     WHERE e.source = 0 AND e.round_id = ? GROUP BY e.version, day`,
    [goalId, round.id],
  )) as [Row[]]
  return [...came, ...reached].map((row) => ({
    version: row.version,
    day: row.day,
    assigned: Number(row.assigned ?? 0),
    exposed: Number(row.exposed ?? 0),
    converters: Number(row.converters ?? 0),
    worth: Number(row.worth ?? 0),
    worthSquared: Number(row.worthSquared ?? 0),
    visits: 0,
    visitsSquared: 0,
    visitsWorth: 0,
  }))
}

type Row = { readonly version: DayCounts['version']; readonly day: string } & {
  readonly [Name in 'assigned' | 'exposed' | 'converters' | 'worth' | 'worthSquared']?: number | string
}

function totals(rows: readonly Omit<DayCounts, 'epoch'>[]) {
  const names = ['assigned', 'exposed', 'converters', 'worth', 'worthSquared'] as const
  return versions.map((version) =>
    names.map((name) => rows.filter((row) => row.version === version).reduce((sum, row) => sum + row[name], 0)),
  )
}

/** The median over several times, in milliseconds. */
async function timed<Value>(work: () => Promise<Value>, times: number): Promise<{ value: Value; ms: number }> {
  const taken: number[] = []
  let value = await work()
  for (let time = 0; time < times; time++) {
    const began = performance.now()
    value = await work()
    taken.push(performance.now() - began)
  }
  return { value, ms: taken.sort((a, b) => a - b)[Math.floor(times / 2)] ?? 0 }
}

run().then(
  (well) => process.exit(well ? 0 : 1),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
