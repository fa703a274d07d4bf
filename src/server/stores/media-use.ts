import type { Knex } from 'knex'
import * as z from 'zod'
import { mediaNamedIn } from '@/core/media-names'

/** Where it must be there now: rows of the column’s table that count, with what people call that place as `place`. */
interface Showing {
  readonly as: 'shows'
  readonly rows: (db: Knex) => Knex.QueryBuilder
}
/** Where it may be wanted back: what is undone, restored, or looked at once more. */
interface Remembering {
  readonly as: 'remembers'
}

const remembers: Remembering = { as: 'remembers' }
const shows = (rows: Showing['rows']): Showing => ({ as: 'shows', rows })
const open = (db: Knex) =>
  db('rounds')
    .leftJoin('tests', 'tests.number', 'rounds.test_number')
    .whereNull('rounds.ended_at')
    .select(db.raw("COALESCE(tests.name, 'a rule') AS place"))

/** Every column in which a file of the media library can be named. A test finds those that this list forgets. */
export const namingMedia: Readonly<Record<string, Showing | Remembering>> = {
  'documents.draft': shows((db) => db('documents').whereNull('binned_at').select({ place: 'title' })),
  'revisions.body': shows((db) =>
    db('revisions')
      .join('documents', (on) =>
        on.on('documents.id', 'revisions.document_id').andOn('documents.published_revision', 'revisions.number'),
      )
      .select({ place: 'documents.title' }),
  ),
  'versions.edits': shows((db) => db('versions').select({ place: 'name' })),
  'rounds.snapshot': shows(open),
  'rounds.reweighed': shows(open),
  'personalizations.published': shows((db) =>
    db('personalizations').join('documents', 'documents.id', 'personalizations.document_id').select({ place: 'documents.title' }),
  ),
  'settings.value': shows((db) => db('settings').select(db.raw("'The settings of the site' AS place"))),
  'letters.body': shows((db) => db('letters').select({ place: 'subject' })),
  'letter_looks.html': remembers,
  'documents.about': remembers,
  'draft_steps.edits': remembers,
  'looks.rounds': remembers,
  'tests.decision': remembers,
  'tests.earlier': remembers,
  'pictures.html': remembers,
}

/** Where a file must be there now, as people call it; `null` where nothing shows it. */
export async function placeShowing(db: Knex, name: string): Promise<string | null> {
  for (const [column, naming] of Object.entries(namingMedia)) {
    if (naming.as === 'remembers') continue
    const row: unknown = await naming.rows(db).where(column, 'like', `%${name}%`).first()
    if (row !== undefined) return z.object({ place: z.string() }).parse(row).place
  }
  return null
}

/** Of these files, those that nothing names any more, whatever is done with it. */
export async function namedNowhere(db: Knex, names: readonly string[]): Promise<string[]> {
  let left = [...names]
  for (const column of Object.keys(namingMedia)) {
    const [table = ''] = column.split('.')
    const unnamed: string[] = []
    for (const name of left)
      if ((await db(table).where(column, 'like', `%${name}%`).first(db.raw('1 AS one'))) === undefined) unnamed.push(name)
    left = unnamed
  }
  return left
}

/** Files that newsletters show which were sent: their readers ask for them as long as they keep the mail. */
export async function mediaOfLetters(db: Knex): Promise<string[]> {
  const rows: unknown[] = await db('letters').where('body', 'like', '%m-%').select('body')
  return [...mediaNamedIn(...rows.map((row) => z.object({ body: z.unknown() }).parse(row).body))].sort()
}
