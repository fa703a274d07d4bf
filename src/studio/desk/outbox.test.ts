import type { Edit } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { Outbox, pauseBefore, unsavedSchema } from './outbox'

const typed = (value: string, prop = 'words'): Edit => ({ kind: 'set', node: 'title' as NodeId, prop, value })
let made = 0
const fresh = () => `save-${++made}`

test('six hundred keystrokes without an answer are one edit', () => {
  const box = new Outbox()
  for (let n = 1; n <= 600; n++) box.put([typed('x'.repeat(n))])
  expect(box.next(3, fresh)).toMatchObject({ base: 3, edits: [typed('x'.repeat(600))] })
})

test('a save without an answer is sent again under its own name, with what came later in the next', () => {
  const box = new Outbox()
  box.put([typed('one')])
  const first = box.next(0, fresh)
  box.put([typed('two')])
  expect(box.next(7, fresh)).toEqual(first)
  expect(box.waiting).toEqual([typed('one'), typed('two')])
  box.answered()
  expect(box.next(1, fresh)).toMatchObject({ base: 1, edits: [typed('two')] })
  expect(box.next(1, fresh)?.save).not.toBe(first?.save)
})

test('what was refused waits with the rest, and more than one save may hold goes in several', () => {
  const box = new Outbox()
  box.put([typed('one')])
  box.next(0, fresh)
  box.put([typed('two')])
  box.refused()
  expect(box.next(0, fresh)?.edits).toEqual([typed('two')])
  box.answered()
  box.put(Array.from({ length: 700 }, (_, n) => typed('x', `field-${n}`)))
  expect([box.next(1, fresh)?.edits.length, box.after.length]).toEqual([500, 200])
})

test('comes back from what was kept, as it was', () => {
  const box = new Outbox()
  box.put([typed('one')])
  box.next(4, fresh)
  box.put([typed('two')])
  const kept: unknown = JSON.parse(JSON.stringify({ ...box.kept, base: 4, versions: [] }))
  expect(new Outbox(unsavedSchema.parse(kept)).waiting).toEqual(box.waiting)
})

test('what is refused together goes one by one, each under a name that lasts over a reload, and one that is refused keeps no other back', () => {
  const box = new Outbox()
  box.put([typed('/taken', 'path'), typed('two'), typed('three', 'title')])
  box.next(0, fresh)
  box.divide(fresh)
  const first = box.next(4, fresh)
  expect(first).toMatchObject({ base: 4, edits: [typed('/taken', 'path')] })
  box.setAside()
  const second = box.next(5, fresh)
  expect(second).toMatchObject({ base: 5, edits: [typed('two')] })
  expect(box.after).toEqual([typed('three', 'title'), typed('/taken', 'path')])
  // The page is left before an answer came.
  const kept: unknown = JSON.parse(JSON.stringify({ ...box.kept, base: 5, versions: [] }))
  const again = new Outbox(unsavedSchema.parse(kept))
  expect(again.next(9, fresh)).toEqual(second)
  again.answered()
  expect(again.next(10, fresh)).toMatchObject({ base: 10, edits: [typed('three', 'title')] })
  again.answered()
  expect(again.next(11, fresh)?.edits).toEqual([typed('/taken', 'path')])
})

test('it is tried again at once at first, and at most every half minute', () => {
  expect([0, 1, 2, 3, 4, 5, 50].map(pauseBefore)).toEqual([1, 2, 4, 8, 16, 30, 30])
})
