'use client'

import { FindChoice } from '../controls/find-choice'
import { TextField } from '../controls/fields'
import { Choice } from '../controls/choices'
import { titleOf } from '@/components/references'
import { componentTypes, excerptOf } from '@/components/types'
import { walk, nodeAt, type ContentDocument } from '@/core/document'
import type { DocumentId } from '@/core/ids'
import { useAsk } from '../talk'

interface LinkProps {
  readonly id: string
  readonly value: string
  readonly disabled: boolean
  readonly surroundings: readonly ContentDocument[]
  readonly change: (value: string) => void
}

/** Where a link leads: a page of the site and a place on it, or an address outside. */
export function LinkControl({ id, value, disabled, surroundings, change }: LinkProps) {
  const [page = '', place = ''] = value.startsWith('page:') ? value.slice('page:'.length).split('#') : []
  const pages = surroundings
    .filter(({ kind }) => kind === 'page')
    .map((one) => ({ value: one.id as string, label: `${titleOf(one)} (${String(nodeAt(one, one.root).props.path ?? '')})` }))
  return (
    <div className="link-choice">
      <FindChoice
        id={id}
        value={page}
        disabled={disabled}
        options={[{ value: '', label: value === '' ? 'Nowhere yet, or an address outside' : 'An address outside' }, ...pages]}
        change={(chosen: string) => change(chosen === '' ? '' : `page:${chosen}`)}
      />
      {page === '' ? (
        <TextField
          key={value}
          aria-label="Address outside"
          placeholder="https://, mailto:, tel:"
          defaultValue={value}
          disabled={disabled}
          onBlur={({ target }) => target.value.trim() !== value && change(target.value.trim())}
          onEnter={(text) => change(text.trim())}
        />
      ) : (
        <PlaceOnPage
          page={page as DocumentId}
          place={place}
          disabled={disabled}
          change={(next) => change(next === '' ? `page:${page}` : `page:${page}#${next}`)}
        />
      )}
    </div>
  )
}

function PlaceOnPage({
  page,
  place,
  disabled,
  change,
}: {
  page: DocumentId
  place: string
  disabled: boolean
  change: (place: string) => void
}) {
  const asked = useAsk('document.open', { document: page })
  const document = asked.data?.document
  const places = (document === undefined ? [] : walk(document)).flatMap((id) => {
    const node = document?.nodes[id]
    if (node === undefined || (node.type !== 'heading' && node.type !== 'section')) return []
    const words = excerptOf(node)
    return [{ value: id as string, label: `${componentTypes.get(node.type)?.label ?? ''} ${words === '' ? '' : `“${words}”`}` }]
  })
  return (
    <Choice
      aria-label="Place on the page"
      value={place}
      disabled={disabled}
      options={[{ value: '', label: 'Its beginning' }, ...places]}
      change={change}
    />
  )
}
