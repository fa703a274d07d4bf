'use client'

import murmurhash from 'murmurhash'
import { useMemo, useRef, useState, type ReactNode } from 'react'
import type { Output, TestView } from '@/contract/contract'
import { devices, type Device } from '@/core/decide'
import { illegibleAnew, illegibleIn, illegibleWords, widthOf, type Illegibility, type Illegible } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { Button } from '../controls/button'
import { Note } from '../frame/screen'
import { useAsk } from '../talk'
import { drawnTexts, lookOf } from './drawn-texts'

type Shown = Output<'test.drawn'>['shows'][number]
interface Seen {
  readonly faults: readonly Illegibility[]
  readonly look: string
}
type Seeing = { readonly [Of in Device]?: Seen }

/** What was found, and a line for what was looked at and found in order, or is being looked at. */
type Around = (notes: ReactNode, line: ReactNode) => ReactNode

/** Whether each version can be read at three widths: drawn here, out of sight, and looked at. */
export function DrawnCheck({ test, children }: { test: TestView; children: Around }) {
  const { data } = useAsk('test.drawn', { test: test.id, lock: test.lock })
  // By what is shown, and not by when it was read: read again and the same, what was found and opened stays.
  const shown = useMemo(() => murmurhash.v3(JSON.stringify(data ?? null)), [data])
  if (data === undefined || data.shows.length < 2) return children(null, null)
  return (
    <Drawing key={shown} {...data}>
      {children}
    </Drawing>
  )
}

function Drawing({ page, shows, children }: Output<'test.drawn'> & { children: Around }) {
  const [found, setFound] = useState<ReadonlyMap<VersionId, Seeing>>(new Map())
  const left = shows.flatMap((shown) =>
    devices.flatMap((device) => (found.get(shown.version)?.[device] === undefined ? [{ shown, device }] : [])),
  )
  const [next] = left
  const [original, ...variants] = shows
  const before = found.get(original?.version ?? ('' as VersionId))
  const faults = variants.flatMap((shown) => {
    const mine = found.get(shown.version)
    const drawn = devices.flatMap((device) => {
      const [was, is] = [before?.[device], mine?.[device]]
      return was === undefined || is === undefined ? [] : [{ device, original: was.faults, version: is.faults }]
    })
    return illegibleAnew(drawn).map((one) => ({ shown, one }))
  })
  const alike = variants.filter(
    (shown) =>
      original !== undefined &&
      saysTheSame(original.html, shown.html) &&
      devices.every(
        (device) => before?.[device] !== undefined && before[device].look === found.get(shown.version)?.[device]?.look,
      ),
  )
  const notes = [
    ...faults.map(({ shown, one }) => (
      <FaultNote key={`${shown.version} ${one.fault.code} ${one.fault.words}`} shown={shown} one={one} />
    )),
    ...alike.map(({ version, name }) => (
      <Note key={`${version} alike`} title="Advised" tone="asks">
        ‘{name}’ looks like the original on “{page}”, on phones, tablets and computers. If it should differ there, look at its
        rules again.
      </Note>
    )),
  ]
  const line =
    next !== undefined ? (
      <li className="going">
        <span role="status">Looking at “{page}” at three widths …</span>
      </li>
    ) : notes.length > 0 ? null : (
      <li>On “{page}” all words fit and can be read, on phones, tablets and computers</li>
    )
  return (
    <>
      {children(notes, line)}
      {next === undefined ? null : (
        <Drawn
          key={`${next.shown.version} ${next.device}`}
          html={next.shown.html}
          device={next.device}
          drawn={(there) =>
            setFound((known) =>
              new Map(known).set(next.shown.version, { ...known.get(next.shown.version), [next.device]: there }),
            )
          }
        />
      )}
    </>
  )
}

/** But for the marks that counting goes by, and for styles, whose effect is looked at. */
function saysTheSame(one: string, other: string): boolean {
  const said = (html: string) => html.replace(/ data-[a-z]+="[^"]*"/g, '').replace(/<style>[\s\S]*?<\/style>/g, '')
  return said(one) === said(other)
}

/** A page out of sight, as wide as a device. */
function Drawn({ html, device, drawn }: { html: string; device: Device; drawn: (seen: Seen) => void }) {
  const frame = useRef<HTMLIFrameElement>(null)
  const look = async () => {
    const page = frame.current?.contentDocument
    if (page === null || page === undefined || frame.current === null) return
    await page.fonts.ready
    // All of it is in the window, so that what is behind each word can be asked for.
    frame.current.style.height = `${Math.min(20_000, page.documentElement.scrollHeight)}px`
    drawn({ faults: illegibleIn(drawnTexts(page), widthOf[device]), look: lookOf(page) })
  }
  return (
    <iframe
      ref={frame}
      className="drawn-apart"
      title="The page, drawn to be looked at"
      aria-hidden
      tabIndex={-1}
      srcDoc={html}
      sandbox="allow-same-origin"
      style={{ width: widthOf[device] }}
      onLoad={() => void look()}
    />
  )
}

const ROOM = 300
const AROUND = 90

function FaultNote({ shown, one }: { shown: Shown; one: Illegible }) {
  const [open, setOpen] = useState(false)
  const [device = 'phone'] = one.devices
  const width = widthOf[device]
  const scale = Math.min(1, ROOM / width)
  return (
    <Note
      title="Advised"
      tone="asks"
      action={
        <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Put it away' : 'Show where'}
        </Button>
      }
    >
      {illegibleWords(shown.name, one)}
      {open ? (
        <div className="drawn-place" style={{ height: 2 * AROUND }}>
          <iframe
            title={`${shown.name}, where it cannot be read`}
            srcDoc={shown.html}
            sandbox="allow-same-origin"
            tabIndex={-1}
            style={{
              width,
              height: one.fault.top + (2 * AROUND) / scale,
              transform: `translateY(${AROUND / 2 - one.fault.top * scale}px) scale(${scale})`,
            }}
          />
        </div>
      ) : null}
    </Note>
  )
}
