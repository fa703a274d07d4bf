'use client'

import { useEffect, useRef, useState } from 'react'
import type { BehaviourView } from '@/contract/contract'
import { devices, type Device } from '@/core/decide'
import { widthOf } from '@/core/experiment'
import type { DocumentId, RoundId, VersionId } from '@/core/ids'
import { Choice } from '../controls/choices'
import { Waiting } from '../frame/screen'
import { useRoom } from '../frame/use-room'
import { count } from '../frame/wording'
import { useAsk } from '../talk'
import { placed, pressedParts, type Box, type PressedSpot } from './spots'

interface Props {
  readonly round: RoundId
  readonly crowd: number
  readonly behaviour: BehaviourView
}

const deviceWords: { readonly [Of in Device]: string } = { phone: 'Phones', tablet: 'Tablets', computer: 'Computers' }
const HEIGHT = 560

/** Where people pressed, drawn on the page as each version shows it. */
export function Presses({ round, crowd, behaviour }: Props) {
  const { versions, pages } = behaviour
  const [version, setVersion] = useState<VersionId>(versions[0]?.version ?? ('' as VersionId))
  const [page, setPage] = useState<DocumentId>(pages[0]?.id ?? ('' as DocumentId))
  const [device, setDevice] = useState<Device>('computer')
  const asked = useAsk('result.presses', { round, crowd, version, page }, { keepLast: true })
  const title = pages.find(({ id }) => id === page)?.title ?? ''
  return (
    <figure className="presses">
      <figcaption>
        <h4>Where they pressed</h4>
        <span className="presses-tools">
          <Choice
            aria-label="Version shown"
            size="small"
            value={version}
            change={setVersion}
            options={versions.map((one) => ({ value: one.version, label: one.name }))}
          />
          <Choice
            aria-label="Device"
            size="small"
            value={device}
            change={setDevice}
            options={devices.map((value) => ({ value, label: deviceWords[value] }))}
          />
          {pages.length < 2 ? null : (
            <Choice
              aria-label="Page"
              size="small"
              value={page}
              change={setPage}
              options={pages.map(({ id, title: label }) => ({ value: id, label }))}
            />
          )}
        </span>
      </figcaption>
      {asked.data === undefined ? (
        <Waiting error={asked.error} again={() => void asked.refetch()} />
      ) : asked.data.html === null ? (
        <p className="quiet">This page is not published any more, so it cannot be drawn. The table above has the numbers.</p>
      ) : (
        <PressedPage html={asked.data.html} spots={asked.data.spots} device={device} title={title} />
      )}
    </figure>
  )
}

function PressedPage({
  html,
  spots,
  device,
  title,
}: {
  html: string
  spots: readonly PressedSpot[]
  device: Device
  title: string
}) {
  const frame = useRef<HTMLIFrameElement>(null)
  const [loaded, setLoaded] = useState(0)
  const [box, room] = useRoom(880)
  const width = widthOf[device]
  const scale = Math.min(1, room / width)
  const total = spots.reduce((sum, spot) => sum + (spot.device === device ? spot.times : 0), 0)

  useEffect(() => {
    const page = frame.current?.contentDocument
    if (page === null || page === undefined || loaded === 0) return
    const nothing = (event: Event) => event.preventDefault()
    page.addEventListener('click', nothing)
    page.addEventListener('submit', nothing)
    const drawn = drawOn(page, spots, device)
    return () => {
      page.removeEventListener('click', nothing)
      page.removeEventListener('submit', nothing)
      drawn?.remove()
    }
  }, [loaded, spots, device, scale])

  return (
    <>
      <p className="quiet">
        {total === 0
          ? 'Nobody has pressed anything here on such a device.'
          : `${count(total)} presses on such devices. A larger mark is more of them; beside each component stands how many it had.`}
      </p>
      <div ref={box} className="presses-page">
        <div style={{ width: width * scale, height: HEIGHT }}>
          <iframe
            ref={frame}
            title={`Presses on ${title}`}
            srcDoc={html}
            sandbox="allow-same-origin"
            style={{ width, height: HEIGHT / scale, transform: `scale(${scale})` }}
            onLoad={() => setLoaded((times) => times + 1)}
          />
        </div>
      </div>
    </>
  )
}

const SVG = 'http://www.w3.org/2000/svg'

/** Over the page, in its own coordinates, so that it moves with it. @returns what was drawn */
function drawOn(page: Document, spots: readonly PressedSpot[], device: Device): SVGSVGElement | null {
  const view = page.defaultView
  if (view === null) return null
  const boxOf = (node: string): Box | null => {
    const part = page.querySelector(`[data-n="${CSS.escape(node)}"]`)
    if (part === null) return null
    const { left, top, width, height } = part.getBoundingClientRect()
    return { left: left + view.scrollX, top: top + view.scrollY, width, height }
  }
  const svg = page.createElementNS(SVG, 'svg')
  Object.assign(svg.style, { position: 'absolute', left: '0', top: '0', pointerEvents: 'none', zIndex: '99999' })
  svg.setAttribute('width', String(page.documentElement.scrollWidth))
  svg.setAttribute('height', String(page.documentElement.scrollHeight))
  const draw = (kind: string, attributes: Readonly<Record<string, string | number>>, words = '') => {
    const made = page.createElementNS(SVG, kind)
    for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, String(value))
    made.textContent = words
    svg.append(made)
  }
  for (const { x, y, radius } of placed(spots, device, boxOf))
    draw('circle', { cx: x, cy: y, r: radius, fill: '#9b4a26', 'fill-opacity': 0.42, stroke: '#fffdf8', 'stroke-width': 1.5 })
  for (const { times, box } of pressedParts(spots, device, boxOf)) {
    const [x, y, wide] = [box.left + box.width, box.top, 14 + count(times).length * 8]
    draw('rect', { x: x - wide / 2, y: y - 11, width: wide, height: 22, rx: 11, fill: '#2b2430' })
    draw(
      'text',
      { x, y: y + 4, fill: '#fffdf8', 'font-size': 13, 'font-family': 'sans-serif', 'text-anchor': 'middle' },
      count(times),
    )
  }
  page.body.append(svg)
  return svg
}
