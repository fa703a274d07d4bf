import { audience } from './audience'
import { destination } from './destination'
import { difference } from './difference'
import { goal } from './goal'
import { links } from './links'
import { overlap } from './overlap'
import { page } from './page'
import { part } from './part'
import { question } from './question'
import { route } from './route'
import { schedule } from './schedule'
import { script } from './script'
import { split } from './split'
import { time } from './time'
import { variants } from './variants'
import type { ReadinessCheck, ReadinessFacts, Said } from './check'
import type { Names } from '../names'

export type { ReadinessFacts, Settling } from './check'

/** Every check, in the order in which they are read. A check is a file, and a line here. */
const checks = {
  variants,
  part,
  route,
  page,
  links,
  goal,
  audience,
  split,
  overlap,
  schedule,
  script,
  difference,
  destination,
  question,
  time,
}

type Checks = typeof checks
export type Check = keyof Checks

export const allChecks = Object.keys(checks) as readonly Check[]

/** What was found, by code and subject; the sentence and the step that settles it are made where it is read. */
export type Finding = ReturnType<Checks[Check]['blocks']>[number]

export interface Readiness {
  /** Each of these must be settled before a start. */
  readonly blocks: readonly Finding[]
  /** Each of these may be left, at a price. */
  readonly advises: readonly Finding[]
  /** What was looked at and found in order. */
  readonly passed: readonly Check[]
}

/** Everything that commonly goes wrong with a test before it starts. */
export function readiness(facts: ReadinessFacts): Readiness {
  const found = allChecks.map((check) => ({
    check,
    blocks: checks[check].blocks(facts),
    advises: checks[check].advises(facts),
  }))
  return {
    blocks: found.flatMap(({ blocks }): readonly Finding[] => blocks),
    advises: found.flatMap(({ advises }): readonly Finding[] => advises),
    passed: found.filter(({ blocks, advises }) => blocks.length + advises.length === 0).map(({ check }) => check),
  }
}

export function passedWords(check: Check): string {
  return checks[check].passed
}

export function findingWords(finding: Finding, names: Names): Said {
  for (const { words } of Object.values(checks) as readonly ReadinessCheck<Finding>[])
    // Each check has words for its own findings alone, and all of those; see `ReadinessCheck`.
    if (Object.hasOwn(words, finding.code))
      return (words[finding.code] as (finding: Finding, names: Names) => Said)(finding, names)
  throw new RangeError(`nothing says “${finding.code}”`)
}
