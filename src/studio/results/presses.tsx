'use client'

import { useEffect, useRef, useState, type RefObject } from 'react'
import type { BehaviourView } from '@/contract/contract'
import { devices, type Device } from '@/core/decide'
import { widthOf } from '@/core/experiment'
import type { DocumentId, NodeId, RoundId, VersionId } from '@/core/ids'
import { Choice } from '../controls/choices'
import { Waiting } from '../frame/screen'
import { useRoom } from '../frame/use-room'
import { count } from '../frame/wording'
import { useAsk } from '../talk'
import { ChartFrame, type ChartTable } from './chart-frame'
import { middleOf, placed, pressedParts, type Box, type PressedSpot } from './spots'

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
  const frame = useRef<HTMLIFrameElement>(null)
  const spots = asked.data?.spots ?? []
  const wordsOf = (node: NodeId) => behaviour.pressed.find((one) => one.document === page && one.node === node)?.words ?? node
  const table: ChartTable = {
    columns: [
      { name: 'component', as: 'words' },
      { name: 'device', as: 'words' },
      { name: 'across', as: 'share' },
      { name: 'down', as: 'share' },
      { name: 'presses', as: 'count' },
    ],
    rows: spots.map(({ node, device: on, x, y, times }) => [wordsOf(node), deviceWords[on], ...middleOf({ x, y }), times]),
  }
  const choices = (
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
  )
  const picture = () => {
    const shown = frame.current?.contentDocument
    return shown ? alone(shown, spots, device) : null
  }
  return (
    <div className="presses">
      <ChartFrame title="Where they pressed" {...{ table, choices, picture }}>
        {asked.data === undefined ? (
          <Waiting error={asked.error} again={() => void asked.refetch()} />
        ) : asked.data.html === null ? (
          <p className="quiet">This page is not published any more, so it cannot be drawn. The table above has the numbers.</p>
        ) : (
          <PressedPage html={asked.data.html} frame={frame} {...{ spots, device, title }} />
        )}
      </ChartFrame>
    </div>
  )
}

function PressedPage({
  html,
  frame,
  spots,
  device,
  title,
}: {
  html: string
  frame: RefObject<HTMLIFrameElement | null>
  spots: readonly PressedSpot[]
  device: Device
  title: string
}) {
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
      drawn.remove()
    }
  }, [frame, loaded, spots, device, scale])

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

/** A picture of the size of a whole page, and how something is put into it. */
function pictureOver(page: Document): { readonly svg: SVGSVGElement; readonly draw: Draw } {
  const svg = page.createElementNS(SVG, 'svg')
  const { scrollWidth: width, scrollHeight: height } = page.documentElement
  svg.setAttribute('width', String(width))
  svg.setAttribute('height', String(height))
  svg.setAttribute('viewBox', `0 0 ${width} ${height}`)
  const draw: Draw = (kind, attributes, words = '') => {
    const made = page.createElementNS(SVG, kind)
    for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, String(value))
    made.textContent = words
    svg.append(made)
  }
  return { svg, draw }
}
type Draw = (kind: string, attributes: Readonly<Record<string, string | number>>, words?: string) => void

function boxOf(part: Element): Box {
  const view = part.ownerDocument.defaultView
  const { left, top, width, height } = part.getBoundingClientRect()
  return { left: left + (view?.scrollX ?? 0), top: top + (view?.scrollY ?? 0), width, height }
}

/** Over the page, in its own coordinates, so that it moves with it. @returns what was drawn */
function drawOn(page: Document, spots: readonly PressedSpot[], device: Device): SVGSVGElement {
  const { svg, draw } = pictureOver(page)
  Object.assign(svg.style, { position: 'absolute', left: '0', top: '0', pointerEvents: 'none', zIndex: '99999' })
  drawMarks(page, spots, device, draw)
  page.body.append(svg)
  return svg
}

/** To be taken away without the page: where its components stand and what they say, and the marks on them. */
function alone(page: Document, spots: readonly PressedSpot[], device: Device): SVGSVGElement {
  const { svg, draw } = pictureOver(page)
  for (const part of page.querySelectorAll('[data-n]')) {
    // A menu that is closed has a place, too.
    if (!part.checkVisibility({ checkVisibilityCSS: true, checkOpacity: true })) continue
    const { left, top, width, height } = boxOf(part)
    draw('rect', { x: left, y: top, width, height, fill: 'none', stroke: '#d9cfb8' })
    if (part.querySelector('[data-n]') !== null) continue
    const words = part.textContent.trim().slice(0, Math.max(4, Math.floor(width / 8)))
    draw('text', { x: left + 4, y: top + height / 2 + 5, fill: '#6b6358', 'font-size': 14, 'font-family': 'sans-serif' }, words)
  }
  drawMarks(page, spots, device, draw)
  return svg
}

function drawMarks(page: Document, spots: readonly PressedSpot[], device: Device, draw: Draw): void {
  const placeOf = (node: string) => {
    const part = page.querySelector(`[data-n="${CSS.escape(node)}"]`)
    return part === null ? null : boxOf(part)
  }
  for (const { x, y, radius } of placed(spots, device, placeOf))
    draw('circle', { cx: x, cy: y, r: radius, fill: '#9b4a26', 'fill-opacity': 0.42, stroke: '#fffdf8', 'stroke-width': 1.5 })
  for (const { times, box } of pressedParts(spots, device, placeOf)) {
    const [x, y, wide] = [box.left + box.width, box.top, 14 + count(times).length * 8]
    draw('rect', { x: x - wide / 2, y: y - 11, width: wide, height: 22, rx: 11, fill: '#2b2430' })
    draw(
      'text',
      { x, y: y + 4, fill: '#fffdf8', 'font-size': 13, 'font-family': 'sans-serif', 'text-anchor': 'middle' },
      count(times),
    )
  }
}
