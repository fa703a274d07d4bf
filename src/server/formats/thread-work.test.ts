import { readlinkSync } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'
import { whenWorked, workOf } from './thread-work'

const thread = readlinkSync('/proc/thread-self').split('/').at(-1) ?? ''

function work(milliseconds: number): void {
  for (const before = process.cpuUsage(); process.cpuUsage(before).user < milliseconds * 1000;);
}

test('what a thread worked is counted, and waiting is not', async () => {
  const before = workOf(thread) ?? NaN
  await pause(300)
  const waited = (workOf(thread) ?? NaN) - before
  work(300)
  const worked = (workOf(thread) ?? NaN) - before - waited
  expect(waited).toBeLessThan(0.2)
  expect(worked).toBeGreaterThan(0.2)
  expect(workOf('no such thread')).toBeNull()
})

test('work that is more than was allowed is told once, and waiting for as long is not', async () => {
  let told = 0
  const rest = whenWorked(thread, 0.3, () => void told++)
  await pause(700)
  expect(told).toBe(0)
  work(500)
  await pause(700)
  expect(told).toBe(1)
  rest()
})
