import { stringify } from 'csv-stringify/sync'
import { PAGE_SIZE } from '@/contract/contract'
import { readTrail } from '../stores/audit-trail'
import type { Area } from './handler'

const MOST_ROWS = 50_000

/** Who did what to what, when and from where. */
export const trailActions: Area<'trail'> = {
  'trail.list': ({ db }, { page, ...filter }) => readTrail(db, filter, page, PAGE_SIZE),

  'trail.table': async ({ db }, filter) => {
    const { lines } = await readTrail(db, filter, 1, MOST_ROWS)
    const columns = ['at', 'person', 'address', 'words', 'outcome', 'thingKind', 'thing', 'thingName', 'detail']
    const rows = lines.map(({ refused, ...line }) => ({ ...line, outcome: refused ? 'refused' : 'done' }))
    // A cell that a spreadsheet would calculate is written as text.
    return { csv: stringify(rows, { header: true, columns, escape_formulas: true }) }
  },
}
