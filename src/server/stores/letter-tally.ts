import type { Knex } from 'knex'
import * as z from 'zod'
import { ORIGINAL } from '@/core/decide'
import type { VisitorEvent } from '@/core/events'
import { readPass } from '@/core/letter'
import { insertMany } from '../database/many-rows'
import { lettersWhere } from './letters'

type LetterEvent = Extract<VisitorEvent, { kind: 'letter' }>

const sendSchema = z.object({
  letter: z.number(),
  recipient: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  reader: z.number(),
  look: z.number(),
  sent_at: z.date(),
  carried: z.string(),
  opened_at: z.date().nullable(),
  followed_at: z.date().nullable(),
})
type Send = z.infer<typeof sendSchema>

/**
 * What readers did with newsletters, by call to action and the version that was in their letter. Every event is one of a
 * kind for its reader, so each row counts people. Whoever was sent no letter is not counted.
 */
export async function countLetters(trx: Knex.Transaction, events: readonly VisitorEvent[]): Promise<void> {
  const mine = events.filter((event): event is LetterEvent => event.kind === 'letter')
  if (mine.length === 0) return
  const sends = await readSends(trx, mine)
  const letters = new Map(
    (
      await lettersWhere(
        trx,
        (query) =>
          void query.whereIn(
            'number',
            mine.map(({ letter }) => letter),
          ),
      )
    ).map((letter) => [letter.number, letter]),
  )
  const sums = new Map<string, { key: [number, string, string]; shown: number; followed: number }>()
  const add = (key: [number, string, string], did: LetterEvent['did']) => {
    const sum = sums.get(key.join(' ')) ?? { key, shown: 0, followed: 0 }
    sum[did]++
    sums.set(key.join(' '), sum)
  }
  const changed = new Map<string, Send>()
  for (const event of mine) {
    const name = `${event.letter} ${event.recipient}`
    const send = changed.get(name) ?? sends.get(name)
    const letter = letters.get(event.letter)
    if (send === undefined || letter === undefined) continue
    const test = letter.calls.find(({ call }) => call === event.call)?.test
    const pass = readPass(`${event.letter}.${event.recipient}${send.carried === '' ? '' : `.${send.carried}`}`)
    const version = test == null ? ORIGINAL : (pass?.carried.get(test) ?? ORIGINAL)
    add([event.letter, event.call, version], event.did)
    const column = event.did === 'shown' ? 'opened_at' : 'followed_at'
    if (send[column] === null) add([event.letter, '', ''], event.did)
    if (send[column] === null || send[column] > event.at) changed.set(name, { ...send, [column]: event.at })
  }
  const rows = [...changed.values()].map(({ letter, recipient, reader, look, sent_at, opened_at, followed_at }) => ({
    letter,
    recipient: Buffer.from(recipient, 'hex'),
    reader,
    look,
    sent_at,
    opened_at,
    followed_at,
  }))
  if (rows.length > 0) await trx('letter_sends').insert(rows).onConflict().merge(['opened_at', 'followed_at'])
  if (sums.size === 0) return
  await insertMany(trx, {
    table: 'letter_counts',
    columns: ['letter', 'call_id', 'version', 'shown', 'followed'],
    rows: [...sums.values()].map(({ key, shown, followed }) => [...key, shown, followed]),
    onSame: 'shown = shown + VALUES(shown), followed = followed + VALUES(followed)',
  })
}

async function readSends(trx: Knex.Transaction, events: readonly LetterEvent[]): Promise<Map<string, Send>> {
  const pairs = events.map(({ letter, recipient }) => [letter, Buffer.from(recipient, 'hex')])
  const rows: unknown[] = await trx('letter_sends as s')
    .join('letter_looks as l', (on) => on.on('l.letter', 's.letter').andOn('l.look', 's.look'))
    .whereIn(['s.letter', 's.recipient'], pairs)
    .select('s.letter', 's.recipient', 's.reader', 's.look', 's.sent_at', 'l.carried', 's.opened_at', 's.followed_at')
  return new Map(rows.map((row) => sendSchema.parse(row)).map((send) => [`${send.letter} ${send.recipient}`, send]))
}

export async function forgetLetters(trx: Knex.Transaction): Promise<void> {
  await trx('letter_counts').delete()
  await trx('letter_sends').update({ opened_at: null, followed_at: null })
}
