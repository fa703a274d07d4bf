import { takeTable } from '@/jobs/orders'
import { connect } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { recountAll } from '@/server/ledger/recount'

/* Long work in a process of its own, which somebody else kills. */

const db = connect(process.env)
const works: Readonly<Record<string, () => Promise<void>>> = {
  migrate: () => migrate(db),
  recount: async () => {
    const differences = await recountAll(db, () => undefined)
    if (differences.length > 0) throw new Error(`the recount found ${differences.length} differences`)
  },
  orders: async () => {
    while (await takeTable(db, () => true));
  },
}
const work = works[process.argv[2] ?? '']
if (work === undefined) throw new Error('which work?')
process.stdout.write('begun\n')
work().then(
  () => process.exit(0),
  (reason: unknown) => {
    console.error(reason)
    process.exit(1)
  },
)
