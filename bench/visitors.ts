import { connect, type Socket } from 'node:net'
import { randomBytes } from 'node:crypto'

const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36'

export interface Outcome {
  readonly perSecond: number
  /** Milliseconds. */
  readonly median: number
  readonly p99: number
  readonly answered: number
}

/** One browser after another over kept connections: whoever comes next says who they are by a cookie, or nothing. */
export interface Coming {
  readonly port: number
  readonly connections?: number
  /** The cookies of the next visitor; empty for somebody new. */
  next(): string
  /** Told what each was given to keep. */
  kept?(cookies: string): void
  /** Until so long has passed, or so many were answered. */
  readonly milliseconds?: number
  readonly requests?: number
}

/**
 * As little work for each request as can be, so that the server and not this is measured.
 *
 * @throws where an answer is not 200
 */
export async function visit({
  port,
  next,
  kept,
  connections = 50,
  milliseconds = Infinity,
  requests = Infinity,
}: Coming): Promise<Outcome> {
  const begun = performance.now()
  const waited: number[] = []
  let asked = 0
  const one = () =>
    new Promise<void>((done, failed) => {
      const socket: Socket = connect({ port, host: '127.0.0.1', noDelay: true })
      let left = -1
      let at = 0
      let head: Buffer = Buffer.alloc(0)
      const ask = () => {
        if (asked >= requests || performance.now() - begun > milliseconds) return void socket.end(done)
        asked++
        at = performance.now()
        const cookie = next()
        socket.write(
          `GET / HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\nuser-agent: ${agent}\r\naccept: text/html\r\naccept-encoding: gzip, deflate, br\r\naccept-language: en-GB,en;q=0.9\r\n${cookie === '' ? '' : `cookie: ${cookie}\r\n`}\r\n`,
        )
      }
      socket.on('connect', ask)
      socket.on('error', failed)
      socket.on('data', (part: Buffer) => {
        let body = part
        if (left < 0) {
          head = head.length === 0 ? part : Buffer.concat([head, part])
          const end = head.indexOf('\r\n\r\n')
          if (end < 0) return
          const lines = head.toString('latin1', 0, end)
          if (!lines.startsWith('HTTP/1.1 200')) return void failed(new Error(`answered ${lines.slice(0, 60)}`))
          left = Number(/content-length: (\d+)/i.exec(lines)?.[1])
          if (kept !== undefined) kept([...lines.matchAll(/set-cookie: ([^;\r]+)/gi)].map(([, pair]) => pair ?? '').join('; '))
          body = head.subarray(end + 4)
          head = Buffer.alloc(0)
        }
        left -= body.length
        if (left > 0) return
        left = -1
        waited.push(performance.now() - at)
        ask()
      })
    })
  await Promise.all(Array.from({ length: connections }, one))
  const took = performance.now() - begun
  waited.sort((a, b) => a - b)
  const at = (share: number) => waited[Math.floor(waited.length * share)] ?? NaN
  return { perSecond: (waited.length / took) * 1000, median: at(0.5), p99: at(0.99), answered: waited.length }
}

export const newId = (): string => randomBytes(16).toString('hex')
