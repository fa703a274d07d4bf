'use client'

import Link from 'next/link'
import type { SiteFigures } from '@/contract/contract'
import type { DocumentId } from '@/core/ids'
import { Note } from '../frame/screen'
import { DaysLine } from '../frame/days-line'
import { MadeUp } from '../frame/made-up'
import { count, shareWords } from '../frame/wording'
import { useAsk } from '../talk'

/** Who came to the site in the last four weeks, whatever is tested. */
export function WholeSite() {
  const figures = useAsk('site.figures', {}, { every: 60_000 }).data
  if (figures === undefined) return null
  const visits = total(figures, 'visits')
  return (
    <section className="test-group site-figures">
      <h2>
        the site, 28 days <MadeUp touched={({ any }) => any} />
      </h2>
      <div className="figure-lines">
        <Figure
          name="visitors a day"
          value={count(total(figures, 'visitors') / figures.days.length)}
          days={days(figures, 'visitors')}
        />
        <Figure name="views" value={count(total(figures, 'views'))} days={days(figures, 'views')} />
        <Figure name="visits" value={count(visits)} days={days(figures, 'visits')} />
        <Figure name="left at once" value={shareWords(total(figures, 'bounced'), visits)} days={days(figures, 'bounced')} />
      </div>
      <div className="figure-tables">
        <table className="rows">
          <thead>
            <tr>
              <th>Most seen</th>
              <th className="number">Views</th>
              <th className="number">Visits begun</th>
              <th className="number">Left at once</th>
            </tr>
          </thead>
          <tbody>
            {figures.pages.map(({ id, title, views, visits: begun, bounced }) => (
              <tr key={id}>
                <td>
                  <Link href={`/site/${id}`}>{title}</Link>
                </td>
                <td className="number">{count(views)}</td>
                <td className="number">{count(begun)}</td>
                <td className="number">{shareWords(bounced, begun)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <Shares head="Came from" shares={figures.sources} all={visits} />
        <Shares head="On" shares={figures.devices} all={visits} />
      </div>
    </section>
  )
}

/** The same of one page, for the margin. */
export function PageFigures({ page }: { page: DocumentId }) {
  const figures = useAsk('site.figures', { document: page }).data
  if (figures === undefined) return null
  const visits = total(figures, 'visits')
  return (
    <Note title="Views, day by day">
      <DaysLine days={days(figures, 'views')} wide />
      <p className="quiet">
        {visits === 0
          ? 'No visit began here in the last 28 days.'
          : `${count(visits)} visits began here; ${shareWords(total(figures, 'bounced'), visits)} of them went no further.`}
      </p>
    </Note>
  )
}

type Count = 'visitors' | 'views' | 'visits' | 'bounced'
const days = (figures: SiteFigures, what: Count) => figures.days.map((day) => day[what])
const total = (figures: SiteFigures, what: Count) => days(figures, what).reduce((sum, times) => sum + times, 0)

function Figure({ name, value, days: of }: { name: string; value: string; days: readonly number[] }) {
  return (
    <p>
      <strong>{value}</strong> {name}
      <DaysLine days={of} />
    </p>
  )
}

function Shares({ head, shares, all }: { head: string; shares: SiteFigures['sources']; all: number }) {
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>{head}</th>
          <th className="number">Visits</th>
        </tr>
      </thead>
      <tbody>
        {shares.map(({ name, visits }) => (
          <tr key={name}>
            <td>{name}</td>
            <td className="number">{shareWords(visits, all)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
