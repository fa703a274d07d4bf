import type { Knex } from 'knex'
import type { GainView, Output } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { wholeReading } from '@/core/experiment'
import type { RoundId } from '@/core/ids'
import { partWords } from '@/components/part-words'
import { titleOf } from '@/components/references'
import { draftsOf } from '../stores/documents'
import { openGains } from '../stores/gains'
import { rowsOfRounds } from '../stores/results'
import { calendarIn, readSettings } from '../stores/settings'
import type { GainRow } from '../stores/tests'
import { readRound, type Read } from './result-of'

/** What each of these rounds says by the goal that decides, however many they are: their counts are asked for at once. */
export async function readGains(db: Knex, rows: readonly GainRow[]): Promise<Map<RoundId, Read>> {
  const [counts, { currency, timeZone }] = await Promise.all([
    rowsOfRounds(
      db,
      0,
      rows.map(({ snapshot }) => snapshot.id),
    ),
    readSettings(db),
  ])
  const by = { currency, calendar: calendarIn(timeZone), now: new Date() }
  const found = new Map<RoundId, Read>()
  for (const row of rows) {
    const { id, plannedTotal } = row.snapshot
    const read = readRound(row, { crowd: 0, goal: null }, { ...by, rows: counts.get(id) ?? [], plannedTotal })
    if (read !== null) found.set(id, read)
  }
  return found
}

/** All that are counted now, in short. */
export async function gainsInShort(db: Knex): Promise<Map<RoundId, GainView>> {
  const rows = await openGains(db)
  const read = await readGains(db, rows)
  return new Map(
    rows.flatMap((row) => {
      const one = read.get(row.snapshot.id)
      return one === undefined ? [] : [[row.snapshot.id, inShort(row, one)] as const]
    }),
  )
}

export function inShort(row: GainRow, { result, sentence }: Read): GainView {
  const sum = (isHeld: boolean) =>
    result.rates.reduce((all, { version, exposed }) => ((version === ORIGINAL) === isHeld ? all + exposed : all), 0)
  return {
    ...{ round: row.snapshot.id, sentence, reading: wholeReading(result) },
    ...{ shown: sum(false), held: sum(true), since: row.started_at.toISOString() },
  }
}

/** Rules that are live and whose version does worse than the original, with the part that each is on. */
export async function worseRules(db: Knex): Promise<Output<'today.read'>['worseRules']> {
  const rows = (await openGains(db)).filter(({ rule }) => rule !== '')
  const read = await readGains(db, rows)
  const worse = rows.flatMap((row) => {
    const found = read.get(row.snapshot.id)
    return found !== undefined && wholeReading(found.result) === 'worse' ? [{ row, found }] : []
  })
  const drafts = await draftsOf(
    db,
    worse.map(({ row }) => row.snapshot.design.document),
  )
  return worse.flatMap(({ row, found }) => {
    const { document, node } = row.snapshot.design
    const draft = drafts.get(document)
    if (draft === undefined) return []
    return [
      {
        ...{ round: row.snapshot.id, document, node, sentence: found.sentence },
        ...{ title: titleOf(draft), part: partWords(draft, node) },
      },
    ]
  })
}
