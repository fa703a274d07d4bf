import { Worker } from 'node:worker_threads'
import { readerFile } from './reader-file'
import type { LookAnswer, Looks, LookTask } from './reader-tasks'

const SECONDS = 30
const MEGABYTES = 512
/** A thread that is warm looks ten times as fast as one that has to begin; one that nobody needs goes. */
const IDLE_SECONDS = 300

interface Wanted {
  readonly task: LookTask
  readonly urgent: boolean
  done(found: never): void
  failed(reason: Error): void
}

let waiting: Wanted[] = []
let going: { readonly wanted: Wanted; readonly timer: NodeJS.Timeout } | null = null
let thread: Worker | null = null
let idle: NodeJS.Timeout | undefined

/**
 * Draws pages as they are about to be served, or parts of them, in a thread of its own, one after the other.
 *
 * @param urgent somebody waits for it: before all that is looked at for later
 */
export function lookApart<Kind extends keyof Looks>(
  kind: Kind,
  asked: Looks[Kind]['asked'],
  urgent: boolean,
): Promise<Looks[Kind]['found']> {
  return new Promise((done, failed) => {
    const wanted: Wanted = { task: { kind, asked } as LookTask, urgent, done, failed }
    const at = urgent ? waiting.findIndex((one) => !one.urgent) : -1
    waiting = at < 0 ? [...waiting, wanted] : [...waiting.slice(0, at), wanted, ...waiting.slice(at)]
    next()
  })
}

function next(): void {
  if (going !== null) return
  const [wanted, ...rest] = waiting
  if (wanted === undefined) {
    clearTimeout(idle)
    idle = setTimeout(() => end(), IDLE_SECONDS * 1000)
    idle.unref()
    return
  }
  waiting = rest
  clearTimeout(idle)
  try {
    thread ??= begun()
  } catch (reason) {
    wanted.failed(reason as Error)
    return next()
  }
  const timer = setTimeout(() => end(new Error(`It took more than ${SECONDS} seconds.`)), SECONDS * 1000)
  going = { wanted, timer }
  thread.postMessage(wanted.task)
}

function begun(): Worker {
  const made = new Worker(readerFile(), { workerData: { kind: 'looks' }, resourceLimits: { maxOldGenerationSizeMb: MEGABYTES } })
  made.on('message', (answer: LookAnswer) => {
    const { wanted, timer } = going ?? {}
    clearTimeout(timer)
    going = null
    // The thread answers what it was asked, by the table of looks.
    if ('found' in answer) wanted?.done(answer.found as never)
    else wanted?.failed(new Error(answer.fault))
    next()
  })
  made.on('error', (reason) => made === thread && end(reason as Error))
  made.on('exit', () => made === thread && end(new Error('The thread that looks at pages has ended.')))
  // It holds up nobody who wants to stop. Listening would hold it again, so this comes last.
  made.unref()
  return made
}

/** Ends the thread; whoever waits for what it was at is told why, and the next begins another. */
function end(reason: Error = new Error('It is no longer needed.')): void {
  const [was, left] = [thread, going]
  thread = null
  going = null
  clearTimeout(left?.timer)
  void was?.terminate()
  left?.wanted.failed(reason)
  if (left !== null) next()
}
