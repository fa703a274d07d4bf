import type { TestId } from '../../ids'
import type { TestedPart } from '../design'
import { touches } from '../touches'
import { none, type ReadinessCheck, type ReadinessFacts } from './check'

interface Found {
  readonly code: 'testMeetsTest'
  readonly test: TestId
  readonly name: string
}

export const overlap: ReadinessCheck<Found> = {
  passed: 'No other running test touches this part',
  blocks: noOtherTest,
  advises: none,
  words: {
    testMeetsTest: (finding) => ({
      words: `“${finding.name}” is already testing this part. Both at once could not be told apart.`,
      settle: { label: 'Open that test', step: 'pauseOther', subject: finding.test },
    }),
  },
}

/** Two that change the same thing, or of which one takes away in some version what the other varies. */
function noOtherTest(facts: ReadinessFacts): Found[] {
  const key = ({ document, node }: TestedPart) => `${document} ${node}`
  const touched = new Set(touches(facts.design, facts.versions, facts.published).map(key))
  const hidden = new Set(facts.shown.hides)
  return facts.others
    .filter(({ test, touches: theirs }) => hidden.has(test) || theirs.some((part) => touched.has(key(part))))
    .map(({ test, name }): Found => ({ code: 'testMeetsTest', test, name }))
}
