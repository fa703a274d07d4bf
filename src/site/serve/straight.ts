import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { connect, Socket } from 'node:net'
import { KEPT_SECONDS } from '@/serving/connections'

interface Answer {
  /** Names and values in turn, without the length of the body: the same array wherever the same is said. */
  readonly headers: readonly string[]
  readonly cookies: readonly string[]
  readonly body: Buffer
}

/** An answer that is longer is put together by Node: to copy it would cost more than is won. */
const ROOM = 32_768
/** What may stand in the value of a header (RFC 9110, 5.5), of what we write ourselves. */
const PRINTABLE = /^[\x20-\x7e]*$/

/**
 * Sends whole answers by one write to the connection. Node asks for each header whether it may be sent, puts head and body
 * together and looks after the answer as after one that may come in parts, which takes longer than deciding what to show;
 * reading requests and keeping connections stay with it.
 */
export class Straight {
  private room = Buffer.allocUnsafeSlow(ROOM)
  private readonly heads = new WeakMap<readonly string[], Buffer>()
  private begins = Buffer.alloc(0)
  private second = NaN
  /** @param everywhere headers of every answer, name after value */
  constructor(
    private readonly everywhere: readonly string[],
    private isProven = false,
  ) {}

  /** Nothing is sent this way before it has been seen to work here. */
  async prove(): Promise<void> {
    this.isProven = await proven()
  }

  /**
   * @param now milliseconds since 1970
   * @returns `false` where nothing was sent, and Node has to: the connection ends with this answer, it waits for another
   *   answer’s turn, or there is no connection
   */
  send(request: IncomingMessage, response: ServerResponse, answer: Answer, now: number): boolean {
    const { socket } = response
    if (!this.isProven || !(socket instanceof Socket) || !goesOn(request)) return false
    const begins = this.beginning(now)
    const head = this.headOf(answer.headers)
    let own = `Content-Length: ${answer.body.length}\r\n`
    for (const cookie of answer.cookies) {
      if (!PRINTABLE.test(cookie)) return false
      own += `Set-Cookie: ${cookie}\r\n`
    }
    const length = begins.length + own.length + head.length + answer.body.length
    if (length > ROOM) return false
    const { room } = this
    room.set(begins, 0)
    const at = begins.length + room.write(own, begins.length, 'latin1')
    room.set(head, at)
    room.set(answer.body, at + head.length)
    // The next request of this connection is read when this answer is with the system, as after any other.
    socket.write(room.subarray(0, length), (reason) => {
      if (reason == null) response.emit('finish')
    })
    // What the system did not take at once is read from here until it does.
    if (socket.writableLength > 0) this.room = Buffer.allocUnsafeSlow(ROOM)
    return true
  }

  /** The same in each second: the time of an answer has no parts of it (RFC 9110, 5.6.7). */
  private beginning(now: number): Buffer {
    const second = Math.floor(now / 1000)
    if (second === this.second) return this.begins
    this.second = second
    this.begins = Buffer.from(
      `HTTP/1.1 200 OK\r\nDate: ${new Date(now).toUTCString()}\r\nConnection: keep-alive\r\nKeep-Alive: timeout=${KEPT_SECONDS}\r\n`,
    )
    return this.begins
  }

  private headOf(headers: readonly string[]): Buffer {
    const before = this.heads.get(headers)
    if (before !== undefined) return before
    const lines = [...this.everywhere, ...headers].map((word, at) => word + (at % 2 === 0 ? ': ' : '\r\n')).join('')
    const head = Buffer.from(`${lines}\r\n`, 'latin1')
    this.heads.set(headers, head)
    return head
  }
}

/** Whether the connection is kept after this answer, and nothing but the request came by it. */
function goesOn({ method, httpVersion, headers }: IncomingMessage): boolean {
  return (
    method === 'GET' &&
    httpVersion === '1.1' &&
    (headers.connection === undefined || headers.connection === 'keep-alive') &&
    headers['content-length'] === undefined &&
    headers['transfer-encoding'] === undefined &&
    headers.expect === undefined
  )
}

let proof: Promise<boolean> | undefined
/**
 * Whether this Node goes on after an answer that it did not send itself: that it takes `finish` as its word for it is written
 * down nowhere, and may be otherwise in the next one. Asked once in each process, over a connection of its own.
 */
export function proven(): Promise<boolean> {
  return (proof ??= proveOnce().catch(() => false))
}

/** @param way the one that is tried, and for how many milliseconds it is waited for; tests try others */
export async function proveOnce(way: Pick<Straight, 'send'> = new Straight([], true), patience = 60_000): Promise<boolean> {
  let bySelf = 0
  const server = createServer((request, response) => {
    const answer = { headers: ['content-type', 'text/plain'], cookies: [], body: Buffer.from(`[${request.url ?? ''}]`) }
    if (way.send(request, response, answer, Date.now())) bySelf++
    else response.end(answer.body)
  })
  await new Promise<void>((done, failed) => server.once('error', failed).listen(0, '127.0.0.1', done))
  const address = server.address()
  if (address === null || typeof address === 'string') return false
  const ask = (path: string, more = '') => `GET ${path} HTTP/1.1\r\nHost: localhost\r\n${more}\r\n`
  const socket = connect({ port: address.port, host: '127.0.0.1' })
  // It holds up nobody who wants to stop, and does not wait for ever.
  server.unref()
  socket.unref().setTimeout(patience, () => socket.destroy())
  let text = ''
  try {
    return await new Promise<boolean>((done) => {
      socket.on('data', (part: Buffer) => {
        const before = text
        text += part.toString('latin1')
        // Two at once, of which Node sends the one that waits for its turn; then one after a pause, then the last.
        if (!before.includes('[/2]') && text.includes('[/2]')) setImmediate(() => socket.write(ask('/3')))
        if (!before.includes('[/3]') && text.includes('[/3]')) socket.write(ask('/4', 'Connection: close\r\n'))
      })
      socket.on('error', () => done(false))
      socket.on('close', () => done(bySelf >= 2 && (text.match(/\[\/\d\]/g) ?? []).join('') === '[/1][/2][/3][/4]'))
      socket.write(ask('/1') + ask('/2'))
    })
  } finally {
    server.close()
    server.closeAllConnections()
  }
}
