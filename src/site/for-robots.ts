import { asAsked } from '@/core/page-address'
import type { CompiledSite } from './compile/compile'

const XML_SIGNS: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&apos;' }

/** The pages that search engines may keep (sitemaps.org, protocol 0.9): none that sends its visitors elsewhere. */
export function sitemap({ pages }: CompiledSite, origin: string): string {
  const entries = [...pages.values()]
    .filter(({ route, canonical, path }) => route === null && canonical === asAsked(path))
    .map(({ path }) => `<url><loc>${(origin + asAsked(path)).replace(/[&<>"']/g, (sign) => XML_SIGNS[sign] ?? sign)}</loc></url>`)
  return `<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">\n${entries.join('\n')}\n</urlset>\n`
}

/** What crawlers are asked to leave alone (RFC 9309), and where the pages are listed. */
export function robots(origin: string): string {
  return `User-agent: *\nDisallow: /out\nDisallow: /letter/\nDisallow: /report\nDisallow: /collect\n\nSitemap: ${origin}/sitemap.xml\n`
}
