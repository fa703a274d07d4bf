'use client'

import { OneUnder } from '../controls/choices'
import { useState } from 'react'
import type { TouchedTest } from '@/contract/contract'
import type { Outcome } from '@/core/experiment'
import type { TestId } from '@/core/ids'

/** What was chosen for each test; changed in place while the dialog is open. */
type Chosen = Map<TestId, Outcome>

const outcomeWords: { readonly [Of in Outcome]: string } = {
  round: 'Publish it, and open the next round of the test: what was counted so far stays on record, and counting begins anew.',
  leave: 'Leave that part as it is for now, and publish the rest. The change stays in the draft.',
  end: 'Publish it, and end the test: everybody sees the original.',
}

/** Where nothing would be lost, that comes first. */
export function usualOutcomes(tests: readonly TouchedTest[]): Chosen {
  return new Map(tests.flatMap(({ test, ways: [first] }) => (first === undefined ? [] : [[test, first]])))
}

export function outcomesOf(chosen: Chosen): { test: TestId; outcome: Outcome }[] {
  return [...chosen].map(([test, outcome]) => ({ test, outcome }))
}

/** In the publish dialog: the tests that rest on what is published, what it does to each, and what can be chosen. */
export function TouchedTests({ tests, chosen }: { tests: readonly TouchedTest[]; chosen: Chosen }) {
  return tests.map((test) => <Touched key={test.test} touched={test} chosen={chosen} />)
}

function Touched({ touched: { test, name, words, ways }, chosen }: { touched: TouchedTest; chosen: Chosen }) {
  const [outcome, setOutcome] = useState(chosen.get(test))
  return (
    <section className="touched" aria-label={`The test “${name}”`}>
      <h3>The test “{name}” rests on this</h3>
      <p>{words.join(' ')}</p>
      {outcome === undefined ? null : (
        <OneUnder
          aria-label={`What happens to “${name}”`}
          value={outcome}
          options={ways.map((way) => ({ value: way, label: outcomeWords[way] }))}
          change={(next) => {
            chosen.set(test, next)
            setOutcome(next)
          }}
        />
      )}
    </section>
  )
}
