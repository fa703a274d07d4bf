'use client'

import dynamic from 'next/dynamic'
import { SheetOver } from '../controls/sheet-over'
import { TextField } from '../controls/fields'
import { Choice } from '../controls/choices'
import { useRouter } from 'next/navigation'
import { useMemo, useState } from 'react'
import { documentIdSchema } from '@/core/ids'
import { titleOf } from '@/components/references'
import { useMessages } from '../frame/messages'
import { useAsk, useTell } from '../talk'

const PageMiniature = dynamic(() => import('../desk/page-frame').then((room) => room.PageMiniature), { ssr: false })

export type NewKind = 'page' | 'menu' | 'callToAction' | 'shared' | 'style' | 'letter'

const names: Readonly<Record<NewKind, string>> = {
  page: 'A new page',
  menu: 'A new menu',
  callToAction: 'A new call to action',
  shared: 'A new shared component',
  style: 'A new style',
  letter: 'A new newsletter',
}

/** A new document: a page begins from a template, from another page, or empty; the rest from another of its kind, or empty. */
export function NewDocument({ kind, close }: { kind: NewKind; close: () => void }) {
  const router = useRouter()
  const message = useMessages()
  const [title, setTitle] = useState('')
  const [path, setPath] = useState<string | null>(null)
  const [from, setFrom] = useState<string>('')
  const templates = useAsk('template.list', {}, { enabled: kind === 'page' })
  const site = useAsk('site.read', {})
  const create = useTell('document.create', ({ id }) => router.push(`/site/${id}`))
  const address = path ?? addressFor(title)
  const template = templates.data?.templates.find(({ id }) => id === from)
  const surroundings = useMemo(() => [], [])
  const models =
    kind === 'page'
      ? (site.data?.lines ?? []).map(({ id, title: name }) => ({ value: id as string, label: name }))
      : (site.data?.others ?? [])
          .filter((one) => one.kind === kind)
          .map(({ id, title: name }) => ({ value: id as string, label: name }))
  const groups = [
    { label: 'Empty', options: [{ value: '', label: 'Nothing in it' }] },
    ...(kind === 'page'
      ? [
          {
            label: 'A template',
            options: (templates.data?.templates ?? []).map((one) => ({ value: one.id as string, label: titleOf(one) })),
          },
        ]
      : []),
    { label: 'A copy of', options: models },
  ]
  return (
    <SheetOver
      wide={kind === 'page' ? 720 : 520}
      title={names[kind]}
      act={{
        words: 'Make it',
        go: () =>
          create.mutate(
            {
              kind,
              title: title.trim(),
              path: kind === 'page' ? address : null,
              from: from === '' ? null : documentIdSchema.parse(from),
            },
            { onError: (reason) => void message.error(reason.message, 8) },
          ),
        disabled: title.trim() === '',
        busy: create.isPending,
      }}
      close={close}
    >
      <label className="question">
        <span>{kind === 'letter' ? 'Subject' : 'Title'}</span>
        <TextField
          aria-label={kind === 'letter' ? 'Subject' : 'Title'}
          value={title}
          maxLength={200}
          onChange={({ target }) => setTitle(target.value)}
        />
      </label>
      {kind === 'page' ? (
        <label className="question">
          <span>Address</span>
          <TextField aria-label="Address" value={address} maxLength={200} onChange={({ target }) => setPath(target.value)} />
        </label>
      ) : null}
      <label className="question">
        <span>Begins as</span>
        <Choice aria-label="Begins as" className="broad" value={from} options={groups} change={setFrom} />
      </label>
      {template === undefined ? null : (
        <div className="template-sample">
          <PageMiniature
            document={template}
            node={template.root}
            edits={[]}
            surroundings={surroundings}
            label={titleOf(template)}
          />
        </div>
      )}
    </SheetOver>
  )
}

/** “Summer loans, 2027” → “/summer-loans-2027”. */
export function addressFor(title: string): string {
  const words = title
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .normalize()
    .replace(/[^\p{L}\p{M}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
  return `/${words.slice(0, 80)}`
}
