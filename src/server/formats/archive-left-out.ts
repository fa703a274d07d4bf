import type { Knex } from 'knex'
import * as z from 'zod'

/** Whether a table is in an archive; of what is not, in words, what somebody would miss. */
type Archived = 'saved' | 'made anew' | { readonly leftOut: string } | 'of this installation'

const leftOut = (words: string) => ({ leftOut: words })
const VISITORS = leftOut('What visitors did, and what was counted of tests and rules that still run')

/** Every table there is: one that is forgotten here fails a test. */
export const archivedTables: Readonly<Record<string, Archived>> = {
  accounts: leftOut('People, and what they may do'),
  account_links: 'of this installation',
  approved_scripts: 'made anew',
  audit_trail: leftOut('Who did what'),
  beside_tallies: 'saved',
  beside_tallies_kept: 'made anew',
  call_daily: leftOut('What was counted of calls to action'),
  call_daily_kept: 'made anew',
  campaigns: 'saved',
  counting_rules: 'made anew',
  daily: leftOut('The figures of the site, day by day'),
  daily_kept: 'made anew',
  documents: 'saved',
  doings: 'saved',
  doings_kept: 'made anew',
  draft_steps: 'of this installation',
  earlier_tallies: 'saved',
  earlier_tallies_kept: 'made anew',
  events: VISITORS,
  firsts: 'made anew',
  form_entries: leftOut('What visitors sent with forms'),
  gain_entries: 'saved',
  gain_plans: 'saved',
  goals: 'saved',
  job_processes: 'of this installation',
  kept_mails: 'of this installation',
  leases: 'of this installation',
  ledger_visitors: 'made anew',
  left_out: 'of this installation',
  lens_visitors: leftOut('Visitors that were kept for the lens'),
  letter_counts: 'made anew',
  letter_looks: 'made anew',
  letter_sends: 'made anew',
  letters: leftOut('Newsletters that were sent'),
  looks: leftOut('Links to look at tests'),
  media: 'saved',
  media_parts: 'saved',
  media_sizes: 'made anew',
  migrations: 'of this installation',
  migration_steps: 'of this installation',
  newest_release: 'made anew',
  order_table_parts: 'of this installation',
  order_tables: 'of this installation',
  orders: leftOut('Orders'),
  personalizations: 'saved',
  pictures: 'saved',
  reader_steps: 'made anew',
  redirects: 'saved',
  rehearsals: leftOut('Rehearsals'),
  releases: 'made anew',
  report_keys: leftOut('Keys for reports from elsewhere'),
  revisions: leftOut('Earlier revisions of pages'),
  rounds: 'saved',
  segment_tallies: 'saved',
  segment_tallies_kept: 'made anew',
  segments: 'saved',
  sessions: 'of this installation',
  settings: 'saved',
  sign_in_failures: 'of this installation',
  site_processes: 'of this installation',
  tallies: 'saved',
  tallies_kept: 'made anew',
  test_parts: 'made anew',
  tests: 'saved',
  uses: 'made anew',
  versions: 'saved',
  waiting_refunds: 'made anew',
  worth_classes: 'saved',
  worth_classes_kept: 'made anew',
}

/** What of a site an archive does not hold, in words; only what there is. */
export async function leftOutNow(db: Knex): Promise<string[]> {
  const words: string[] = []
  for (const [table, archived] of Object.entries(archivedTables))
    if (typeof archived === 'object' && (await db(table).first(db.raw('1 AS one'))) !== undefined) words.push(archived.leftOut)
  const total = z.object({ n: z.coerce.number() })
  const running = total.parse(
    await db('tests').whereIn('status', ['running', 'paused', 'ended', 'scheduled']).count({ n: '*' }).first(),
  ).n
  if (running > 0) words.push('That tests run, or wait for a decision: they come in as drafts')
  const lost: unknown = await db('tests as t')
    .where('t.status', 'settled')
    .whereExists(
      db('test_parts as p')
        .join('documents as d', 'd.id', 'p.document_id')
        .whereRaw('p.test_number = t.number')
        .whereNotNull('d.binned_at')
        .select(db.raw('1')),
    )
    .first('t.number')
  if (lost !== undefined) words.push('Settled tests of pages that were thrown away')
  if ((await db('documents').whereNotNull('binned_at').first('id')) !== undefined) words.push('What lies in the bin')
  return words
}
