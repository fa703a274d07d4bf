import { Agent, request, type IncomingHttpHeaders, type OutgoingHttpHeaders } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { FastifyInstance } from 'fastify'

export interface Answer {
  readonly status: number
  readonly headers: IncomingHttpHeaders
  readonly body: string
}

export interface Asked {
  readonly method?: 'GET' | 'POST'
  readonly headers: OutgoingHttpHeaders
  readonly body?: string
}

/** A site that listens to this process alone, asked over HTTP as browsers ask it. */
export interface Loopback {
  ask(path: string, asked: Asked): Promise<Answer>
  close(): Promise<void>
}

export async function onLoopback(site: FastifyInstance): Promise<Loopback> {
  await site.listen({ port: 0, host: '127.0.0.1' })
  const { port } = site.server.address() as AddressInfo
  const agent = new Agent({ keepAlive: true, maxSockets: 4 })
  return {
    ask: (path, { method = 'GET', headers, body }) =>
      new Promise((done, failed) => {
        const asking = request({ host: '127.0.0.1', port, path, method, headers, agent }, (answer) => {
          const parts: Buffer[] = []
          answer.on('data', (part: Buffer) => parts.push(part))
          answer.on('error', failed)
          answer.on('end', () =>
            done({ status: answer.statusCode ?? 0, headers: answer.headers, body: Buffer.concat(parts).toString() }),
          )
        })
        asking.on('error', failed)
        asking.end(body)
      }),
    close: async () => {
      agent.destroy()
      await site.close()
    },
  }
}
