import type { Knex } from 'knex'
import { studioOrigin } from '@/serving/addresses'
import { mailService } from '../stand-ins/mail-service'
import { makeLink, type LinkKind } from './links'

const mailWords = {
  invitation: ['You are invited to the studio', 'Choose a password of your own here, within three days:'],
  reset: ['A new password', 'Choose a new password here, within a day:'],
} as const satisfies Record<LinkKind, readonly [string, string]>

/** Makes the link, and sends it where a mail service is set. */
export async function handOver(
  trx: Knex,
  person: { id: string; name: string; email: string },
  kind: LinkKind,
  by: string,
): Promise<{ link: string; until: string; sent: boolean }> {
  const { token, until } = await makeLink(trx, person.id, kind, by)
  const link = `${studioOrigin()}/welcome/${token}`
  const service = await mailService(trx)
  const [subject, words] = mailWords[kind]
  await service?.send({ to: person.email, subject, body: `${person.name},\n\n${words}\n${link}\n` })
  return { link, until: until.toISOString(), sent: service !== null }
}
