import { randomUUID } from 'node:crypto'
import type { FastifyReply, FastifyRequest } from 'fastify'
import { askedForm, type AskedForm } from '@/components/form/asked'
import type { NodeId } from '@/core/ids'
import { shortened } from '@/core/text'
import { inHeader, isOwnOrigin, notFound, plain, tooMany } from '../answers'
import type { CompiledSite } from '../compile/compile'
import { cookieIn, readVisitorId } from '../serve/cookies'
import { isLooking } from '../serve/left-out'
import type { Limits } from './allowance'
import type { FormEntry } from '@/core/events'
import { reachedBy } from './reached'

const LONGEST = 2000

export interface TakingForms {
  current(): CompiledSite | null
  keepEntry(entry: FormEntry): Promise<void>
  addressOf(request: FastifyRequest): string
  readonly limits: Limits
  readonly style: string
  readonly secure?: boolean
  now(): number
  log(reason: unknown): void
}

/** Takes a form as it was shown to this visitor: what it asks for, durable before the visitor is thanked. */
export async function takeForm(request: FastifyRequest, reply: FastifyReply, parts: TakingForms): Promise<FastifyReply> {
  const compiled = parts.current()
  if (compiled === null || !isOwnOrigin(request)) return plain(reply, 403, 'This form can only be sent from its own page.')
  const asked = formShown(compiled, request)
  if (asked === null) return notFound(reply, compiled, parts.style)
  if (isLooking(request.headers.cookie))
    return plain(
      reply,
      200,
      'You are looking at this page by a link from the studio, so this form was not sent. Go back to look on.',
    )
  const known = readVisitorId(cookieIn(request.headers.cookie, 'visitor'))
  const wait = parts.limits('form', { visitor: known, address: parts.addressOf(request) }, parts.now())
  if (wait > 0) return tooMany(reply, wait)
  const sent = new URLSearchParams(typeof request.body === 'string' ? request.body : '')
  const lacking = asked.fields.find(({ name, required }) => required && (sent.get(name) ?? '').trim() === '')
  if (lacking !== undefined)
    return plain(reply, 400, `Please go back and fill in “${lacking.label}”. What you typed is still there.`)
  const values = Object.fromEntries(asked.fields.map(({ name }) => [name, shortened(sent.get(name) ?? '', LONGEST)]))
  const at = new Date(parts.now())
  const leftOut = compiled.leavesOut(request.headers, () => parts.addressOf(request)) !== null
  try {
    await parts.keepEntry({
      id: randomUUID().replaceAll('-', ''),
      at,
      document: asked.document,
      node: asked.node,
      order: asked.order,
      values,
      visitor: leftOut ? null : known,
    })
  } catch (reason) {
    parts.log(reason)
    return plain(
      reply.header('retry-after', '30'),
      503,
      'We could not keep your message just now. Please go back and send it again in a minute; what you typed is still there.',
    )
  }
  // Rules that ask for it go by what was sent: whether the service behind it accepts that is not known for a while.
  const sentBy = leftOut ? null : known
  const event = { kind: 'form', document: asked.document, nodes: [asked.node], at } as const
  const reached =
    sentBy === null
      ? null
      : reachedBy([{ ...event, visitor: sentBy }], compiled, {
          visitor: sentBy,
          cookie: request.headers.cookie,
          secure: parts.secure,
        })
  if (reached !== null) void reply.header('set-cookie', reached)
  return reply
    .code(303)
    .header('location', inHeader(compiled.view.addressOf(asked.next)))
    .send()
}

/** The form that was sent; where nobody knows its version any more, as the page has it now. */
function formShown(compiled: CompiledSite, request: FastifyRequest): AskedForm | null {
  const { document: documentId, node } = request.params as { document: string; node: string }
  const shown = compiled.forms.get(request.url.split('?')[0] ?? '')
  if (shown !== undefined) return shown
  const document = compiled.release.documents.find(({ id }) => id === documentId)
  return document === undefined ? null : askedForm(document, node as NodeId)
}
