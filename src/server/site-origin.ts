/** Where the public site is, as it is told to others. */
export function siteOrigin(): string {
  return process.env.SITE_ADDRESS ?? 'http://localhost:4200'
}
