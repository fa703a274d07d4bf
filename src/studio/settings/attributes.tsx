'use client'

import { useState } from 'react'
import type { Output } from '@/contract/contract'
import { attributesSchema } from '@/core/decide'
import { isSameData } from '@/core/same-data'
import { Button } from '../controls/button'
import { TextField } from '../controls/fields'
import { useMessages } from '../frame/messages'
import { useTell } from '../talk'

/** As it is typed: values with commas between them. */
interface Written {
  readonly name: string
  readonly values: string
}

/** What the site may say of its visitors: conditions ask for it, and nothing else is kept of anybody. */
export function SaidOfVisitors({ settings, may }: { settings: Output<'setting.read'>; may: boolean }) {
  const message = useMessages()
  const save = useTell('setting.save', () => void message.success('Kept, and live.'))
  const [rows, setRows] = useState<readonly Written[]>(
    settings.attributes.map(({ name, values }) => ({ name, values: values.join(', ') })),
  )
  const put = (at: number, part: Partial<Written>) =>
    setRows(rows.map((row, place) => (place === at ? { ...row, ...part } : row)))
  const wanted = rows.map(({ name, values }) => ({
    name: name.trim(),
    values: values.split(',').flatMap((one) => one.trim() || []),
  }))
  const read = attributesSchema.safeParse(wanted)
  const [issue] = read.success ? [] : read.error.issues
  const isOther = !isSameData(wanted, settings.attributes)
  return (
    <section className="band" aria-label="What the site says of visitors">
      <h2>What the site says of visitors</h2>
      <p className="quiet lead">
        Such as a membership, or that somebody is signed in. Only the site knows, and its pages say it; conditions can then ask
        for it. What is not listed here is not kept. It stays in the visitor’s own browser for 30 days, and whoever reads a page
        could say it of themselves: do not hide anything behind it.
      </p>
      {rows.map(({ name, values }, at) => (
        <div key={at} className="said-row">
          <TextField
            aria-label={`Name of attribute ${at + 1}`}
            placeholder="membership"
            value={name}
            maxLength={30}
            disabled={!may}
            aria-invalid={issue?.path[0] === at && issue.path[1] === 'name'}
            onChange={({ target }) => put(at, { name: target.value })}
          />
          <TextField
            aria-label={`Values of attribute ${at + 1}, with commas between them`}
            placeholder="player, family"
            value={values}
            maxLength={700}
            disabled={!may}
            aria-invalid={issue?.path[0] === at && issue.path[1] === 'values'}
            onChange={({ target }) => put(at, { values: target.value })}
          />
          {may ? (
            <Button
              size="small"
              look="quiet"
              aria-label={`Remove attribute ${name}`}
              onClick={() => setRows(rows.filter((_, place) => place !== at))}
            >
              ×
            </Button>
          ) : null}
        </div>
      ))}
      {issue === undefined ? null : (
        <p role="alert" className="fault">
          {typeof issue.path[0] === 'number' ? `${wanted[issue.path[0]]?.name || `Attribute ${issue.path[0] + 1}`}: ` : ''}
          {issue.message}.
        </p>
      )}
      {may ? (
        <p className="said-doings">
          <Button onClick={() => setRows([...rows, { name: '', values: '' }])}>Add an attribute</Button>
          <Button
            disabled={!read.success || !isOther}
            busy={save.isPending}
            onClick={() =>
              read.success &&
              save.mutate({ attributes: read.data }, { onError: (reason) => void message.error(reason.message, 8) })
            }
          >
            Keep these attributes
          </Button>
        </p>
      ) : null}
      {settings.attributes.length === 0 ? null : (
        <details>
          <summary>How a page says it</summary>
          <pre>{`fetch('/visitor', { method: 'POST', body: JSON.stringify(${JSON.stringify(exampleOf(settings.attributes))}) })`}</pre>
          <p className="quiet">With null for a value, what was said is taken back. It counts from the next page on.</p>
        </details>
      )}
    </section>
  )
}

const exampleOf = ([first]: Output<'setting.read'>['attributes']) =>
  first === undefined ? {} : { [first.name]: first.values[0] ?? '' }
