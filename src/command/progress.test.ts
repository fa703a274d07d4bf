import { Progress, whileWaiting } from './progress'

const screen = (isTTY: boolean) => {
  const said: string[] = []
  return { said, out: { isTTY, write: (text: string) => said.push(text) > 0 } }
}
beforeEach(() => jest.useFakeTimers())
afterEach(() => jest.useRealTimers())

test('one line shows what is done and what is left, where somebody watches', () => {
  const { said, out } = screen(true)
  const shown = new Progress('Making it', 4, out)
  shown.at(1)
  expect(said.at(-1)).toBe('\r\x1b[KMaking it  [######..................]  1 of 4, 0 s')
  jest.advanceTimersByTime(65_000)
  expect(said.at(-1)).toContain('1 of 4, 1 min 5 s')
  shown.end()
  expect(said.at(-1)).toBe('\r\x1b[KMaking it: done after 1 min 5 s\n')
})

test('a log gets a line now and then, and none that is written over', () => {
  const { said, out } = screen(false)
  const shown = new Progress('Building', null, out)
  for (let second = 0; second < 60; second++) jest.advanceTimersByTime(1000)
  shown.end()
  expect(said.length).toBeLessThan(8)
  expect(said.join('')).not.toContain('\r')
  expect(said[0]).toBe('Building …\n')
})

test('what takes no longer than expected is not said', async () => {
  await expect(whileWaiting('Waiting', Promise.resolve(1))).resolves.toBe(1)
  await expect(whileWaiting('Waiting', Promise.reject(new Error('no')))).rejects.toThrow('no')
})
