import { UntilFull } from './until-full'

test('what many hold is let go by all of them when it is too much together, by each once, and counted anew', () => {
  const room = new UntilFull(10)
  const gone: string[] = []
  const [one, other] = [() => void gone.push('one'), () => void gone.push('other')]
  room.add(4, one)
  room.add(2, one)
  room.add(4, other)
  expect(gone).toEqual([])
  room.add(1, one)
  expect(gone.sort()).toEqual(['one', 'other'])
  room.add(10, other)
  expect(gone).toHaveLength(2)
  room.add(1, other)
  // The first has nothing any more that it could let go.
  expect(gone.slice(2)).toEqual(['other'])
})
