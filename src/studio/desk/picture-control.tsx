'use client'

import { Button } from '../controls/button'
import { SheetOver } from '../controls/sheet-over'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { isMedia } from '@/components/site-view'
import type { Chosen } from '../media/media-library'

const MediaLibrary = dynamic(() => import('../media/media-library').then((room) => room.MediaLibrary), { ssr: false })

/** The picture or film that is shown, and the way to another one. */
export function PictureControl({
  id,
  kind,
  value,
  disabled,
  choose,
}: {
  id: string
  kind: 'image' | 'video'
  value: string
  disabled: boolean
  choose: (chosen: Chosen) => void
}) {
  const [open, setOpen] = useState(false)
  return (
    <div className="picture-choice">
      {value === '' || kind === 'video' ? null : (
        <img src={isMedia(value) ? `/media/${value}?w=320` : `/look/media/${value}.svg`} alt="" width={56} height={56} />
      )}
      <Button id={id} disabled={disabled} onClick={() => setOpen(true)}>
        {value === '' ? 'Choose from the library' : 'Choose another'}
      </Button>
      {value === '' ? null : (
        <Button look="quiet" disabled={disabled} onClick={() => choose({ name: '', alt: '' })}>
          None
        </Button>
      )}
      {open ? (
        <SheetOver wide={880} title="Library" close={() => setOpen(false)}>
          <MediaLibrary
            kind={kind}
            choose={(chosen) => {
              setOpen(false)
              choose(chosen)
            }}
          />
        </SheetOver>
      ) : null}
    </div>
  )
}
