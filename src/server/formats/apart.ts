import { Worker } from 'node:worker_threads'
import { FileFault } from '@/core/formats'
import { Failure } from '../failure'
import { readerFile } from './reader-file'
import type { ReaderTask, Read, ReaderAnswer } from './reader-tasks'
import { whenWorked } from './thread-work'

/** What reading may cost, by what is read: seconds of work, and megabytes of memory. Few limits: a spare thread is of one. */
const limits: { readonly [Kind in ReaderTask['kind']]: { readonly seconds: number; readonly megabytes: number } } = {
  html: { seconds: 10, megabytes: 512 },
  opml: { seconds: 10, megabytes: 512 },
  exchange: { seconds: 10, megabytes: 512 },
  archive: { seconds: 90, megabytes: 1024 },
  orders: { seconds: 30, megabytes: 512 },
  orderColumns: { seconds: 30, megabytes: 512 },
}
const AT_ONCE = 2
/** Files that wait for their turn; who comes after them is told to come again. */
const MOST_WAITING = 6
let reading = 0
const waiting: (() => void)[] = []

/**
 * Reads a file from outside in a thread of its own, so that whatever is in it costs the studio neither its time nor its
 * memory: reading that takes too much of either is ended. What the thread needs to begin is not the file’s.
 *
 * @throws {FileFault} with what is wrong in the file, or that it is more than can be read
 */
export async function readApart<Task extends ReaderTask>(task: Task): Promise<Read<Task['kind']>> {
  const file = readerFile()
  if (reading >= AT_ONCE) {
    if (waiting.length >= MOST_WAITING)
      throw new Failure('busy', 'Other files are being read at this moment. Try again in a few seconds.', 5)
    await new Promise<void>((next) => waiting.push(next))
  } else reading++
  try {
    return await inThread(file, task)
  } finally {
    const next = waiting.shift()
    if (next === undefined) reading--
    else next()
  }
}

interface Spare {
  readonly worker: Worker
  readonly idle: NodeJS.Timeout
}
/** By the memory that they may take: threads that have begun and wait for their file, so that the next need not wait for one. */
const spares = new Map<number, Spare>()
const IDLE = 30 * 60_000

function begun(file: string, megabytes: number): Worker {
  return new Worker(file, { workerData: { kind: 'reads' }, resourceLimits: { maxOldGenerationSizeMb: megabytes } })
}

function keepSpare(file: string, megabytes: number): void {
  const worker = begun(file, megabytes)
  const forget = () => {
    if (spares.get(megabytes)?.worker === worker) spares.delete(megabytes)
  }
  const idle = setTimeout(() => {
    forget()
    void worker.terminate()
  }, IDLE)
  idle.unref()
  worker.once('exit', forget).on('error', forget)
  // It holds up nobody who wants to stop.
  worker.unref()
  spares.set(megabytes, { worker, idle })
}

function threadFor(file: string, megabytes: number): Worker {
  const spare = spares.get(megabytes)
  if (spare === undefined) return begun(file, megabytes)
  spares.delete(megabytes)
  clearTimeout(spare.idle)
  spare.worker.removeAllListeners('exit').removeAllListeners('error')
  spare.worker.ref()
  return spare.worker
}

async function inThread<Task extends ReaderTask>(file: string, task: Task): Promise<Read<Task['kind']>> {
  const { seconds, megabytes } = limits[task.kind]
  const worker = threadFor(file, megabytes)
  const tooMuchMemory = () => new FileFault(`This file is more than can be read: it took more than ${megabytes} MB of memory.`)
  let rest: () => void = () => undefined
  try {
    const answer = await new Promise<ReaderAnswer>((done, failed) => {
      const tooMuchWork = () =>
        failed(new FileFault(`This file takes more than ${seconds} seconds of work to read. Divide it, and bring in the parts.`))
      worker.on('message', (said: ReaderAnswer | { readonly begun: string | null }) => {
        if ('begun' in said) rest = whenWorked(said.begun, seconds, tooMuchWork)
        else done(said)
      })
      worker.once('error', failed)
      worker.once('exit', () => failed(tooMuchMemory()))
      worker.postMessage(task)
    })
    if ('fault' in answer) throw new FileFault(answer.fault)
    return answer.read as Read<Task['kind']>
  } catch (reason) {
    if ((reason as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY') throw tooMuchMemory()
    throw reason
  } finally {
    rest()
    await worker.terminate()
    // Only now: two that begin at once take longer than one, and somebody waited for the first.
    if (!spares.has(megabytes)) keepSpare(file, megabytes)
  }
}
