'use client'

import { roughPercent } from '@/core/numbers'
import { Note } from '../frame/screen'
import { plural } from '../frame/wording'
import { useAsk } from '../talk'

/** How much of the traffic meets a test, and how much is still free: in words, and as one bar. */
export function Capacity({ running }: { running: number }) {
  const { data } = useAsk('test.capacity', {}, { enabled: running > 0 })
  if (running === 0) return <Note title="Traffic in use">No test is drawing visitors now: all of it is free.</Note>
  const met = data?.met ?? []
  const of = met.reduce((sum, many) => sum + many, 0)
  const rest = 'Tests on different parts do not disturb each other; two on the same part are refused before they start.'
  if (of < ENOUGH)
    return (
      <Note title="Traffic in use">
        {plural(running, 'test is', 'tests are')} drawing visitors. {rest}
      </Note>
    )
  const shares = [met[0] ?? 0, met[1] ?? 0, met.slice(2).reduce((sum, many) => sum + many, 0)].map((many) => many / of)
  const [none = 0, one = 0, more = 0] = shares
  return (
    <Note title="Traffic in use">
      <p>
        {plural(running, 'test is', 'tests are')} drawing visitors. Of those who came in the last week,{' '}
        <strong>{roughPercent(none)} met no test</strong>, {roughPercent(one)} met one, and{' '}
        {more === 0 ? 'nobody' : roughPercent(more)} two or more.
      </p>
      <div className="capacity" aria-hidden="true">
        {shares.map((share, tests) => (
          <span key={tests} style={{ flexGrow: share }} className={`met-${tests}`} />
        ))}
      </div>
      <p>{rest}</p>
    </Note>
  )
}

/** Of fewer visitors a share says nothing. */
const ENOUGH = 30
