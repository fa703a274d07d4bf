import { Refused } from '../talk'
import { createSender, pauseBefore, type SavingState } from './sender'

beforeEach(() => jest.useFakeTimers())
afterEach(() => jest.useRealTimers())

function sending(answers: ('taken' | Refused)[]) {
  const said: SavingState[] = []
  let unsent = 0
  let sent = 0
  let remembered = 0
  const sender = createSender(
    {
      hasUnsent: () => unsent > 0,
      send: () => {
        sent++
        const answer = answers.shift() ?? 'taken'
        if (answer !== 'taken') return Promise.reject(answer)
        unsent = 0
        return Promise.resolve()
      },
      remember: () => void remembered++,
      said: (state) => void said.push(state),
    },
    350,
  )
  const type = () => {
    unsent++
    sender.soon()
  }
  return { type, flush: sender.flush, said, sent: () => sent, remembered: () => remembered }
}

test('what is typed is written down at once and sent a moment after the last change', async () => {
  const { type, said, sent, remembered } = sending([])
  for (let key = 0; key < 5; key++) {
    type()
    await jest.advanceTimersByTimeAsync(300)
  }
  expect([sent(), remembered()]).toEqual([0, 5])
  await jest.advanceTimersByTimeAsync(400)
  expect([sent(), said.at(-1)]).toEqual([1, 'saved'])
})

test('what got no answer is sent again by itself, and what is typed meanwhile goes along with it', async () => {
  const away = () => new Refused('away', 'no answer')
  const { type, said, sent } = sending([away(), away()])
  type()
  await jest.advanceTimersByTimeAsync(400)
  expect([sent(), said.at(-1)]).toEqual([1, 'waiting'])
  type()
  await jest.advanceTimersByTimeAsync(900)
  expect([sent(), said.at(-1)]).toEqual([1, 'waiting'])
  await jest.advanceTimersByTimeAsync(3000)
  expect([sent(), said.at(-1)]).toEqual([3, 'saved'])
})

test('what was refused is said and not sent again until something is changed', async () => {
  const { type, said, sent } = sending([new Refused('conflict', 'somebody else')])
  type()
  await jest.advanceTimersByTimeAsync(60_000)
  expect([sent(), said.at(-1)]).toEqual([1, 'refused'])
  type()
  await jest.advanceTimersByTimeAsync(400)
  expect([sent(), said.at(-1)]).toEqual([2, 'saved'])
})

test('it is tried again at once at first, and at most every half minute', () => {
  expect([0, 1, 2, 3, 4, 5, 50].map(pauseBefore)).toEqual([1, 2, 4, 8, 16, 30, 30])
})
