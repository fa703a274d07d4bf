import { PAGE_SIZE } from '@/contract/contract'
import { csvLines } from '../formats/csv'
import { readTrail } from '../stores/audit-trail'
import type { Area } from './handler'

const MOST_ROWS = 50_000

/** Who did what to what, when and from where. */
export const trailActions: Area<'trail'> = {
  'trail.list': ({ db }, { page, ...filter }) => readTrail(db, filter, page, PAGE_SIZE),

  'trail.table': async ({ db }, filter) => {
    const { lines } = await readTrail(db, filter, 1, MOST_ROWS)
    const columns = ['at', 'person', 'address', 'words', 'outcome', 'thingKind', 'thing', 'thingName', 'detail'] as const
    const rows = lines.map(({ refused, ...line }) => ({ ...line, outcome: refused ? 'refused' : 'done' }))
    return { csv: csvLines([columns, ...rows.map((row) => columns.map((column) => row[column]))]) }
  },
}
