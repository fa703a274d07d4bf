import type { Knex } from 'knex'
import * as z from 'zod'
import type { SendingPlan } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { nodeAt } from '@/core/document'
import { doing, libraryOf } from '@/core/goals'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { callAs, readPass, roundOn, type Pass } from '@/core/letter'
import type { Release } from '@/core/release'
import { reactionOf, type Reader } from '@/core/simulate'
import type { StampedEvent } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'
import { letterEvent, letterExposure } from '@/serving/letter-events'
import { inTransaction, type Database } from '../database/connect'
import { STAND_IN, writeEvents } from '../stores/events'
import { lettersWhere, type LetterRow } from '../stores/letters'
import { readSettings } from '../stores/settings'
import { orderEvent } from './shop'

/** A letter for one mailbox. */
export interface MailFor {
  readonly reader: Reader
  readonly pass: Pass
  readonly subject: string
  readonly html: string
  readonly words: string
}

/** What brings letters to mailboxes. A letter that it has taken for somebody is not brought to them again. */
export interface LetterService {
  take(mails: readonly MailFor[]): Promise<void>
}

/** How long an hour of a made-up reader takes: a second, so that a letter can be watched. */
export const READERS_HOUR = 1000

/** Stands in for a mailing service and for its readers: nobody gets anything, and what each will do is written down. */
export function standInLetterService(
  trx: Knex.Transaction,
  letter: Pick<LetterRow, 'number' | 'calls' | 'plan'>,
  { now, hour }: { now: Date; hour: number },
): LetterService {
  const after = (hours: number) => new Date(now.getTime() + hours * hour)
  return {
    async take(mails) {
      const steps = mails.flatMap(({ reader, pass }) => {
        const calls = letter.calls.map(({ call, test }) => ({
          call,
          isVariant: test !== null && (pass.carried.get(test) ?? ORIGINAL) !== ORIGINAL,
        }))
        const { opens, follows, buys } = reactionOf(letter.plan, letter.number, reader, calls)
        const step = (name: 'open' | 'follow' | 'buy', hours: number | null) =>
          hours === null
            ? []
            : [
                {
                  letter: letter.number,
                  recipient: Buffer.from(pass.recipient, 'hex'),
                  step: name,
                  at: after(hours),
                  call_id: follows?.call ?? null,
                },
              ]
        return [...step('open', opens), ...step('follow', follows?.after ?? null), ...step('buy', buys)]
      })
      if (steps.length > 0) await trx('reader_steps').insert(steps).onConflict().ignore()
    },
  }
}

const stepSchema = z.object({
  letter: z.number(),
  recipient: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  step: z.enum(['open', 'follow', 'buy']),
  at: z.date(),
  call_id: documentIdSchema.nullable(),
  carried: z.string(),
})
type Step = z.infer<typeof stepSchema>
const AT_ONCE = 500

/**
 * Lets the made-up readers do what their time has come for: the events that the letter's picture and links would have
 * brought, and what followed from them, each with the step that led to it taken off the list.
 *
 * @returns how many steps were made
 */
export async function readersReact(db: Database, release: Release, now: Date): Promise<number> {
  return inTransaction(db, async (trx) => {
    const found: unknown[] = await trx('reader_steps as r')
      .join('letter_sends as s', (on) => on.on('s.letter', 'r.letter').andOn('s.recipient', 'r.recipient'))
      .join('letter_looks as l', (on) => on.on('l.letter', 's.letter').andOn('l.look', 's.look'))
      .where('r.at', '<=', now)
      .orderBy('r.at')
      .limit(AT_ONCE)
      .select('r.letter', 'r.recipient', 'r.step', 'r.at', 'r.call_id', 'l.carried')
    const steps = found.map((row) => stepSchema.parse(row))
    if (steps.length === 0) return 0
    const letters = new Map(
      (await lettersWhere(trx, (query) => void query.whereIn('number', [...new Set(steps.map(({ letter }) => letter))]))).map(
        (letter) => [letter.number, letter],
      ),
    )
    const events = steps.flatMap((step) => {
      const letter = letters.get(step.letter)
      const pass = readPass(`${step.letter}.${step.recipient}${step.carried === '' ? '' : `.${step.carried}`}`)
      return letter === undefined || pass === null ? [] : eventsOf(step, pass, letter, release)
    })
    const { demonstration } = await readSettings(trx)
    await writeEvents(trx, demonstration ? events : ownOnly(events))
    if (demonstration)
      await trx('letters')
        .whereIn('number', [...letters.keys()])
        .update({ counted: 1 })
    await trx('reader_steps')
      .whereIn(
        ['letter', 'recipient', 'step'],
        steps.map(({ letter, recipient, step }) => [letter, Buffer.from(recipient, 'hex'), step]),
      )
      .delete()
    return steps.length
  })
}

/**
 * Where people are real, made-up ones add to nothing of theirs: only what they did with the letter itself is kept, apart
 * from what is live.
 */
function ownOnly(events: readonly StampedEvent[]): StampedEvent[] {
  return events.flatMap((event) => (event.kind === 'letter' ? [{ ...event, crowd: STAND_IN }] : []))
}

function eventsOf({ step, at, call_id: call }: Step, pass: Pass, { calls, plan }: LetterRow, release: Release): StampedEvent[] {
  if (step === 'open')
    return [
      ...calls.map((one) => letterEvent(pass, one.call, pass.recipient, 'shown', at)),
      ...release.rounds.filter(({ paused }) => !paused).flatMap((round) => letterExposure(pass, round, at)),
    ]
  if (call === null) return []
  if (step === 'follow') return [letterEvent(pass, call, pass.recipient, 'followed', at), ...landing(pass, call, at, release)]
  return bought(pass, call, at, plan, release)
}

/** The page that the call to action leads to, as the reader's version of it has it. */
function landing(pass: Pass, call: DocumentId, at: Date, { documents, rounds }: Release): StampedEvent[] {
  const document = documents.find(({ id }) => id === call)
  const round = roundOn(call, rounds)
  const shown =
    document === undefined
      ? undefined
      : callAs(document, round, round === undefined ? ORIGINAL : (pass.carried.get(round.test) ?? ORIGINAL))
  const target = /^page:([a-z0-9-]+)/.exec(shown === undefined ? '' : String(nodeAt(shown, shown.root).props.link ?? ''))?.[1]
  const page = documents.find(({ id }) => id === target)
  if (page === undefined) return []
  const { path = '', pageType = '' } = nodeAt(page, page.root).props
  const arrival = { source: 'newsletter', device: 'phone' }
  const id = eventIdOf(`letter ${pass.letter} ${pass.recipient} landing`)
  return [
    {
      id,
      crowd: 0,
      visitor: pass.recipient,
      at,
      kind: 'page',
      document: page.id,
      path: String(path),
      pageType: String(pageType),
      arrival,
    },
  ]
}

/** An order, and what the test on the call to action counts, where one runs. */
function bought(pass: Pass, call: DocumentId, at: Date, plan: SendingPlan, { rounds }: Release): StampedEvent[] {
  const { letter, recipient } = pass
  const number = `L${letter}-${recipient.slice(0, 8)}`
  const round = roundOn(call, rounds)
  const goal = round?.goals.find(({ id }) => id === round.design.primary)
  const where = { document: round?.pages[0] ?? call, path: '', pageType: '', order: number, value: plan.value }
  const reached = goal === undefined ? [] : doing(goal, libraryOf(round?.goals ?? []), where)
  return [
    ...reached
      .filter(({ kind }) => kind !== 'order')
      .map((happening, step): StampedEvent => ({
        id: eventIdOf(`letter ${letter} ${recipient} goal ${step}`),
        crowd: 0,
        visitor: recipient,
        at,
        ...happening,
      })),
    orderEvent({ number, visitor: recipient, at, value: plan.value }),
  ]
}
