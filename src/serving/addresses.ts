/** Where the public site is, as it is told to others. */
export function siteOrigin(): string {
  return process.env.SITE_ADDRESS ?? 'http://localhost:4200'
}

/** Where the studio is, as its invitations name it. */
export function studioOrigin(): string {
  return process.env.STUDIO_ADDRESS ?? `http://localhost:${process.env.STUDIO_PORT ?? '4100'}`
}

/** Whether what is at this address is only ever asked over TLS: its cookies then say so, and browsers are told. */
export function isSecure(origin: string): boolean {
  return origin.startsWith('https://')
}

/** A year of TLS only (RFC 6797). */
export const STRICT_TRANSPORT = 'max-age=31536000'
