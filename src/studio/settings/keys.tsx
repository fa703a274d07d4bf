'use client'

import { Button } from '../controls/button'
import { TextField } from '../controls/fields'
import { useState } from 'react'
import { useMessages } from '../frame/messages'
import { When } from '../frame/when'
import { agoWords } from '../frame/wording'
import { useAsk, useTell, type Refused } from '../talk'

/** Who may report from elsewhere: a key for each origin, shown once, taken back at once. */
export function Keys({ may }: { may: boolean }) {
  const message = useMessages()
  const [name, setName] = useState('')
  const [origin, setOrigin] = useState('')
  const [said, setSaid] = useState<string | null>(null)
  const asked = useAsk('key.list', {})
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const create = useTell('key.create', ({ key }) => {
    setSaid(key)
    setName('')
    setOrigin('')
  })
  const revoke = useTell('key.revoke', () => void message.success('Taken back. In a few seconds it opens nothing any more.'))
  return (
    <section className="band" aria-label="Reports from elsewhere">
      <h2>Reports from elsewhere</h2>
      <p className="quiet">
        A shop, or a page that is not in here, may report what happened there: with a snippet (made on the sheet of a goal), or by
        HTTP as{' '}
        {asked.data === undefined ? 'described' : <a href={`${asked.data.address}/report/openapi.json`}>described here</a>}.
      </p>
      {(asked.data?.keys ?? []).length === 0 ? null : (
        <table className="rows">
          <thead>
            <tr>
              <th>Key for</th>
              <th>Origin</th>
              <th>Made</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {(asked.data?.keys ?? []).map(({ id, name: what, origin: from, createdAt, createdBy, revokedAt }) => (
              <tr key={id}>
                <td>{what}</td>
                <td>{from}</td>
                <td className="quiet">
                  by {createdBy}, <When at={createdAt} words={agoWords} />
                </td>
                <td>
                  {revokedAt !== null ? (
                    <span className="quiet">taken back</span>
                  ) : (
                    <Button size="small" disabled={!may} onClick={() => revoke.mutate({ id }, failed)}>
                      Take it back
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {said === null ? null : (
        <div role="status" className="trouble said">
          <p>This is the key. It is shown this once; only its hash is kept.</p>
          <p>
            <code className="key-said">{said}</code>
          </p>
        </div>
      )}
      <div className="goal-lines">
        <label>
          <span>For</span>
          <TextField
            aria-label="What the key is for"
            placeholder="The shop’s receipt"
            value={name}
            maxLength={120}
            disabled={!may}
            onChange={({ target }) => setName(target.value)}
          />
          <TextField
            aria-label="Origin"
            placeholder="https://shop.example"
            value={origin}
            maxLength={200}
            disabled={!may}
            onChange={({ target }) => setOrigin(target.value)}
          />
          <Button
            disabled={!may || name.trim() === '' || origin.trim() === ''}
            busy={create.isPending}
            onClick={() => create.mutate({ name, origin }, failed)}
          >
            Make a key
          </Button>
        </label>
      </div>
    </section>
  )
}
