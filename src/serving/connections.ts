import type { Server } from 'node:http'

/**
 * Connections that nobody uses are kept longer than whoever asks keeps them (proxies: a minute). Where the server is the
 * first to close, a request that is just then on its way is lost.
 */
export function keepConnections<Of extends Server>(server: Of): Of {
  server.keepAliveTimeout = 75_000
  server.headersTimeout = 80_000
  return server
}
