import { isWaitedFor, type Refused } from '../talk'

/** `waiting`: no answer came, and it is sent again by itself. */
export type SavingState = 'saved' | 'saving' | 'waiting' | 'refused'

interface Sent {
  hasUnsent(): boolean
  /** Sends all that waits, one after the other. @throws {Refused} with what keeps it from going on */
  send(): Promise<void>
  /** Writes down in this browser what is not saved yet, or that all is. */
  remember(): void
  said(state: SavingState, fault: Refused | null): void
}

/**
 * The way of what is edited to the server, the same for everything: written down in the browser at once, sent a moment after
 * the last change, one save at a time; sent again by itself where no answer came, soon at first; what was refused stays and
 * is said.
 *
 * @param moment milliseconds after a change
 */
export function createSender({ hasUnsent, send, remember, said }: Sent, moment: number) {
  let timer: ReturnType<typeof setTimeout> | undefined
  let tries = 0
  let isWaiting = false
  let going: Promise<void> = Promise.resolve()
  const sendAll = async (): Promise<void> => {
    if (!hasUnsent()) return
    try {
      await send()
      tries = 0
      isWaiting = false
      said(hasUnsent() ? 'saving' : 'saved', null)
    } catch (reason) {
      const fault = reason as Refused
      isWaiting = isWaitedFor(fault)
      said(isWaiting ? 'waiting' : 'refused', fault)
      if (isWaiting) timer = setTimeout(() => void flush(), pauseBefore(tries++) * 1000)
    }
    remember()
  }
  const flush = (): Promise<void> => {
    clearTimeout(timer)
    going = going.then(sendAll)
    return going
  }
  return {
    flush,

    soon(): void {
      remember()
      // While no answer comes, what is typed goes along with the next try.
      if (isWaiting) return
      said('saving', null)
      clearTimeout(timer)
      timer = setTimeout(() => void flush(), moment)
    },
  }
}

/** Seconds until what got no answer is sent again: soon at first, at most half a minute. */
export function pauseBefore(tries: number): number {
  return Math.min(30, 2 ** Math.min(tries, 5))
}
