import type { Knex } from 'knex'
import * as z from 'zod'
import { PAGE_SIZE, type LetterCall, type LetterLine, type LetterView, type SendingView } from '@/contract/contract'
import { callsIn } from '@/components/letter/calls'
import { titleOf } from '@/components/references'
import { ORIGINAL } from '@/core/decide'
import { nodeAt, type ContentDocument } from '@/core/document'
import { armName } from '@/core/experiment'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { readPass, roundOn, versionsOn } from '@/core/letter'
import type { Release } from '@/core/release'
import { goLive } from '../database/go-live'
import { Failure, missing } from '../failure'
import { siteOrigin } from '@/serving/addresses'
import { holdDocument, readDocument, type DocumentRow } from '../stores/documents'
import { letterCounts, letterOrders, lettersWhere, looksOf, sendingsOf, type LetterRow } from '../stores/letters'
import { makeRelease, newestReleaseNumber, readRelease } from '../stores/releases'
import { readSettings } from '../stores/settings'
import { contains } from '../database/contains'
import type { Area } from './handler'

const SENDINGS_SHOWN = 10

export const letterActions: Area<'letter'> = {
  'letter.list': async ({ db }, { page, search, campaign }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      void query.where({ kind: 'letter', binned_at: null })
      if (campaign !== '') void query.where({ campaign })
      if (search !== '') void query.whereILike('title', contains(search))
    }
    const { total } = z
      .object({ total: z.coerce.number() })
      .parse(await db('documents').modify(narrow).count({ total: '*' }).first())
    const found: unknown[] = await db('documents')
      .modify(narrow)
      .orderBy('updated_at', 'desc')
      .limit(PAGE_SIZE)
      .offset((page - 1) * PAGE_SIZE)
      .select('id', 'title', 'campaign', 'updated_at', 'updated_by')
    const rows = found.map((row) => lineRow.parse(row))
    const sendings = await sendingsOf(
      db,
      rows.map(({ id }) => id),
    )
    const figures = await figuresOf(db, sendings)
    return {
      total,
      currency: (await readSettings(db)).currency,
      lines: rows.map((row): LetterLine => {
        const mine = sendings.filter(({ document_id }) => document_id === row.id)
        const sum = (of: 'opened' | 'followed' | 'orders' | 'revenue') =>
          mine.reduce((total, { number }) => total + figures(number)[of], 0)
        return {
          id: row.id,
          subject: row.title,
          campaign: row.campaign,
          sendings: mine.length,
          sent: mine.reduce((total, { sent }) => total + sent, 0),
          opened: sum('opened'),
          followed: sum('followed'),
          orders: sum('orders'),
          revenue: sum('revenue'),
          lastSentAt: mine[0]?.created_at.toISOString() ?? null,
          updatedAt: row.updated_at.toISOString(),
          updatedBy: row.updated_by,
        }
      }),
    }
  },

  'letter.open': async ({ db }, { document }) => {
    const row = await letterDocument(db, document)
    const calls = await callsOf(db, row.draft)
    const sendings = await lettersWhere(
      db,
      (query) => void query.where({ document_id: document }).orderBy('number', 'desc').limit(SENDINGS_SHOWN),
    )
    return {
      calls,
      blocks: blocksOf(row.draft, calls),
      sendings: await sendingViews(db, sendings),
      currency: (await readSettings(db)).currency,
    }
  },

  'letter.send': ({ db, account }, { document, lock, plan }) =>
    goLive(db, async (trx) => {
      const row = await holdDocument(trx, document)
      if (row.kind !== 'letter') throw new Failure('input', 'Only a newsletter can be sent.')
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          `${row.updated_by} has changed the newsletter since you looked at it. Look at it again before you send it.`,
        )
      const going: unknown = await trx('letters')
        .where({ document_id: document })
        .whereIn('status', ['waiting', 'sending'])
        .first('number')
      if (going !== undefined)
        throw new Failure('conflict', 'This newsletter is being sent already. Wait until it is out, or stop it first.')
      const release = await currentRelease(trx)
      const calls = await callsOf(trx, row.draft, release)
      const [block] = blocksOf(row.draft, calls)
      if (block !== undefined) throw new Failure('blocked', block)
      const [number] = await trx('letters').insert({
        document_id: document,
        subject: titleOf(row.draft),
        body: JSON.stringify(row.draft),
        calls: JSON.stringify(
          calls.map(({ call, title, test, versions }) => ({
            call,
            title,
            test: test?.id ?? null,
            round: roundOn(call, release?.rounds ?? [])?.id ?? null,
            versions: versions.map(({ version, name }) => ({ version, name })),
          })),
        ),
        plan: JSON.stringify(plan),
        status: 'waiting',
        created_at: new Date(),
        created_by: account.name,
      })
      // The site has its pictures ready before the first reader opens it.
      await makeRelease(trx, `sent “${titleOf(row.draft)}”`, account.name)
      return { number: number ?? 0 }
    }),

  'letter.stop': async ({ db }, { number }) => {
    const changed = await db('letters').where({ number }).whereIn('status', ['waiting', 'sending']).update({ status: 'stopped' })
    if (changed === 0) throw new Failure('conflict', 'It is out already; what has been sent cannot be taken back.')
    return {}
  },

  'letter.look': async ({ db }, { number, look }) => {
    const row: unknown = await db('letter_looks').where({ letter: number, look }).first('html', 'words')
    if (row === undefined) throw missing('This form of the newsletter')
    const { html, words } = z.object({ html: z.string(), words: z.string() }).parse(row)
    // The studio shows the site’s pictures from its own address, and opens nobody’s letter.
    const shown = html
      .replace(/<img [^>]*\/letter\/image\?[^>]*>/, '')
      .replaceAll(`src="${siteOrigin()}/look/`, 'src="/look/')
      .replaceAll(`src="${siteOrigin()}/media/`, 'src="/media/')
    return { html: shown, words }
  },
}

const lineRow = z.object({
  id: documentIdSchema,
  title: z.string(),
  campaign: z.string(),
  updated_at: z.date(),
  updated_by: z.string(),
})

async function letterDocument(db: Knex, id: DocumentId): Promise<DocumentRow> {
  const row = await readDocument(db, id)
  if (row.kind !== 'letter') throw missing('This newsletter')
  return row
}

async function currentRelease(db: Knex): Promise<Release | null> {
  return (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release ?? null
}

/** The calls to action in a letter, as they are published, with the tests that run on them. */
async function callsOf(db: Knex, letter: ContentDocument, known?: Release | null): Promise<LetterCall[]> {
  const release = known === undefined ? await currentRelease(db) : known
  const titles: unknown[] = await db('documents').whereIn('id', callsIn(letter)).select('id', 'title')
  const names = new Map(
    titles.map((row) => z.object({ id: z.string(), title: z.string() }).parse(row)).map(({ id, title }) => [id, title]),
  )
  return callsIn(letter).map((call): LetterCall => {
    const round = roundOn(call, release?.rounds ?? [])
    return {
      call,
      title: names.get(call) ?? 'a call to action that is gone',
      published: release?.documents.some(({ id }) => id === call) ?? false,
      test: round === undefined ? null : { id: round.test, name: round.design.name },
      versions:
        round === undefined
          ? []
          : versionsOn(call, round).map(({ version, edits }) => ({
              version,
              name: version === ORIGINAL ? 'Original' : armName(round.design, round.versions, version),
              edits: [...edits],
            })),
    }
  })
}

function blocksOf(letter: ContentDocument, calls: readonly LetterCall[]): string[] {
  const { title } = nodeAt(letter, letter.root).props
  return [
    ...(String(title ?? '').trim() === '' ? ['It has no subject. Write one in its settings.'] : []),
    ...(calls.length === 0 ? ['There is no call to action in it, so nothing that readers do could be counted. Add one.'] : []),
    ...calls
      .filter(({ published }) => !published)
      .map((call) => `“${call.title}” is not published. Publish it first, or take it out.`),
  ]
}

/** Opened, followed and ordered, by the number of the sending. */
async function figuresOf(db: Knex, sendings: readonly LetterRow[]) {
  const numbers = sendings.map(({ number }) => number)
  const [counts, orders] = await Promise.all([letterCounts(db, numbers), letterOrders(db, numbers)])
  return (number: number) => {
    const whole = counts.find(({ letter, call_id }) => letter === number && call_id === '')
    const bought = orders.find(({ letter }) => letter === number)
    return {
      opened: whole?.shown ?? 0,
      followed: whole?.followed ?? 0,
      orders: bought?.orders ?? 0,
      revenue: bought?.revenue ?? 0,
    }
  }
}

async function sendingViews(db: Knex, rows: readonly LetterRow[]): Promise<LetterView['sendings']> {
  const numbers = rows.map(({ number }) => number)
  const [figures, looks, counts] = await Promise.all([figuresOf(db, rows), looksOf(db, numbers), letterCounts(db, numbers)])
  return rows.map((row): SendingView => {
    const mine = looks
      .filter(({ letter }) => letter === row.number)
      .map((look) => ({ ...look, versions: versionsIn(row, look.carried) }))
    return {
      number: row.number,
      subject: row.subject,
      at: row.created_at.toISOString(),
      by: row.created_by,
      status: row.status,
      message: row.message,
      plan: row.plan,
      sent: row.sent,
      ...figures(row.number),
      looks: mine.map(({ look, sent, versions }) => ({
        look,
        sent,
        words: row.calls
          .filter(({ test }) => test !== null)
          .map(({ call, title, versions: known }) => `${title}: ${nameIn(known, versions.get(call) ?? ORIGINAL)}`)
          .join('; '),
      })),
      calls: row.calls.map(({ call, title, versions: known }) => {
        const shown = known.length === 0 ? [{ version: ORIGINAL, name: 'Original' }] : known
        return {
          call,
          title,
          versions: shown.map(({ version, name }) => {
            const count = counts.find((one) => one.letter === row.number && one.call_id === call && one.version === version)
            return {
              version,
              name,
              sent: mine
                .filter(({ versions }) => (versions.get(call) ?? ORIGINAL) === version)
                .reduce((sum, { sent }) => sum + sent, 0),
              shown: count?.shown ?? 0,
              followed: count?.followed ?? 0,
            }
          }),
        }
      }),
    }
  })
}

/** Which version of each call to action is in the letters that carry this. */
function versionsIn(row: LetterRow, carried: string) {
  const pass = readPass(`1.${'0'.repeat(32)}${carried === '' ? '' : `.${carried}`}`)
  return new Map(row.calls.map(({ call, test }) => [call, test === null ? ORIGINAL : (pass?.carried.get(test) ?? ORIGINAL)]))
}

function nameIn(versions: readonly { version: string; name: string }[], version: string): string {
  return versions.find((one) => one.version === version)?.name ?? 'Original'
}
