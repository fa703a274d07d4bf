import { missing } from '../failure'
import { askForTable, progressOf, tableAt, tablesBeingRead } from '../stores/order-tables'
import type { Area } from './handler'

/** Orders and conversions that happened elsewhere: a table that was sent is brought in behind the back of whoever sent it. */
export const orderActions: Area<'order'> = {
  'order.take': async ({ db, account }, { table, mapping }) => {
    // Asked twice, as by a second press, it is read once.
    if (!(await askForTable(db, table, account.id, mapping)) && (await tableAt(db, table, account.id)) === null)
      throw missing('This table')
    return {}
  },

  'order.progress': async ({ db, account }, { table }) => {
    const row = await tableAt(db, table, account.id)
    if (row === null) throw missing('This table')
    return progressOf(row)
  },

  'order.reading': async ({ db, account }) => ({ tables: (await tablesBeingRead(db, account.id)).map(progressOf) }),
}
