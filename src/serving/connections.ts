import type { Server } from 'node:http'

/** Until a connection that nobody uses is closed. */
export const KEPT_SECONDS = 75

/**
 * Connections that nobody uses are kept longer than whoever asks keeps them (proxies: a minute). Where the server is the
 * first to close, a request that is just then on its way is lost.
 */
export function keepConnections<Of extends Server>(server: Of): Of {
  server.keepAliveTimeout = KEPT_SECONDS * 1000
  server.headersTimeout = (KEPT_SECONDS + 5) * 1000
  return server
}
