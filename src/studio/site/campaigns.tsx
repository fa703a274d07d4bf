'use client'

import { TextField } from '../controls/fields'
import { Button } from '../controls/button'
import { useState } from 'react'
import { useMessages } from '../frame/messages'
import { plural } from '../frame/wording'
import { useAsk, useTell } from '../talk'

/** Names that tests, pages and calls to action can carry; the lists are narrowed by them. */
export function Campaigns() {
  const message = useMessages()
  const [name, setName] = useState('')
  const asked = useAsk('campaign.list', {})
  const create = useTell('campaign.create', () => setName(''))
  const remove = useTell('campaign.remove', () => void message.success('Moved to the bin, where it stays for 30 days.'))
  const lines = asked.data?.campaigns ?? []
  return (
    <>
      <form
        className="filters"
        onSubmit={(event) => {
          event.preventDefault()
          create.mutate({ name }, { onError: (reason) => void message.error(reason.message, 8) })
        }}
      >
        <TextField
          aria-label="Name of the campaign"
          placeholder="Spring on strings"
          value={name}
          maxLength={120}
          onChange={({ target }) => setName(target.value)}
        />
        <Button submits disabled={name.trim() === ''} busy={create.isPending}>
          Make a campaign
        </Button>
      </form>
      {lines.length === 0 ? (
        <p className="empty">No campaign yet. A campaign is a name that tests, pages and calls to action carry together.</p>
      ) : (
        <table className="rows">
          <thead>
            <tr>
              <th>Campaign</th>
              <th>Carried by</th>
              <th>
                <span className="unseen">Steps</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {lines.map((line) => (
              <tr key={line.name}>
                <td>{line.name}</td>
                <td className="quiet">
                  {plural(line.tests, 'test', 'tests')},{' '}
                  {plural(line.documents, 'page or call to action', 'pages and calls to action')}
                </td>
                <td>
                  <Button
                    size="small"
                    aria-label={`Move “${line.name}” to the bin`}
                    disabled={line.tests + line.documents > 0}
                    title={
                      line.tests + line.documents > 0 ? 'Something carries it. Choose another campaign there first.' : undefined
                    }
                    onClick={() =>
                      remove.mutate({ name: line.name }, { onError: (reason) => void message.error(reason.message, 8) })
                    }
                  >
                    Move to the bin
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  )
}
