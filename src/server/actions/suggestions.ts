import type { Knex } from 'knex'
import type { SuggestionView } from '@/contract/contract'
import { armsEver, bySegment, partsOf, suggestionsFrom } from '@/core/experiment'
import { isSameData } from '@/core/same-data'
import { titleOf } from '@/components/references'
import { draftsOf } from '../stores/documents'
import { segmentsOfRounds } from '../stores/results'
import { lastRounds, testId, testsWhere } from '../stores/tests'
import { allRules } from '../stores/versions'

/** So many of the latest tests are looked through. */
const MOST = 30

/**
 * Versions of tests that are over, for the visitors with whom they did better: where nobody has made a rule of it yet, and
 * everybody is not shown it already.
 */
export async function suggestionsNow(db: Knex): Promise<SuggestionView[]> {
  const tests = await testsWhere(
    db,
    (query) => void query.whereIn('status', ['ended', 'settled']).orderBy('number', 'desc').limit(MOST),
  )
  const simple = tests.filter(({ design }) => partsOf(design).length === 1 && design.primary !== null)
  const rounds = await lastRounds(
    db,
    simple.map(({ number }) => number),
  )
  const asked = simple.flatMap((test) => {
    const round = rounds.get(test.number)
    const goal = test.design.primary
    return round === undefined || goal === null ? [] : [{ test, round, goal }]
  })
  const [counts, rules, drafts] = await Promise.all([
    segmentsOfRounds(
      db,
      asked.map(({ round, goal }) => ({ round: round.snapshot.id, goal })),
    ),
    allRules(db),
    draftsOf(
      db,
      asked.map(({ test }) => test.document_id),
    ),
  ])
  return asked.flatMap(({ test, round, goal }) => {
    const { id, versions, goals } = round.snapshot
    const draft = drafts.get(test.document_id)
    if (draft === undefined) return []
    const arms = armsEver(round.epochs).map(({ version }) => version)
    return suggestionsFrom(bySegment(counts.get(id) ?? [], arms)).flatMap((found): SuggestionView[] => {
      const version = versions.find((one) => one.id === found.version)
      const isTaken = test.decision?.undone === false && test.decision.version === found.version
      if (version === undefined || isTaken) return []
      const isMade = rules.some((rule) => rule.node_id === test.design.node && isSameData(rule.edits, version.edits))
      if (isMade) return []
      return [
        {
          ...{ test: testId(test.number), name: test.name, goal: goals.find((one) => one.id === goal)?.name ?? 'the goal' },
          ...{ document: test.document_id, node: test.design.node, title: titleOf(draft) },
          ...{ version: version.id, versionName: version.name, condition: found.condition },
          ...{ here: found.here, elsewhere: found.elsewhere, visitors: found.visitors },
        },
      ]
    })
  })
}
