'use client'

import Link from 'next/link'
import type { TestLine } from '@/contract/contract'
import { readingWords, waitingWords } from '@/core/experiment'
import { EvidenceLine } from '../results/evidence-line'
import { clockWords, dayWords, plural } from '../frame/wording'

/** A test in a line: what it says now, and how far it is. */
export function TestRow({ line }: { line: TestLine }) {
  return (
    <article className="test-row">
      <div>
        <h3>
          <Link href={`/tests/${line.id}`}>{line.name}</Link>
          {line.status === 'running' ? <span className="living">live</span> : null}
        </h3>
        {line.news === null ? null : <p>{line.news.words}</p>}
        {line.drawsNobody === null ? null : <p className="fault">{line.drawsNobody}</p>}
        <p>{line.sentence ?? draftWords(line)}</p>
        <p className="quiet">
          {line.page} · {line.goal ?? 'no goal yet'}
          {line.startedAt === null ? '' : ` · since ${dayWords(line.startedAt)} · ${plural(line.exposed, 'visitor', 'visitors')}`}
          {line.status === 'paused' ? ' · paused' : ''}
          {line.status === 'scheduled' && line.schedule.start !== null ? ` · starts ${clockWords(line.schedule.start)}` : ''}
          {line.status === 'running' && line.schedule.end !== null ? ` · ends ${clockWords(line.schedule.end)}` : ''}
        </p>
      </div>
      <div className="test-row-end">
        {line.reading === null ? null : <span className={`reading ${line.reading}`}>{readingWords[line.reading]}</span>}
        {line.evidence.length > 1 ? <EvidenceLine points={line.evidence} /> : null}
        {line.reading === 'tooEarly' && line.status === 'running' ? (
          <span className="quiet">{waitingWords(line.waiting)}</span>
        ) : null}
      </div>
    </article>
  )
}

function draftWords({ readiness, problem }: TestLine): string {
  const state =
    readiness === null || readiness.blocks === 0
      ? 'Ready to start.'
      : `${plural(readiness.blocks, 'thing is', 'things are')} in the way of a start.`
  return problem === '' ? state : `${problem} ${state}`
}
