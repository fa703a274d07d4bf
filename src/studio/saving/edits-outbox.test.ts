import type { Edit } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { EditsOutbox, unsavedSchema } from './edits-outbox'

const typed = (value: string, prop = 'words'): Edit => ({ kind: 'set', node: 'title' as NodeId, prop, value })
let made = 0
const fresh = () => `save-${++made}`

test('six hundred keystrokes without an answer are one edit', () => {
  const box = new EditsOutbox()
  for (let n = 1; n <= 600; n++) box.put([typed('x'.repeat(n))])
  expect(box.next(3, fresh)).toMatchObject({ base: 3, edits: [typed('x'.repeat(600))] })
})

test('a save without an answer is sent again under its own name, with what came later in the next', () => {
  const box = new EditsOutbox()
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
  const box = new EditsOutbox()
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
  const box = new EditsOutbox()
  box.put([typed('one')])
  box.next(4, fresh)
  box.put([typed('two')])
  const kept: unknown = JSON.parse(JSON.stringify({ ...box.kept, base: 4, versions: [] }))
  expect(new EditsOutbox(unsavedSchema.parse(kept)).waiting).toEqual(box.waiting)
})

test('what is refused together goes one by one, each under a name that lasts over a reload, and one that is refused keeps no other back', () => {
  const box = new EditsOutbox()
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
  const again = new EditsOutbox(unsavedSchema.parse(kept))
  expect(again.next(9, fresh)).toEqual(second)
  again.answered()
  expect(again.next(10, fresh)).toMatchObject({ base: 10, edits: [typed('three', 'title')] })
  again.answered()
  expect(again.next(11, fresh)?.edits).toEqual([typed('/taken', 'path')])
})
