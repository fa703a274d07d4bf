import { log } from '@/app/log'
import { databaseAway } from '@/app/request-guard'
import { sharedDatabase } from '@/server/database/connect'
import { calendarFile, mayReadCalendar } from '@/server/formats/calendar-file'

/** For calendar programs, which do not sign in: the address itself says for whom it was made. */
export async function GET(request: Request): Promise<Response> {
  const asked = new URL(request.url).searchParams
  const db = sharedDatabase()
  try {
    if (!(await mayReadCalendar(db, asked.get('for') ?? '', asked.get('key') ?? '')))
      return new Response('This address is not valid, or not any more. Take a new one from the studio.\n', { status: 404 })
    return new Response(await calendarFile(db, new Date()), {
      headers: {
        'content-type': 'text/calendar; charset=utf-8',
        'cache-control': 'private, max-age=300',
        'content-disposition': 'inline; filename="tests.ics"',
      },
    })
  } catch (reason) {
    log.error(reason)
    return databaseAway()
  }
}
