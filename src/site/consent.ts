import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { siteRoutes } from '@/core/site-routes'
import { isOwnOrigin, ownPath, plain, SECURITY } from './answers'
import type { CompiledSite } from './compile/compile'
import { consentForm } from './compile/consent-notice'
import { plainPage } from './compile/head'

interface ConsentParts {
  current(): CompiledSite | null
  readonly secure: boolean
  readonly style: string
}

const YEAR = 31_536_000
/** All that a browser was given to keep. */
const OURS = ['visitor', 'visit', 'past', 'reached', 'about', 'kept'] as const

/** Visitors say whether anything may be kept of them, and may change their mind at this address. */
export function consent(site: FastifyInstance, { current, secure, style }: ConsentParts): void {
  const rest = `; Path=/; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`

  site.get(siteRoutes.consent.at, (_, reply) => {
    const release = current()?.release
    if (release === undefined) return plain(reply, 503, 'The site is starting. Please try again in a moment.')
    const body = `<main class="section ground-light"><div class="measure text">${consentForm(release.consent, '/')}</div></main>`
    return reply
      .headers({ ...SECURITY, 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' })
      .send(plainPage(release.identity.name || 'Consent', style, body, release.identity.language))
  })

  site.post(siteRoutes.consent.at, (request: FastifyRequest, reply: FastifyReply) => {
    if (!isOwnOrigin(request)) return plain(reply, 403, 'This can only be answered on the site itself.')
    const sent = new URLSearchParams(typeof request.body === 'string' ? request.body : '')
    const answer = sent.get('answer')
    if (answer !== 'yes' && answer !== 'no') return plain(reply, 400, 'Please go back and answer yes or no.')
    const back = sent.get('back') ?? '/'
    const gone = answer === 'no' ? OURS.map((name) => `${name}=; Max-Age=0${rest}`) : []
    return reply
      .code(303)
      .header('set-cookie', [`consent=${answer}; Max-Age=${YEAR}${rest}`, ...gone])
      .headers({ location: ownPath(back), 'cache-control': 'no-store' })
      .send()
  })
}
