'use client'

import { SaveSite } from './save-site'
import { useQueryClient } from '@tanstack/react-query'
import Link from 'next/link'
import { useState } from 'react'
import type { AccountView, ImportReport } from '@/contract/contract'
import { decoded } from '@/core/formats/decoded'
import { FileFault } from '@/core/formats/fault'
import { FileChoice } from '../controls/file-choice'
import { Note } from '../frame/screen'
import { SheetOver } from '../controls/sheet-over'
import { talk, type Refused } from '../talk'
import { LoadSite } from './load-site'

/** What comes in as a file, and the whole site as one. */
export function Exchange({ account }: { account: AccountView }) {
  const client = useQueryClient()
  const [report, setReport] = useState<ImportReport | null>(null)
  const [trouble, setTrouble] = useState<string | null>(null)
  const take = async (file: File) => {
    const as = /\.html?$/i.test(file.name) ? 'html' : /\.(opml|xml)$/i.test(file.name) ? 'opml' : 'json'
    try {
      setReport(await talk('format.take', { as, text: decoded(new Uint8Array(await file.arrayBuffer())).text }))
      void client.invalidateQueries()
    } catch (reason) {
      setTrouble(reason instanceof FileFault ? `${reason.message} Nothing was taken over.` : (reason as Refused).message)
    }
  }
  return (
    <Note title="Files">
      {trouble === null ? null : (
        <SheetOver title="The file was not taken" close={() => setTrouble(null)}>
          <p>{trouble}</p>
        </SheetOver>
      )}
      <p>A page comes in as HTML, a menu as OPML, and documents, variants and tests as JSON.</p>
      <div className="place-tools">
        <FileChoice label="File to take over" accept=".html,.htm,.opml,.xml,.json" size="small" take={(file) => void take(file)}>
          Take a file over
        </FileChoice>
        {account.role === 'administrator' ? (
          <>
            <SaveSite />
            <LoadSite />
          </>
        ) : null}
      </div>
      <p className="schema">
        <a href="/schema.json">The schema of the JSON files</a>
      </p>
      {report === null ? null : (
        <SheetOver title="Taken over" close={() => setReport(null)}>
          <ul>
            {report.made.map(({ id, title, path }) => (
              <li key={id}>
                <Link href={path.startsWith('/tests/') ? path : `/site/${id}`}>{title}</Link>
              </li>
            ))}
          </ul>
          {report.notes.length === 0 ? (
            <p>Everything in it has its place.</p>
          ) : (
            <>
              <p>What could not be taken over as it was:</p>
              <ul>
                {report.notes.map((note, index) => (
                  <li key={index}>{note}</li>
                ))}
              </ul>
            </>
          )}
        </SheetOver>
      )}
    </Note>
  )
}
