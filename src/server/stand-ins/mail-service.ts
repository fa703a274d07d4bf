import type { Knex } from 'knex'
import * as z from 'zod'
import { shortened } from '@/core/text'
import { readSettings } from '../stores/settings'

/** A mail to one person. */
export interface Mail {
  readonly to: string
  readonly subject: string
  readonly body: string
}

/** What brings mails to people: durable when it resolves. A real one takes the place of the stand-in behind this. */
export interface MailService {
  send(mail: Mail): Promise<void>
}

/** The service that is set; `null` where none is, so that links are handed on by hand. */
export async function mailService(db: Knex): Promise<MailService | null> {
  return (await readSettings(db)).mail === 'standIn' ? standInMailService(db) : null
}

const MOST_KEPT = 500

/** Stands in for a mail service: nobody gets anything, and what would have been sent can be read here. */
function standInMailService(db: Knex): MailService {
  return {
    async send({ to, subject, body }) {
      await db('kept_mails').insert({
        recipient: to.slice(0, 254),
        subject: shortened(subject, 300),
        body: shortened(body, 5000),
        at: new Date(),
      })
      const old: unknown = await db('kept_mails').orderBy('seq', 'desc').offset(MOST_KEPT).limit(1).first('seq')
      if (old !== undefined)
        await db('kept_mails')
          .where('seq', '<=', z.object({ seq: z.coerce.number() }).parse(old).seq)
          .delete()
    },
  }
}

const row = z.object({ seq: z.coerce.number(), recipient: z.string(), subject: z.string(), body: z.string(), at: z.date() })

/** What the stand-in was given to send, the newest first. */
export async function keptMails(db: Knex, limit: number): Promise<z.infer<typeof row>[]> {
  const rows: unknown[] = await db('kept_mails').orderBy('seq', 'desc').limit(limit)
  return rows.map((one) => row.parse(one))
}
