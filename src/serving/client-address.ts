import type { IncomingMessage } from 'node:http'
import proxyAddr from 'proxy-addr'

/** Some proxies write the port behind an address, `203.0.113.9:4711` or `[2001:db8::1]:4711`: it says nothing of whose it is. */
function withoutPorts(request: IncomingMessage): IncomingMessage {
  const said = request.headers['x-forwarded-for']
  if (typeof said !== 'string' || !said.includes(':')) return request
  const plain = said
    .split(',')
    .map((one) =>
      one
        .trim()
        .replace(/^(\d{1,3}(?:\.\d{1,3}){3}):\d{1,5}$/, '$1')
        .replace(/^\[([0-9a-fA-F:.]+)\](?::\d{1,5})?$/, '$1'),
    )
    .join(', ')
  return Object.create(request, { headers: { value: { ...request.headers, 'x-forwarded-for': plain } } }) as IncomingMessage
}

/**
 * Whose request this is. A forwarded address is believed only from proxies that are named: each proxy adds the address it
 * was asked from, so the nearest one that is not trusted is the client, and what a client itself puts in front says nothing.
 *
 * @param trusted addresses, ranges (CIDR) and the words loopback, linklocal, uniquelocal, with commas between them
 * @throws {TypeError} where one of them is none of these
 */
export function clientAddresses(trusted: string): (request: IncomingMessage) => string {
  const named = trusted
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)
  const trust = proxyAddr.compile(named)
  return (request) => {
    try {
      return proxyAddr(withoutPorts(request), trust)
    } catch {
      // A header that cannot be read is not believed.
      return request.socket.remoteAddress ?? 'unknown'
    }
  }
}
