interface SiteRoute {
  /** As its router writes it: `:name` is one part of an address, `*` all that follows. */
  readonly at: string
  readonly methods: readonly ('GET' | 'POST')[]
}

const asked = <At extends string>(at: At) => ({ at, methods: ['GET'] }) as const
const taking = <At extends string>(at: At) => ({ at, methods: ['POST'] }) as const

/** Every address at which the site itself answers: its router takes them from here, and no page may stand at one. */
export const siteRoutes = {
  health: asked('/healthz'),
  sitemap: asked('/sitemap.xml'),
  robots: asked('/robots.txt'),
  favicon: asked('/favicon.ico'),
  look: asked('/look/*'),
  media: asked('/media/:name'),
  made: asked('/made/:name'),
  collect: taking('/collect'),
  form: taking('/forms/:document/:node/:form?'),
  visitor: taking('/visitor'),
  consent: { at: '/consent', methods: ['GET', 'POST'] },
  report: taking('/report'),
  reportImage: asked('/report/image'),
  openApi: asked('/report/openapi.json'),
  out: asked('/out'),
  letterFollow: asked('/letter/follow'),
  letterImage: asked('/letter/image'),
  seeChoose: asked('/see/choose'),
  seeStop: asked('/see/stop'),
  see: asked('/see/:key'),
  flag: taking('/ofrep/v1/evaluate/flags/:key'),
  flags: taking('/ofrep/v1/evaluate/flags'),
} as const satisfies Record<string, SiteRoute>

const routes: readonly SiteRoute[] = Object.values(siteRoutes)

/** The addresses that a route answers at, as the source of a regular expression, without the slash at their beginning. */
function answersAt({ at }: SiteRoute): string {
  return at
    .slice(1)
    .replace(/\./g, '\\.')
    .replace(/\/:\w+\?/g, '(?:/[^/]+)?')
    .replace(/:\w+/g, '[^/]+')
    .replace(/\*/g, '.*')
}

/** The source of a regular expression: one of the site’s own addresses, without the slash at its beginning. */
export const OWN_ADDRESSES = routes.map(answersAt).join('|')

const patterns = routes.map((route) => ({ methods: route.methods, pattern: new RegExp(`^/(?:${answersAt(route)})/?$`) }))

/** The methods that the site’s own route at a path has; `null` where no route is. */
export function methodsOfRoute(path: string): readonly ('GET' | 'POST')[] | null {
  const found = patterns.filter(({ pattern }) => pattern.test(path)).flatMap(({ methods }) => methods)
  return found.length === 0 ? null : [...new Set(found)]
}
