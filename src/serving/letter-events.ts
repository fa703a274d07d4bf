import type { Round } from '@/core/experiment'
import type { DocumentId } from '@/core/ids'
import type { Pass } from '@/core/letter'
import type { StampedEvent } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'

/** Being shown or followed by the same recipient is the same event, however often it is reported. */
export function letterEvent(
  { letter, recipient }: Pass,
  call: DocumentId,
  visitor: string,
  did: 'shown' | 'followed',
  at: Date,
): StampedEvent {
  const id = eventIdOf(`letter ${letter} ${recipient} ${call} ${did}`)
  return { id, crowd: 0, visitor, at, kind: 'letter', letter, recipient, call, did }
}

/** Whoever opens the letter has seen what it carries: they take part in this round from here on. */
export function letterExposure({ letter, recipient, carried }: Pass, round: Round, at: Date): StampedEvent[] {
  const version = carried.get(round.test)
  if (version === undefined || !round.design.arms.some((arm) => arm.version === version)) return []
  return (['assigned', 'seen'] as const).map((kind): StampedEvent => ({
    id: eventIdOf(`letter ${letter} ${recipient} ${round.id} ${kind}`),
    crowd: 0,
    visitor: recipient,
    at,
    kind,
    round: round.id,
    version,
  }))
}
