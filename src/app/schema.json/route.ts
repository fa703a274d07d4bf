import { exchangeJsonSchema } from '@/components/exchange/schema'

/** The schema of the files that documents, variants and tests come and go in. */
export function GET(): Response {
  return new Response(exchangeJsonSchema(), { headers: { 'content-type': 'application/schema+json' } })
}
