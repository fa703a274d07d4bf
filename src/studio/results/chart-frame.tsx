'use client'

import { useRef, useState, type ReactNode } from 'react'
import { count, lossWords, percent, points, pValueWords, signed } from '@/core/numbers'

/** How the cells of a column are read: as they are, as a whole number, as a share, as a part more or less, as points of a hundred, as points lost, as a p-value. */
type Reads = 'words' | 'count' | 'share' | 'lift' | 'points' | 'loss' | 'pValue'

export interface ChartTable {
  readonly columns: readonly { readonly name: string; readonly as: Reads }[]
  readonly rows: readonly (readonly (string | number | null)[])[]
}

const numberWords: { readonly [As in Exclude<Reads, 'words'>]: (value: number) => string } = {
  count,
  share: percent,
  lift: signed,
  points,
  loss: lossWords,
  pValue: pValueWords,
}

/** As it is read in the table behind a picture; the file to take away has the number itself. */
function cellWords(value: string | number | null, as: Reads): string {
  if (value === null) return '–'
  return typeof value === 'string' || as === 'words' ? String(value) : numberWords[as](value)
}

interface Props {
  readonly title: string
  readonly table: ChartTable
  /** Beside what can be done with it. */
  readonly choices?: ReactNode
  /** The picture to take away, with all that it looks like, where it is not the one that is shown. */
  readonly picture?: () => SVGSVGElement | null
  readonly children: ReactNode
}

/** A picture with the table behind it, and both to take away. */
export function ChartFrame({ title, table, choices, picture, children }: Props) {
  const figure = useRef<HTMLElement>(null)
  const [asTable, setAsTable] = useState(false)
  const name = title.toLowerCase().replace(/[^a-z0-9]+/g, '-')

  const svgText = () => {
    const svg = picture === undefined ? figure.current?.querySelector('svg') : picture()
    if (!svg) return null
    const copy = svg.cloneNode(true) as SVGSVGElement
    copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
    if (picture === undefined) inlineStyles(svg, copy)
    return {
      text: new XMLSerializer().serializeToString(copy),
      width: svg.viewBox.baseVal.width,
      height: svg.viewBox.baseVal.height,
    }
  }
  const saveSvg = () => {
    const svg = svgText()
    if (svg !== null) save(`${name}.svg`, new Blob([svg.text], { type: 'image/svg+xml' }))
  }
  const savePng = async () => {
    const svg = svgText()
    if (svg === null) return
    const image = new Image()
    image.src = URL.createObjectURL(new Blob([svg.text], { type: 'image/svg+xml' }))
    await image.decode()
    const canvas = document.createElement('canvas')
    canvas.width = svg.width * 2
    canvas.height = svg.height * 2
    const context = canvas.getContext('2d')
    if (context === null) return
    context.fillStyle = '#FBF9F4'
    context.fillRect(0, 0, canvas.width, canvas.height)
    context.drawImage(image, 0, 0, canvas.width, canvas.height)
    URL.revokeObjectURL(image.src)
    canvas.toBlob((png) => png !== null && save(`${name}.png`, png))
  }
  const saveCsv = () => save(`${name}.csv`, new Blob([toCsv(table)], { type: 'text/csv' }))

  return (
    <figure className="chart" ref={figure}>
      <figcaption>
        <h3>{title}</h3>
        {choices}
        <span className="chart-tools">
          <Tool words={asTable ? 'Picture' : 'Table'} of={title} act={() => setAsTable(!asTable)} />
          {/* What is drawn from a page needs the page to be there. */}
          {asTable && picture !== undefined ? null : (
            <>
              <Tool words="SVG" of={title} act={saveSvg} />
              <Tool words="PNG" of={title} act={() => void savePng()} />
            </>
          )}
          <Tool words="CSV" of={title} act={saveCsv} />
        </span>
      </figcaption>
      <div hidden={asTable}>{children}</div>
      {asTable ? <PlainTable table={table} /> : null}
    </figure>
  )
}

/** Called by the picture that it is about: a sheet has several of each. */
function Tool({ words, of, act }: { words: string; of: string; act: () => void }) {
  return (
    <button type="button" aria-label={`${words} of “${of}”`} onClick={act}>
      {words}
    </button>
  )
}

function PlainTable({ table }: { table: ChartTable }) {
  return (
    <div className="table-scroll">
      <table className="rows figures">
        <thead>
          <tr>
            {table.columns.map(({ name, as }) => (
              <th key={name} className={as === 'words' ? undefined : 'number'}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row) => (
            <tr key={row.join('|')}>
              {table.columns.map(({ name, as }, index) => (
                <td key={name} className={as === 'words' ? undefined : 'number'}>
                  {cellWords(row[index] ?? null, as)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** RFC 4180: commas, CRLF, quotes doubled. A leading = + - @ would be a formula to a spreadsheet. */
export function toCsv({ columns, rows }: ChartTable): string {
  const cell = (value: string | number | null) => {
    const text = typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value ?? '')
    return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
  }
  return [columns.map(({ name }) => name), ...rows].map((row) => row.map(cell).join(',')).join('\r\n') + '\r\n'
}

/** What the page's stylesheet says of a picture, written into it, so that it looks the same alone. */
function inlineStyles(from: Element, to: Element): void {
  const style = getComputedStyle(from)
  for (const name of [
    'fill',
    'stroke',
    'stroke-width',
    'stroke-dasharray',
    'opacity',
    'fill-opacity',
    'font-family',
    'font-size',
    'text-anchor',
    'font-weight',
  ])
    (to as SVGElement).style.setProperty(name, style.getPropertyValue(name))
  Array.from(from.children).forEach((child, index) => {
    const twin = to.children[index]
    if (twin !== undefined) inlineStyles(child, twin)
  })
}

function save(name: string, blob: Blob): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
