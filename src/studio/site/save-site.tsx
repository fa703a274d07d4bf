'use client'

import { useState } from 'react'
import { Button, ButtonLink } from '../controls/button'
import { SheetOver } from '../controls/sheet-over'
import { useAsk } from '../talk'

/** A whole site into one file: what it does not hold is said first. */
export function SaveSite() {
  const [isOpen, setOpen] = useState(false)
  return (
    <>
      <Button onClick={() => setOpen(true)}>Save the whole site</Button>
      {isOpen ? <WhatIsSaved close={() => setOpen(false)} /> : null}
    </>
  )
}

function WhatIsSaved({ close }: { close: () => void }) {
  const { data } = useAsk('format.leftOut', {})
  return (
    <SheetOver title="Save the whole site" close={close}>
      <p>
        The file holds pages, menus, settings, variants, rules, goals, pictures and films. Tests come in again as drafts, settled
        tests to be read with their results.
      </p>
      {data === undefined ? (
        <p className="quiet">Looking at what is left out …</p>
      ) : data.leftOut.length === 0 ? (
        <p>Nothing is left out.</p>
      ) : (
        <>
          <p>It does not hold:</p>
          <ul>
            {data.leftOut.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </>
      )}
      <div className="sheet-steps">
        <Button onClick={close}>Not now</Button>
        <ButtonLink href="/api/archive" look="primary">
          Save it
        </ButtonLink>
      </div>
    </SheetOver>
  )
}
