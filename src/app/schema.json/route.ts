import { studioOrigin } from '@/serving/addresses'
import { exchangeJsonSchema } from '@/components/exchange/schema'

/** The schema of the files that documents, variants and tests come and go in. */
export function GET(): Response {
  return new Response(exchangeJsonSchema(`${studioOrigin()}/schema.json`), {
    headers: { 'content-type': 'application/schema+json' },
  })
}
