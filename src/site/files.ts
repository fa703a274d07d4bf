import type { FastifyInstance, FastifyReply } from 'fastify'
import * as z from 'zod'
import { sendingOf } from '@/serving/library-file'
import { siteRoutes } from '@/core/site-routes'
import { plain, SECURITY, sendAsset } from './answers'
import type { CompiledSite } from './compile/compile'
import { robots, sitemap } from './for-robots'
import type { SiteParts } from './site'

const mediaParams = z.object({ name: z.string() })
const widthAsked = z.object({ w: z.unknown() }).catch({ w: undefined })
const ALONE = "default-src 'none'; style-src 'unsafe-inline'; sandbox"

/** All that is there to be fetched and is no page: for robots, for whoever looks after the site, styles, scripts, pictures. */
export function files(site: FastifyInstance, parts: SiteParts): void {
  site.get(siteRoutes.health.at, (_, reply) => {
    const loaded = parts.current()
    return loaded === null
      ? plain(reply, 503, 'no release is loaded yet')
      : plain(reply, 200, health(loaded, parts.number?.() ?? 0))
  })
  const origin = parts.origin ?? ''
  const text = (reply: FastifyReply, type: string, of: (site: CompiledSite) => string) => {
    const loaded = parts.current()
    return loaded === null
      ? plain(reply, 503, 'The site is starting. Please try again in a moment.')
      : reply.headers({ ...SECURITY, 'content-type': type, 'cache-control': 'public, max-age=300' }).send(of(loaded))
  }
  site.get(siteRoutes.sitemap.at, (_, reply) =>
    text(reply, 'application/xml; charset=utf-8', (loaded) => sitemap(loaded, origin)),
  )
  site.get(siteRoutes.robots.at, (_, reply) => text(reply, 'text/plain; charset=utf-8', () => robots(origin)))
  site.get(siteRoutes.favicon.at, (_, reply) => {
    const view = parts.current()?.view
    const { mark = '' } = view?.identity ?? {}
    return view === undefined || mark === ''
      ? plain(reply, 404, 'This site has no picture of its own.')
      : reply
          .code(302)
          .headers({ ...SECURITY, location: view.pictureAddress(mark) })
          .send()
  })
  site.get(siteRoutes.look.at, (request, reply) =>
    sendAsset(request, reply, parts.assets.get(request.url.split('?')[0] ?? ''), isForGood(request.url)),
  )
  site.get(siteRoutes.media.at, (request, reply) => {
    const { name } = mediaParams.parse(request.params)
    const { asset, forGood, varies } = sendingOf(parts.media.get(name), widthAsked.parse(request.query).w, request.headers.accept)
    if (asset === undefined) return plain(reply, 404, 'There is no such file.')
    if (varies) reply.header('vary', 'accept')
    // A drawing is a document where it is opened by itself: nothing in it runs, whatever it holds.
    return sendAsset(request, reply, asset, forGood, { 'content-security-policy': ALONE })
  })
  // A style's address is made from its rules, so it never changes.
  site.get(siteRoutes.made.at, (request, reply) => {
    const body = parts.current()?.styles.get(request.url)
    return sendAsset(
      request,
      reply,
      body === undefined ? undefined : { body, type: 'text/css; charset=utf-8', etag: `"${request.url}"` },
      true,
    )
  })
}

/** What this process really serves, and what of it could not be made. */
function health({ faults }: CompiledSite, number: number): string {
  return ['ok', `release ${number}`, ...faults.map(({ id, words }) => `${id} stays as it was: ${words}`)].join('\n')
}

/** An address that names what is behind it, by a mark after it or a digest in it: what is there never changes. */
function isForGood(url: string): boolean {
  return url.includes('?') || /-[A-Z0-9]{8}\.\w+$/.test(url)
}
