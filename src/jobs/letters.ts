import { callAs, passText, roundOn, signedPass, versionsFor } from '@/core/letter'
import { ORIGINAL } from '@/core/decide'
import type { TestId, VersionId } from '@/core/ids'
import type { Release } from '@/core/release'
import { readerOf } from '@/core/simulate'
import { signerWith } from '@/serving/signer'
import { mailOf, PASS, type Mail } from '@/site/compile/mail'
import { inTransaction, type Database } from '@/server/database/connect'
import { readersReact, standInLetterService, type MailFor } from '@/server/stand-ins/letter-service'
import { looksOf, nextLetter, type LetterRow } from '@/server/stores/letters'
import { newestReleaseNumber, readRelease } from '@/server/stores/releases'

const AT_ONCE = 500

export interface Post {
  readonly now: Date
  /** How long an hour of the made-up readers takes, in milliseconds. */
  readonly hour: number
  readonly origin: string
  readonly css: string
  log(reason: unknown): void
}

/** Sends what waits to be sent, and lets readers do what their time has come for. @returns whether there was anything */
export async function postOn(db: Database, post: Post): Promise<boolean> {
  const waiting: unknown = await db('letters').whereIn('status', ['waiting', 'sending']).first('number')
  const due: unknown = await db('reader_steps').where('at', '<=', post.now).first('letter')
  if (waiting === undefined && due === undefined) return false
  const release = (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
  if (release === undefined) return false
  const sent = waiting === undefined ? 0 : await sendLetters(db, release, post)
  const made = await readersReact(db, release, post.now)
  return sent + made > 0
}

/**
 * Sends the next part of the letter whose turn it is. Every reader is drawn for the tests that run on its calls to action
 * like a visitor of a page. All of a part is written down, or nothing: a sending that was interrupted goes on where it was.
 *
 * @returns how many were sent
 */
export async function sendLetters(db: Database, release: Release, post: Post): Promise<number> {
  return inTransaction(db, async (trx) => {
    const letter = await nextLetter(trx)
    if (letter === null) return 0
    const calls = letter.calls.map(({ call }) => call)
    const rounds = release.rounds.filter(({ test }) => letter.calls.some((call) => call.test === test))
    const last = Math.min(letter.plan.readers, letter.sent + AT_ONCE)
    const looks = new Map((await looksOf(trx, [letter.number])).map(({ look, carried }) => [carried, look]))
    const sent = new Map<number, number>()
    const mails: (MailFor & { look: number })[] = []
    const drawn = new Map<string, Mail>()
    const signer = signerWith(release.letterKey)
    for (let number = letter.sent; number < last; number++) {
      const reader = readerOf(number)
      const carried = new Map<TestId, VersionId>()
      for (const { test, version } of versionsFor(reader.visitor, calls, rounds)) if (test !== null) carried.set(test, version)
      const pass = { letter: letter.number, recipient: reader.visitor, carried }
      const key = passText(pass).split('.').slice(2).join('.')
      const text = signedPass(pass, signer)
      const mail = drawn.get(key) ?? drawnAs(letter, release, carried, post)
      if (mail === null) {
        const message = 'It cannot be drawn as a mail. Look at its parts, and send it again.'
        await trx('letters').where({ number: letter.number }).update({ status: 'stopped', message })
        return 0
      }
      drawn.set(key, mail)
      let look = looks.get(key)
      if (look === undefined) {
        look = looks.size + 1
        looks.set(key, look)
        await trx('letter_looks').insert({ letter: letter.number, look, carried: key, html: mail.html, words: mail.words })
      }
      sent.set(look, (sent.get(look) ?? 0) + 1)
      mails.push({
        reader,
        pass,
        subject: letter.subject,
        html: mail.html.replaceAll(PASS, text),
        words: mail.words.replaceAll(PASS, text),
        look,
      })
    }
    await trx('letter_sends').insert(
      mails.map(({ reader, look }) => ({
        letter: letter.number,
        recipient: Buffer.from(reader.visitor, 'hex'),
        reader: reader.number,
        look,
        sent_at: post.now,
      })),
    )
    await standInLetterService(trx, letter, post).take(mails)
    for (const [look, count] of sent) await trx('letter_looks').where({ letter: letter.number, look }).increment('sent', count)
    await trx('letters')
      .where({ number: letter.number })
      .update({ sent: last, status: last === letter.plan.readers ? 'sent' : 'sending' })
    return mails.length
  })
}

/** The letter as those get it who were drawn these versions; `null` where it cannot be drawn, which nobody else waits for. */
function drawnAs(letter: LetterRow, release: Release, carried: ReadonlyMap<TestId, VersionId>, post: Post): Mail | null {
  const documents = release.documents.map((document) => {
    if (document.kind !== 'callToAction') return document
    const round = roundOn(document.id, release.rounds)
    return callAs(document, round, round === undefined ? ORIGINAL : (carried.get(round.test) ?? ORIGINAL))
  })
  try {
    return mailOf(letter.body, { documents, origin: post.origin, css: post.css })
  } catch (reason) {
    post.log(reason)
    return null
  }
}
