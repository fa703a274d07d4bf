import { createHash } from 'node:crypto'
import type { FastifyReply, FastifyRequest } from 'fastify'
import type { Release } from '@/core/release'

export type Reporter = Release['reporters'][number]

/** Who may report, and ask, from elsewhere: by key, from the origins that are listed and no others. */
export function reportersOf(release: () => Release | null) {
  const all = () => release()?.reporters ?? []

  const byKey = (key: string): Reporter | undefined => {
    const hash = createHash('sha256').update(key).digest('hex')
    return all().find((one) => one.hash === hash)
  }

  function bearer(request: FastifyRequest): Reporter | undefined {
    const key = /^Bearer (\S{1,200})$/i.exec(request.headers.authorization ?? '')?.[1]
    return key === undefined ? undefined : byKey(key)
  }

  return {
    byKey,
    bearer,
    lists: (wanted: string) => all().some(({ origin }) => origin === wanted),

    /** Whose key comes with it, from an origin that it is for. */
    holder(request: FastifyRequest): Reporter | null {
      const reporter = bearer(request)
      const { origin } = request.headers
      return reporter === undefined || (origin !== undefined && origin !== reporter.origin) ? null : reporter
    },

    /** Exactly the origins that have a key, none by pattern (Fetch standard, CORS protocol). */
    allow(request: FastifyRequest, reply: FastifyReply): void {
      const { origin } = request.headers
      if (origin !== undefined && all().some((one) => one.origin === origin))
        void reply.header('access-control-allow-origin', origin).header('vary', 'Origin')
    },
  }
}
export type Reporters = ReturnType<typeof reportersOf>
