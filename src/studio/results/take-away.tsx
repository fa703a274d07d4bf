'use client'

import { mayAs, type AccountView } from '@/contract/contract'
import { dataSetNames, dataSets } from '@/core/formats'
import { Button } from '../controls/button'

const forms = ['csv', 'ndjson'] as const
const DICTIONARY = '/api/data'

/** All that a test has counted, as files. */
export function TakeAway({ test, account }: { test: string; account: AccountView }) {
  const all = mayAs(account.role, 'administrator')
  return (
    <details className="by-segment not-printed">
      <summary>Take the data away</summary>
      <p className="quiet">
        All of it to read:{' '}
        <a href={`/api/report?test=${test}`} download>
          the report of this test, in Markdown
        </a>
        . And what it is computed from, as CSV (RFC 4180) or with one JSON object a line.{' '}
        <a href={DICTIONARY}>What each column says</a>
      </p>
      <p>
        <Button size="small" onClick={() => window.print()}>
          Print this sheet
        </Button>{' '}
        <span className="quiet">as it stands: what is folded stays folded</span>
      </p>
      <table className="rows">
        <tbody>
          {dataSetNames
            .filter((name) => all || !dataSets[name].ofVisitors)
            .map((name) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td>{dataSets[name].words}</td>
                {forms.map((form) => (
                  <td key={form}>
                    <a
                      href={`/api/data?test=${test}&what=${name}&as=${form}`}
                      download
                      aria-label={`${name} as ${form.toUpperCase()}`}
                    >
                      {form.toUpperCase()}
                    </a>
                  </td>
                ))}
              </tr>
            ))}
        </tbody>
      </table>
    </details>
  )
}
