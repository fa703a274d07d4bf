import { Worker } from 'node:worker_threads'
import { FileFault } from '@/core/formats'
import { Failure } from '../failure'
import { readerFile } from './reader-file'
import type { ReaderTask, Read, ReaderAnswer } from './reader-tasks'

/** What reading may cost, by what is read: seconds, and megabytes of memory. */
const limits: { readonly [Kind in ReaderTask['kind']]: { readonly seconds: number; readonly megabytes: number } } = {
  html: { seconds: 10, megabytes: 512 },
  opml: { seconds: 10, megabytes: 256 },
  exchange: { seconds: 10, megabytes: 256 },
  archive: { seconds: 90, megabytes: 1024 },
}
const AT_ONCE = 2
let reading = 0

/**
 * Reads a file from outside in a thread of its own, so that whatever is in it costs the studio neither its time nor its
 * memory: reading that takes too long or too much is ended.
 *
 * @throws {FileFault} with what is wrong in the file, or that it is more than can be read
 */
export async function readApart<Task extends ReaderTask>(task: Task): Promise<Read<Task['kind']>> {
  const file = readerFile()
  if (reading >= AT_ONCE) throw new Failure('busy', 'Other files are being read at this moment. Try again in a few seconds.', 5)
  reading++
  try {
    return await inThread(file, task)
  } finally {
    reading--
  }
}

async function inThread<Task extends ReaderTask>(file: string, task: Task): Promise<Read<Task['kind']>> {
  const { seconds, megabytes } = limits[task.kind]
  const worker = new Worker(file, { workerData: task, resourceLimits: { maxOldGenerationSizeMb: megabytes } })
  let timer: NodeJS.Timeout | undefined
  try {
    const answer = await new Promise<ReaderAnswer>((done, failed) => {
      worker.once('message', done)
      worker.once('error', failed)
      worker.once('exit', () =>
        failed(new FileFault(`This file is more than can be read: it took more than ${megabytes} MB of memory.`)),
      )
      timer = setTimeout(
        () =>
          failed(
            new FileFault(
              `This file could not be read in ${seconds} seconds. Try again when less is going on; if this is said again, divide it.`,
            ),
          ),
        seconds * 1000,
      )
    })
    if ('fault' in answer) throw new FileFault(answer.fault)
    return answer.read as Read<Task['kind']>
  } catch (reason) {
    if ((reason as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY')
      throw new FileFault(`This file is more than can be read: it took more than ${megabytes} MB of memory.`)
    throw reason
  } finally {
    clearTimeout(timer)
    await worker.terminate()
  }
}
