'use client'

import { useEffect, useRef, useState, type RefObject } from 'react'

/** How wide a box is, in pixels, as it changes with the window. @param usual until it has been measured */
export function useRoom(usual: number): readonly [RefObject<HTMLDivElement | null>, number] {
  const box = useRef<HTMLDivElement>(null)
  const [room, setRoom] = useState(usual)
  useEffect(() => {
    if (box.current === null) return
    const watch = new ResizeObserver(([entry]) => entry !== undefined && setRoom(entry.contentRect.width))
    watch.observe(box.current)
    return () => watch.disconnect()
  }, [])
  return [box, room]
}
