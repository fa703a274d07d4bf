import type { Knex } from 'knex'
import type { GainView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { wholeReading } from '@/core/experiment'
import type { RoundId } from '@/core/ids'
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
    const read = readRound(row, { source: 0, goal: null }, { ...by, rows: counts.get(id) ?? [], plannedTotal })
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
