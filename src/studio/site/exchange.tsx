'use client'

import { App, Button, Modal } from 'antd'
import { useQueryClient } from '@tanstack/react-query'
import Link from 'next/link'
import { useRef, useState } from 'react'
import type { AccountView, ImportReport } from '@/contract/contract'
import { Note } from '../frame/screen'
import { send } from '../media/upload'
import { talk, type Refused } from '../talk'

/** What comes in as a file, and the whole site as one. */
export function Exchange({ account }: { account: AccountView }) {
  const { message, modal } = App.useApp()
  const client = useQueryClient()
  const input = useRef<HTMLInputElement>(null)
  const archive = useRef<HTMLInputElement>(null)
  const [report, setReport] = useState<ImportReport | null>(null)
  const failed = (reason: Refused) =>
    void modal.error({ title: 'The file was not taken', content: reason.message, icon: null, okText: 'Close' })
  const take = async (file: File) => {
    const as = /\.html?$/i.test(file.name) ? 'html' : /\.(opml|xml)$/i.test(file.name) ? 'opml' : 'json'
    try {
      setReport(await talk('format.take', { as, text: await file.text() }))
      void client.invalidateQueries()
    } catch (reason) {
      failed(reason as Refused)
    }
  }
  const load = (file: File) =>
    void modal.confirm({
      title: 'Load this site?',
      content: 'Documents that are here under the same name are replaced as new revisions and go live; the rest is added.',
      okText: 'Load it',
      cancelText: 'Not now',
      icon: null,
      onOk: () =>
        send('/api/archive', file).then(() => {
          void message.success('The site is loaded.')
          void client.invalidateQueries()
        }, failed),
    })
  return (
    <Note title="Files">
      <p>A page comes in as HTML, a menu as OPML, and documents, variants and tests as JSON.</p>
      <input
        ref={input}
        type="file"
        className="off-screen"
        aria-label="File to take over"
        tabIndex={-1}
        accept=".html,.htm,.opml,.xml,.json"
        onChange={({ target }) => {
          const file = target.files?.[0]
          target.value = ''
          if (file !== undefined) void take(file)
        }}
      />
      <input
        ref={archive}
        type="file"
        className="off-screen"
        aria-label="Archive to load"
        tabIndex={-1}
        accept=".zip"
        onChange={({ target }) => {
          const file = target.files?.[0]
          target.value = ''
          if (file !== undefined) load(file)
        }}
      />
      <div className="place-tools">
        <Button size="small" onClick={() => input.current?.click()}>
          Take a file over
        </Button>
        <Button size="small" href="/api/archive">
          Save the whole site
        </Button>
        {account.role === 'administrator' ? (
          <Button size="small" onClick={() => archive.current?.click()}>
            Load a site
          </Button>
        ) : null}
      </div>
      <p className="schema">
        <a href="/schema.json">The schema of the JSON files</a>
      </p>
      {report === null ? null : (
        <Modal open title="Taken over" footer={null} onCancel={() => setReport(null)}>
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
        </Modal>
      )}
    </Note>
  )
}
