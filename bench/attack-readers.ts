import { request, type ClientRequest } from 'node:http'
import type { Database } from '@/server/database/connect'
import type { Lots } from './bent'

const downloads = ['/api/data?what=events&as=ndjson&test=t-1', '/api/data?what=events&as=csv', '/api/archive', '/site', '/']

/**
 * Many who ask for something large and do not read it: they go away at once, later, or wait. Others are answered meanwhile,
 * and the database is let go of.
 *
 * @param others asks for something small; milliseconds that it took
 * @returns how many were sent, and what was held in words
 */
export async function slowReaders(
  port: number,
  cookie: string,
  { db, lots, others }: { db: Database; lots: Lots; others: () => Promise<number> },
): Promise<{ sent: number; held: string[] }> {
  const held: string[] = []
  const open: ClientRequest[] = []
  for (let at = 0; at < 12; at++) {
    const headers = { cookie, accept: '*/*' }
    const asked = request({ host: '127.0.0.1', port, path: lots.pick(downloads), headers, agent: false }, (answer) =>
      answer.pause(),
    )
    asked.on('error', () => undefined)
    asked.end()
    open.push(asked)
    if (lots.below(2) === 0) setTimeout(() => asked.destroy(), lots.below(400))
  }
  for (let time = 0; time < 3; time++) {
    const took = await others()
    if (took > 2000) held.push(`somebody else waited ${took} ms while ${open.length} did not read`)
  }
  for (const asked of open) asked.destroy()
  const writing = async () => {
    const [rows] = (await db.raw('SHOW PROCESSLIST')) as [{ State: string | null }[]]
    return rows.filter(({ State }) => State === 'Writing to net').length
  }
  for (let tries = 0; (await writing()) > 0; tries++) {
    if (tries > 50) {
      held.push(`${await writing()} connections to the database still write to nobody after 5 s`)
      break
    }
    await new Promise((next) => setTimeout(next, 100))
  }
  return { sent: open.length, held }
}
