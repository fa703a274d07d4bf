import fc from 'fast-check'
import { ValueOutbox, type Kept, type UnsentValue } from './value-outbox'

interface Thing {
  readonly name: string
  readonly share: number
  readonly note: string
}
const thing: Thing = { name: 'A', share: 1, note: '' }

/** As the server keeps it: a save on another lock than its own is refused. */
class Server {
  kept: Kept<Thing> = { value: thing, lock: 0 }
  saves = 0
  save(value: Thing, lock: number): number | null {
    if (lock !== this.kept.lock) return null
    this.saves++
    this.kept = { value, lock: lock + 1 }
    return lock + 1
  }
}

/** Sends what waits; an answer may be lost. @returns whether both met */
function send(box: ValueOutbox<Thing>, server: Server, isLost = false): boolean {
  const next = box.next()
  if (next === null) return true
  const lock = server.save(next.value, next.lock)
  if (lock === null) return box.meets(server.kept) && send(box, server)
  if (!isLost) box.answered(next.value, lock)
  return true
}

test('what two people change in different fields is all there, in whatever order they save, and however often', () => {
  const change = fc.record({ who: fc.constantFrom('one', 'other'), value: fc.string(), sent: fc.boolean(), lost: fc.boolean() })
  fc.assert(
    fc.property(fc.array(change, { maxLength: 20 }), (changes) => {
      const server = new Server()
      const boxes = { one: new ValueOutbox(server.kept), other: new ValueOutbox(server.kept) }
      const field = { one: 'name', other: 'note' } as const
      const last: Partial<Record<'one' | 'other', string>> = {}
      for (const { who, value, sent, lost } of changes as {
        who: 'one' | 'other'
        value: string
        sent: boolean
        lost: boolean
      }[]) {
        const box = boxes[who]
        box.put({ ...box.value, [field[who]]: value })
        last[who] = value
        if (sent) expect(send(box, server, lost)).toBe(true)
      }
      for (const box of Object.values(boxes)) {
        expect(send(box, server)).toBe(true)
        expect(box.isEmpty).toBe(true)
      }
      expect(server.kept.value).toEqual({ ...thing, name: last.one ?? thing.name, note: last.other ?? thing.note })
    }),
  )
})

test('a save whose answer was lost is saved once, also after somebody else has saved', () => {
  const server = new Server()
  const box = new ValueOutbox(server.kept)
  box.put({ ...thing, name: 'B' })
  send(box, server, true)
  server.save({ ...server.kept.value, share: 2 }, 1)
  expect(send(box, server)).toBe(true)
  expect([server.saves, box.isEmpty, server.kept.value]).toEqual([2, true, { name: 'B', share: 2, note: '' }])
})

test('what both changed is nobody’s until somebody says whose: what is here stays as it was', () => {
  const server = new Server()
  const box = new ValueOutbox(server.kept)
  box.put({ ...thing, name: 'B' })
  server.save({ ...thing, name: 'C' }, 0)
  expect(send(box, server)).toBe(false)
  expect([box.value.name, server.kept.value.name]).toEqual(['B', 'C'])
  box.giveUp()
  box.seen(server.kept)
  expect([box.value.name, box.isEmpty]).toEqual(['C', true])
})

test('what is typed while a save is on its way waits for the next, and comes back over a reload', () => {
  const server = new Server()
  const box = new ValueOutbox(server.kept)
  box.put({ ...thing, name: 'B' })
  const next = box.next()
  if (next === null) throw new Error('something waits')
  box.put({ ...thing, name: 'BC' })
  box.answered(next.value, server.save(next.value, next.lock) ?? 0)
  expect(box.isEmpty).toBe(false)
  const kept: unknown = JSON.parse(JSON.stringify(box.kept))
  const again = ValueOutbox.takenUp(kept as UnsentValue<Thing>)
  expect(again.next()).toEqual({ value: { ...thing, name: 'BC' }, lock: 1 })
  // What is seen of before the last save is older than what is here.
  again.seen({ value: thing, lock: 0 })
  expect(again.value.name).toBe('BC')
})
