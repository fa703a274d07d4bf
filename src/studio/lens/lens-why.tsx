'use client'

import Link from 'next/link'
import type { LensPart } from '@/contract/contract'
import { isForEverybody, ORIGINAL, WHOLE, type Surroundings, type Visitor } from '@/core/decide'
import { explained, otherwiseWords, toGetRule, type Explained } from '@/core/lens'
import { percent } from '@/core/numbers'

/** Of every part that varies on the page: what is shown, why, and what would have to be otherwise to get something else. */
export function LensWhy({
  parts,
  visitor,
  site,
  light,
}: {
  parts: readonly LensPart[]
  visitor: Visitor
  site: Surroundings
  light: (node: string | null) => void
}) {
  if (parts.length === 0) return <p className="quiet">Nothing varies on this page: everybody gets the same.</p>
  return parts.map((part) => (
    <section
      key={`${part.key} ${part.node}`}
      className="lens-part"
      onMouseEnter={() => light(part.node)}
      onMouseLeave={() => light(null)}
    >
      <h3>
        <button type="button" className="plain" onFocus={() => light(part.node)} onBlur={() => light(null)}>
          {part.part}
        </button>
      </h3>
      <p>
        Shown: <strong>{part.versionName === 'Original' ? 'the original' : `‘${part.versionName}’`}</strong>,{' '}
        {part.test === null ? 'by rule' : 'by chance'}.
      </p>
      {part.test === null ? (
        <Rules part={part} visitor={visitor} site={site} />
      ) : (
        <Chance part={part} test={part.test} visitor={visitor} site={site} />
      )}
    </section>
  ))
}

interface Of {
  readonly part: LensPart
  readonly visitor: Visitor
  readonly site: Surroundings
}

function Rules({ part, visitor, site }: Of) {
  const { rules, reason, holdout } = part
  const asks = rules.map((rule) => rule.asks)
  return (
    <>
      {reason.code === 'heldOut' ? (
        <p className="asks">
          ‘{rules[reason.rule ?? 0]?.name}’ fits them, but they are among the {percent(holdout / WHOLE)} who are held out to find
          out what it gains. Try another person.
        </p>
      ) : null}
      <ol>
        {rules.map(({ version, name, asks: condition }, place) => {
          const isShown = reason.rule === place && reason.code === 'ruleMatched'
          const isPassed = reason.rule !== null && place > reason.rule
          const changes = isShown || reason.code === 'heldOut' ? null : toGetRule(asks, place, visitor)
          return (
            <li key={version}>
              ‘{name}’ {isPassed ? <span className="quiet">is not asked: the rule above fits</span> : null}
              {isPassed ? null : <Tree of={explained(condition, visitor, site)} />}
              {changes === null || changes.length === 0 ? null : (
                <p className="quiet">To get it: {otherwiseWords(changes, site)}.</p>
              )}
            </li>
          )
        })}
      </ol>
    </>
  )
}

function Chance({ part, test, visitor, site }: Of & { test: NonNullable<LensPart['test']> }) {
  const { code } = part.reason
  return (
    <>
      <p>
        <Link href={`/tests/${test.id}`} prefetch={false}>
          {test.name}
        </Link>
      </p>
      <p>{chanceWords(code, part.version === ORIGINAL, test.share)}</p>
      {isForEverybody(test.asks) ? null : <Tree of={explained(test.asks, visitor, site)} />}
    </>
  )
}

function chanceWords(code: LensPart['reason']['code'], isOriginal: boolean, share: number): string {
  switch (code) {
    case 'drawn':
      return `They take part, and chance gave them ${isOriginal ? 'the original' : 'this'}. Another person may get something else.`
    case 'kept':
      return 'They were given this before, and keep it.'
    case 'outsideShare':
      return `They are not among the ${percent(share / WHOLE)} who take part. Another person may be.`
    case 'otherAudience':
      return 'The test is not for them:'
    case 'paused':
      return 'The test is paused: everybody sees the original.'
    default:
      return 'They do not take part.'
  }
}

/** A condition with a mark at each part of it. */
function Tree({ of }: { of: Explained }) {
  return (
    <div className="why">
      <span className={of.holds ? 'holds' : 'fails'}>
        <span aria-hidden="true">{of.holds ? '✓' : '✗'}</span> {of.words}
        <span className="off-screen">{of.holds ? ' (true)' : ' (false)'}</span>
      </span>
      {of.of.length === 0 ? null : (
        <ul>
          {of.of.map((one, at) => (
            <li key={at}>
              <Tree of={one} />
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
