import { readFileSync } from 'node:fs'

/** The kernel counts a thread’s time in hundredths of a second (`USER_HZ`, proc(5)). */
const TICKS = 100
const LOOK_EVERY = 200
/** A thread that neither works nor ends for so long will not any more. */
const STUCK = 10 * 60_000

/** Seconds of a processor that a thread of this process has had; `null` where the system does not say. */
export function workOf(thread: string): number | null {
  try {
    const stat = readFileSync(`/proc/self/task/${thread}/stat`, 'utf8')
    // What comes before may hold anything: the name of the program, in brackets.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
    const ticks = Number(fields[11]) + Number(fields[12])
    return Number.isFinite(ticks) ? ticks / TICKS : null
  } catch {
    return null
  }
}

/**
 * Tells when a thread has worked for more than so many seconds, from now on. By what the processor did for it and not by the
 * clock: on a machine that has others to serve first, good work only takes longer.
 *
 * @returns ends the watch
 */
export function whenWorked(thread: string | null, seconds: number, over: () => void): () => void {
  const began = performance.now()
  const before = thread === null ? null : workOf(thread)
  const timer = setInterval(() => {
    const now = thread === null || before === null ? null : workOf(thread)
    const passed = performance.now() - began
    // Where the system does not count, the clock does, and leaves time for others.
    const worked = now === null || before === null ? passed / 10_000 : now - before
    if (worked <= seconds && passed <= STUCK) return
    clearInterval(timer)
    over()
  }, LOOK_EVERY)
  timer.unref()
  return () => clearInterval(timer)
}
