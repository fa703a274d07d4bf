import type { IncomingMessage, ServerResponse } from 'node:http'
import { Socket } from 'node:net'
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
  constructor(private readonly everywhere: readonly string[]) {}

  /**
   * @param now milliseconds since 1970
   * @returns `false` where nothing was sent, and Node has to: the connection ends with this answer, it waits for another
   *   answer’s turn, or there is no connection
   */
  send(request: IncomingMessage, response: ServerResponse, answer: Answer, now: number): boolean {
    const { socket } = response
    if (!(socket instanceof Socket) || !goesOn(request)) return false
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
