import { log } from './log'

/** A body that is written while it goes out; whoever stops reading lets go of what it is read from. */
export function streamed(chunks: AsyncGenerator<Uint8Array, void, undefined>): ReadableStream<Uint8Array> {
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      try {
        const { value, done } = await chunks.next()
        if (done === true) controller.close()
        else controller.enqueue(value)
      } catch (reason) {
        log.error(reason)
        controller.error(reason)
      }
    },
    cancel: () => void chunks.return(undefined),
  })
}
