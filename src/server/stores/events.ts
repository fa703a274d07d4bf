import type { Knex } from 'knex'
import type { StampedEvent } from '@/site/collect/report'

const columns = ['source', 'id', 'visitor', 'at', 'kind', 'document_id', 'round_id', 'version', 'nodes'] as const

/** Writes events in one statement, durable when it resolves. An event that is already there is left as it is. */
export async function writeEvents(db: Knex, events: readonly StampedEvent[]): Promise<void> {
  if (events.length === 0) return
  const places = events.map(() => '(?,?,?,?,?,?,?,?,?)').join(',')
  const values = events.flatMap((event) => eventRow(event))
  await db.raw(`INSERT INTO events (${columns.join(',')}) VALUES ${places} ON DUPLICATE KEY UPDATE seq = seq`, values)
}

function eventRow(event: StampedEvent): (string | number | Buffer | Date | null)[] {
  const shared = [event.source, Buffer.from(event.id, 'hex'), Buffer.from(event.visitor, 'hex'), event.at, event.kind]
  switch (event.kind) {
    case 'assigned':
    case 'seen':
      return [...shared, null, event.round, event.version, null]
    case 'page':
      return [...shared, event.document, null, null, null]
    case 'call':
      return [...shared, event.document, null, null, event.call]
    case 'click':
      return [...shared, event.document, null, null, event.nodes.join(' ').slice(0, 500)]
    default:
      return event satisfies never
  }
}
