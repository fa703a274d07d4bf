import { createServer } from 'node:http'
import type { AddressInfo, Server } from 'node:net'
import * as z from 'zod'
import { makeSite } from '@/site/site'
import { frontPageWith, type Varied } from './front-page'

/*
 * One server in a process of its own, bundled as it is in service: the site with so many tests and rules on its front
 * page and so many tests elsewhere, or a bare server that answers what it is told from memory. It says its port when it
 * listens, and for each line that it is given, the memory that it holds.
 */
const orders = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('site'), tests: z.number(), rules: z.number(), elsewhere: z.number() }),
  z.object({ kind: z.literal('bare'), head: z.array(z.string()), body: z.base64() }),
])
const order = orders.parse(JSON.parse(process.env.UNDER_TEST ?? ''))

function makeTheSite(varied: Varied): Promise<Server> {
  const compiled = frontPageWith(varied)
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: () => Promise.resolve(),
    keepEntry: () => Promise.resolve(),
    now: () => Date.now(),
    log: (reason) => console.error(reason),
  })
  return site.listen({ port: 0, host: '127.0.0.1' }).then(() => site.server)
}

async function makeBare({ head, body }: { head: string[]; body: string }): Promise<Server> {
  const bytes = Buffer.from(body, 'base64')
  const server = createServer((_, response) => {
    response.writeHead(200, head)
    response.end(bytes)
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  return server
}

void (order.kind === 'site' ? makeTheSite(order) : makeBare(order)).then((server) => {
  console.log((server.address() as AddressInfo).port)
  // It ends with whoever began it.
  process.stdin.on('end', () => process.exit(0))
  process.stdin.on('data', () => {
    globalThis.gc?.()
    console.log(process.memoryUsage.rss())
  })
})
