'use client'

import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'

interface Messages {
  /** Something was not done, and why. */
  readonly error: Say
  readonly info: Say
  readonly success: Say
}

/** @param seconds for how long it stays */
type Say = (words: string, seconds?: number) => void

interface Said {
  readonly key: number
  readonly tone: keyof Messages
  readonly words: string
}

const Context = createContext<Messages>({ error: () => undefined, info: () => undefined, success: () => undefined })

/** What came of something, said over the screen for a moment. */
export function useMessages(): Messages {
  return useContext(Context)
}

const USUAL_SECONDS = 4
/** More than these at once are not read. */
const MOST = 4

export function MessagesOver({ children }: { children: ReactNode }) {
  const [shown, setShown] = useState<readonly Said[]>([])
  const next = useRef(0)
  const put = useCallback((tone: Said['tone'], words: string, seconds = USUAL_SECONDS) => {
    const key = next.current++
    // The same words again stay longer, and stand there once.
    setShown((now) => [...now.filter((one) => one.words !== words), { key, tone, words }].slice(-MOST))
    window.setTimeout(() => setShown((now) => now.filter((one) => one.key !== key)), seconds * 1000)
  }, [])
  // Over what lies over the screen, too: whatever is opened last lies on top, so it is opened again.
  const log = useRef<HTMLDivElement>(null)
  const newest = shown.at(-1)?.key
  useEffect(() => {
    if (log.current?.matches(':popover-open') === true) log.current.hidePopover()
    log.current?.showPopover()
  }, [newest])
  const messages = useMemo<Messages>(
    () => ({
      error: (words, seconds) => put('error', words, seconds),
      info: (words, seconds) => put('info', words, seconds),
      success: (words, seconds) => put('success', words, seconds),
    }),
    [put],
  )
  return (
    <Context.Provider value={messages}>
      {children}
      <div ref={log} popover="manual" className="messages" role="log" aria-label="Messages">
        {shown.map(({ key, tone, words }) => (
          <p key={key} className={tone}>
            {words}
          </p>
        ))}
      </div>
    </Context.Provider>
  )
}
