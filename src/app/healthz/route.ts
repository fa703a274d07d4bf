import { isReachable, sharedDatabase } from '@/server/database/connect'

export const dynamic = 'force-dynamic'

export async function GET(): Promise<Response> {
  const well = await isReachable(sharedDatabase())
  return new Response(well ? 'ok\n' : 'the database does not answer\n', { status: well ? 200 : 503 })
}
