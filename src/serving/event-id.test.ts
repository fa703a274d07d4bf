import { newEventId } from './event-id'

test('an id is 128 bits in hexadecimal, and no two are the same, also where the digits of one are used up', () => {
  const made = Array.from({ length: 3 * 0x1000 + 5 }, () => newEventId())
  expect(made.every((id) => /^[0-9a-f]{32}$/.test(id))).toBe(true)
  expect(new Set(made).size).toBe(made.length)
})
