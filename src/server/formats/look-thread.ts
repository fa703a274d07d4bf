import { Worker } from 'node:worker_threads'
import { readerFile } from './reader-file'
import type { LookAnswer, Looks, LookTask } from './reader-tasks'
import { whenWorked } from './thread-work'

/** Of work, for one look. */
const SECONDS = 30
const MEGABYTES = 512
/** A thread that is warm looks ten times as fast as one that has to begin; one that nobody needs goes. */
const IDLE_SECONDS = 300

/** Looks for later that wait; what was asked for first is given up for what is asked for now. */
const MOST_LATER = 60

interface Wanted {
  readonly task: LookTask
  readonly urgent: boolean
  done(found: never): void
  failed(reason: Error): void
}

let waiting: Wanted[] = []
let going: { readonly wanted: Wanted; rest(): void } | null = null
let thread: Worker | null = null
/** What the system calls it, once it has begun; nothing is asked of it before. */
let begunAs: { readonly name: string | null } | null = null
let idle: NodeJS.Timeout | undefined

/**
 * Draws pages as they are about to be served, or parts of them, in a thread of its own, one after the other.
 *
 * @param urgent somebody waits for it: before all that is looked at for later
 * @param signal gives it up where nobody waits for it any more
 */
export function lookApart<Kind extends keyof Looks>(
  kind: Kind,
  asked: Looks[Kind]['asked'],
  urgent: boolean,
  signal?: AbortSignal,
): Promise<Looks[Kind]['found']> {
  return new Promise((done, failed) => {
    if (signal?.aborted === true) return failed(new Error('Nobody waits for it any more.'))
    const wanted: Wanted = { task: { kind, asked } as LookTask, urgent, done, failed }
    const at = urgent ? waiting.findIndex((one) => !one.urgent) : -1
    waiting = at < 0 ? [...waiting, wanted] : [...waiting.slice(0, at), wanted, ...waiting.slice(at)]
    signal?.addEventListener('abort', () => giveUp(wanted, 'Nobody waits for it any more.'), { once: true })
    const later = waiting.filter((one) => !one.urgent)
    if (later.length > MOST_LATER && later[0] !== undefined)
      giveUp(later[0], 'Too much is to be looked at; it is left for later.')
    next()
  })
}

/** Only what has not begun: a thread does not stop in the middle. */
function giveUp(wanted: Wanted, why: string): void {
  if (!waiting.includes(wanted)) return
  waiting = waiting.filter((one) => one !== wanted)
  wanted.failed(new Error(why))
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
  going = { wanted, rest: () => undefined }
  thread.postMessage(wanted.task)
  if (begunAs !== null) watch(begunAs.name)
}

/** From when the thread is there: what it takes to begin is no part of a look. */
function watch(name: string | null): void {
  if (going === null) return
  going.rest = whenWorked(name, SECONDS, () => end(new Error(`It took more than ${SECONDS} seconds of work.`)))
}

function begun(): Worker {
  const made = new Worker(readerFile(), { workerData: { kind: 'looks' }, resourceLimits: { maxOldGenerationSizeMb: MEGABYTES } })
  made.on('message', (answer: LookAnswer | { readonly begun: string | null }) => {
    if (made !== thread) return
    if ('begun' in answer) {
      begunAs = { name: answer.begun }
      return watch(answer.begun)
    }
    const wanted = going?.wanted
    going?.rest()
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
  begunAs = null
  going = null
  left?.rest()
  void was?.terminate()
  left?.wanted.failed(reason)
  if (left !== null) next()
}
