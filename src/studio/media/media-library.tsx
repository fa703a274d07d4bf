'use client'

import { SearchField, TextArea, TextField } from '../controls/fields'
import { SheetOver } from '../controls/sheet-over'
import { Button } from '../controls/button'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { MediaLine } from '@/contract/contract'
import { isMedia } from '@/components/site-view'
import { filmNames, pictureNames } from '@/components/pictures'
import { useMessages } from '../frame/messages'
import { FileChoice } from '../controls/file-choice'
import { Paging, usePage } from '../frame/paging'
import { plural } from '../frame/wording'
import { useAsk, useTell, type Refused } from '../talk'
import { upload } from './upload'

export interface Chosen {
  readonly name: string
  readonly alt: string
}

/** Everything that can be shown: what editors brought, then what ships with the site. */
export function MediaLibrary({
  kind,
  choose,
}: {
  kind: 'image' | 'video'
  choose: (chosen: Chosen, line: MediaLine | null) => void
}) {
  const message = useMessages()
  const client = useQueryClient()
  const [search, setSearch] = useState('')
  const [bringing, setBringing] = useState<File | null>(null)
  const [page, turn] = usePage(search)
  const asked = useAsk('media.list', { kind, search, page })
  const shipped = (kind === 'image' ? pictureNames : filmNames).filter((name) => name.includes(search.toLowerCase()))
  return (
    <div
      className="media-library"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        setBringing(event.dataTransfer.files[0] ?? null)
      }}
    >
      <div className="media-head">
        <SearchField aria-label="Find in the library" placeholder="Find by name or description" onSearch={setSearch} />
        <FileChoice
          label="File to bring"
          accept={
            kind === 'image' ? 'image/png,image/jpeg,image/gif,image/webp,image/avif,image/svg+xml' : 'video/webm,video/mp4'
          }
          take={setBringing}
        >
          Bring a {kind === 'image' ? 'picture' : 'film'}
        </FileChoice>
        <span className="quiet">or drop it here</span>
      </div>
      <ul className="media-grid">
        {(asked.data?.lines ?? []).map((line) => (
          <Tile
            key={line.name}
            name={line.name}
            label={line.title}
            note={sizeWords(line)}
            film={kind === 'video'}
            choose={() => choose(line, line)}
          />
        ))}
        {shipped.map((name) => (
          <Tile
            key={name}
            name={name}
            label={name}
            note="ships with the site"
            film={kind === 'video'}
            choose={() => choose({ name, alt: '' }, null)}
          />
        ))}
      </ul>
      <Paging page={page} total={asked.data?.total ?? 0} turn={turn} />
      {bringing === null ? null : (
        <Bring
          key={bringing.name}
          file={bringing}
          close={() => setBringing(null)}
          brought={(chosen) => {
            setBringing(null)
            void client.invalidateQueries({ queryKey: ['media.list'] })
            void message.success('It is in the library now.')
            choose(chosen, null)
          }}
        />
      )}
    </div>
  )
}

function Tile({
  name,
  label,
  note,
  film,
  choose,
}: {
  name: string
  label: string
  note: string
  film: boolean
  choose: () => void
}) {
  return (
    <li>
      <button type="button" onClick={choose}>
        {film ? (
          <video src={isMedia(name) ? `/media/${name}` : `/look/media/${name}.webm`} preload="metadata" muted />
        ) : (
          <img src={isMedia(name) ? `/media/${name}?w=320` : `/look/media/${name}.svg`} alt="" loading="lazy" />
        )}
        <span>{label}</span>
        <span className="quiet">{note}</span>
      </button>
    </li>
  )
}

function sizeWords({ width, height, size }: MediaLine): string {
  const weight = size > 1e6 ? `${(size / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(size / 1000))} kB`
  return width === 0 ? weight : `${width} × ${height}, ${weight}`
}

/** A file on its way in: what it is called, and what it shows for those who cannot see it. */
function Bring({ file, close, brought }: { file: File; close: () => void; brought: (chosen: Chosen) => void }) {
  const [title, setTitle] = useState(file.name.replace(/\.[^.]*$/, ''))
  const [alt, setAlt] = useState('')
  const [fault, setFault] = useState('')
  const [going, setGoing] = useState(false)
  const send = async () => {
    setGoing(true)
    try {
      const name = await upload(file, title, alt)
      brought({ name, alt })
    } catch (reason) {
      setFault((reason as Refused).message)
    } finally {
      setGoing(false)
    }
  }
  return (
    <SheetOver
      title="Bring it into the library"
      act={{ words: 'Bring it', go: () => void send(), disabled: alt.trim() === '' || title.trim() === '', busy: going }}
      close={close}
    >
      <label className="question">
        <span>Name</span>
        <TextField value={title} maxLength={200} onChange={({ target }) => setTitle(target.value)} />
      </label>
      <label className="question">
        <span>What it shows, for those who cannot see it</span>
        <TextField
          value={alt}
          maxLength={500}
          placeholder="A cello leaning against a blue door"
          onChange={({ target }) => setAlt(target.value)}
        />
      </label>
      <p className="quiet">{plural(Math.max(1, Math.round(file.size / 1000)), 'kilobyte', 'kilobytes')}.</p>
      {fault === '' ? null : (
        <p role="alert" className="fault">
          {fault}
        </p>
      )}
    </SheetOver>
  )
}

/** Names and descriptions of what is in the library, to be mended. */
export function MediaDetails({ line, binned }: { line: MediaLine; binned: () => void }) {
  const message = useMessages()
  const [title, setTitle] = useState(line.title)
  const [alt, setAlt] = useState(line.alt)
  const save = useTell('media.save', () => void message.success('Kept.'))
  const put = useTell('bin.putMedia', () => {
    void message.success('In the bin. It can be brought back for 30 days.')
    binned()
  })
  return (
    <div className="fields">
      <div className="field">
        <label htmlFor="media-title">Name</label>
        <TextField id="media-title" value={title} onChange={({ target }) => setTitle(target.value)} />
      </div>
      <div className="field">
        <label htmlFor="media-alt">What it shows</label>
        <TextArea id="media-alt" value={alt} onChange={({ target }) => setAlt(target.value)} />
      </div>
      <Button
        size="small"
        disabled={title.trim() === '' || (title === line.title && alt === line.alt)}
        onClick={() =>
          save.mutate({ name: line.name, title, alt }, { onError: (reason) => void message.error(reason.message, 8) })
        }
      >
        Keep
      </Button>{' '}
      <Button
        size="small"
        disabled={line.places.length > 0}
        title={line.places.length > 0 ? 'It is shown somewhere: take it out there first.' : undefined}
        onClick={() => put.mutate({ name: line.name }, { onError: (reason) => void message.error(reason.message, 8) })}
      >
        Move to the bin
      </Button>
    </div>
  )
}
