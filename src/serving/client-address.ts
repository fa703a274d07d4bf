import type { IncomingMessage } from 'node:http'
import proxyAddr from 'proxy-addr'

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
      return proxyAddr(request, trust)
    } catch {
      // A header that cannot be read is not believed.
      return request.socket.remoteAddress ?? 'unknown'
    }
  }
}
