import { readlinkSync } from 'node:fs'
import { parentPort, workerData } from 'node:worker_threads'
import { drawMiniature } from '@/components/draw-miniature'
import { readHtml } from '@/components/html/read'
import { readExchange } from '@/components/exchange/read'
import { decoded, FileFault, readOpml } from '@/core/formats'
import { nodeIdSchema } from '@/core/ids'
import { readArchiveFile } from '@/server/formats/archive-file'
import { columnsOf, readOrderTable } from '@/server/formats/order-table'
import type { LookAnswer, LookTask, Read, ReaderAnswer, ReaderTask } from '@/server/formats/reader-tasks'
import { lookAt } from '@/site/compile/look-at'
import { asVersion, throughTheLens } from '@/site/compile/through-the-lens'
import { Failure } from '@/server/failure'
import { newId } from '@/server/new-id'

const fresh = () => nodeIdSchema.parse(newId())

async function read(task: ReaderTask): Promise<Read<ReaderTask['kind']>> {
  switch (task.kind) {
    case 'html':
      return readHtml(task.text, { fresh, ...task.around })
    case 'opml':
      return readOpml(task.text)
    case 'exchange':
      return readExchange(task.text, fresh)
    case 'orders':
      return readOrderTable(decoded(task.bytes).text)
    case 'orderColumns':
      return columnsOf(readOrderTable(decoded(task.bytes).text))
    case 'archive':
      return readArchiveFile(task.path)
    default:
      return task satisfies never
  }
}

function faultOf(reason: unknown): string {
  if (reason instanceof FileFault || reason instanceof Failure) return reason.message
  if (reason instanceof RangeError && /call stack/.test(reason.message)) return 'It is nested more deeply than can be read.'
  throw reason
}

/** Looks at one after the other of what it is sent, for as long as it is wanted. */
function lookOn(): void {
  const found = (task: LookTask) => {
    switch (task.kind) {
      case 'pages':
        return lookAt(task.asked)
      case 'miniature':
        return drawMiniature(task.asked)
      case 'lens':
        return throughTheLens(task.asked)
      case 'version':
        return asVersion(task.asked)
      default:
        return task satisfies never
    }
  }
  parentPort?.on('message', (task: LookTask) => {
    const answer = (): LookAnswer => {
      try {
        return { found: found(task) }
      } catch (reason) {
        return { fault: reason instanceof Error ? reason.message : String(reason) }
      }
    }
    parentPort?.postMessage(answer())
  })
}

/** Which thread of the process this is, as the system calls it. */
function thisThread(): string | null {
  try {
    return readlinkSync('/proc/thread-self').split('/').at(-1) ?? null
  } catch {
    return null
  }
}

/** Reads the one file from outside that it is sent, answers, and is gone. */
function readOnce(task: ReaderTask): void {
  // What is counted begins here: the program is there.
  parentPort?.postMessage({ begun: thisThread() })
  read(task)
    .then((found): ReaderAnswer => ({ read: found }))
    .catch((reason: unknown): ReaderAnswer => ({ fault: faultOf(reason) }))
    .then((answer) => parentPort?.postMessage(answer))
    .catch((reason: unknown) => {
      setImmediate(() => {
        throw reason
      })
    })
}

if ((workerData as { kind: unknown }).kind === 'looks') {
  parentPort?.postMessage({ begun: thisThread() })
  lookOn()
} else parentPort?.once('message', readOnce)
