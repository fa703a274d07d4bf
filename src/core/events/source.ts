/** Hosts of searching, and of people writing to each other, by the part of the name before the last dot. */
const searching = /(^|\.)(google|bing|duckduckgo|ecosia|qwant|yahoo|yandex|baidu|startpage|kagi)\.[a-z.]{2,6}$/
const people = /(^|\.)(facebook|instagram|linkedin|reddit|pinterest|tiktok|youtube|x|t|threads|mastodon|bsky)\.[a-z]{2,8}$/

/**
 * Where a visit came from: what the address says of itself (`utm_source`), else by the host of the page before:
 * searching, people, another site, or straight here.
 */
export function sourceOf(host: string, utmSource: string): string {
  const said = utmSource
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9._-]+/g, '-')
    .slice(0, 30)
  if (said !== '') return said
  if (host === '') return 'direct'
  const name = host.toLowerCase()
  if (searching.test(name)) return 'search'
  return people.test(name) ? 'social' : 'other site'
}
