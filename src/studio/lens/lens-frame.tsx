'use client'

import { useEffect, useRef, useState } from 'react'
import type { Device } from '@/core/decide'
import { useRoom } from '../frame/use-room'

/** How wide the window of each device is taken to be, in pixels. */
const widths: { readonly [Of in Device]: number } = { phone: 390, tablet: 820, computer: 1180 }

/**
 * The page as it was sent, in the width of the visitor’s device. Nothing in it runs; a link is followed by asking for the
 * page that it leads to.
 *
 * @param lit the part to be shown where it stands
 */
export function LensFrame({
  html,
  title,
  device,
  lit,
  follow,
}: {
  html: string
  title: string
  device: Device
  lit: string | null
  follow: (path: string) => void
}) {
  const frame = useRef<HTMLIFrameElement>(null)
  const [loaded, setLoaded] = useState(0)
  const [box, room] = useRoom(widths.computer)
  const width = widths[device]
  const scale = Math.min(1, room / width)

  useEffect(() => {
    const page = frame.current?.contentDocument
    if (page === null || page === undefined) return
    const pressed = (event: Event) => {
      const link = (event.target as Element | null)?.closest?.('a[href]')
      // In a frame of this studio everything leads somewhere else than on the site.
      event.preventDefault()
      const path = link?.getAttribute('href') ?? ''
      if (path.startsWith('/')) follow(path.split(/[?#]/)[0] ?? '/')
    }
    const sent = (event: Event) => event.preventDefault()
    page.addEventListener('click', pressed)
    page.addEventListener('submit', sent)
    return () => {
      page.removeEventListener('click', pressed)
      page.removeEventListener('submit', sent)
    }
  }, [loaded, follow])

  useEffect(() => {
    const page = frame.current?.contentDocument
    const part = lit === null ? null : (page?.querySelector<HTMLElement>(`[data-n="${CSS.escape(lit)}"]`) ?? null)
    if (part === null) return
    part.style.outline = '3px solid #9b4a26'
    part.style.outlineOffset = '4px'
    // Within the frame alone: the sheet around it stays where it is.
    const view = page?.defaultView
    if (view != null) {
      const { top, height } = part.getBoundingClientRect()
      view.scrollTo({ top: top + view.scrollY - (view.innerHeight - height) / 2, behavior: 'smooth' })
    }
    return () => {
      part.style.outline = ''
    }
  }, [lit, loaded])

  return (
    <div ref={box} className="lens-frame">
      <div style={{ width: width * scale, height: `calc((100vh - 150px))` }}>
        <iframe
          ref={frame}
          title={title}
          srcDoc={html}
          sandbox="allow-same-origin"
          style={{ width, height: `calc((100vh - 150px) / ${scale})`, transform: `scale(${scale})` }}
          onLoad={() => setLoaded((times) => times + 1)}
        />
      </div>
    </div>
  )
}
