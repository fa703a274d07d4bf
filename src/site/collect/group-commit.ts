import type { StampedEvent } from '@/core/events'

export class Overloaded extends Error {}

interface Waiting {
  readonly events: readonly StampedEvent[]
  readonly done: () => void
  readonly failed: (reason: unknown) => void
}

/**
 * Many senders, few commits: while one group is being written, the next gathers, and every sender is answered only
 * after the commit that holds its events. No timer: an idle site writes at once, a busy one in groups as large as the
 * last write was long.
 */
export class GroupCommit {
  private waiting: Waiting[] = []
  private waitingEvents = 0
  private writing = 0

  /** @param limit events that may wait before senders are refused; `writers` groups are written side by side */
  constructor(
    private readonly write: (events: readonly StampedEvent[]) => Promise<void>,
    private readonly limit = 50_000,
    private readonly writers = 2,
    private readonly largest = 2000,
  ) {}

  /** Resolves once these events are durable. @throws {Overloaded} at once when too much waits already */
  add(events: readonly StampedEvent[]): Promise<void> {
    if (this.waitingEvents + events.length > this.limit)
      return Promise.reject(new Overloaded('too many events are waiting to be written'))
    return new Promise((done, failed) => {
      this.waiting.push({ events, done, failed })
      this.waitingEvents += events.length
      void this.work()
    })
  }

  private async work(): Promise<void> {
    if (this.writing >= this.writers || this.waiting.length === 0) return
    this.writing++
    // Let everything that arrived in this turn of the loop join the group.
    await new Promise((next) => setImmediate(next))
    const group = this.take()
    try {
      const [first] = group
      if (first !== undefined) await this.write(group.length === 1 ? first.events : group.flatMap(({ events }) => events))
      group.forEach(({ done }) => done())
    } catch (reason) {
      group.forEach(({ failed }) => failed(reason))
    } finally {
      this.writing--
      void this.work()
    }
  }

  private take(): Waiting[] {
    let count = 0
    const cut = this.waiting.findIndex(({ events }) => (count += events.length) > this.largest)
    const group = cut < 0 ? this.waiting : this.waiting.slice(0, Math.max(1, cut))
    this.waiting = this.waiting.slice(group.length)
    this.waitingEvents -= group.reduce((sum, { events }) => sum + events.length, 0)
    return group
  }
}
