import type { TestView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { armName } from '@/core/experiment'
import type { Goal } from '@/core/goals'
import type { GoalId, VersionId } from '@/core/ids'
import { mishaps, type Mishap } from '@/core/simulate'
import { Choice } from '../controls/choices'
import { NumberField } from '../controls/fields'
import { VersionMark } from '../frame/marks'
import { mishapWords } from './many-times'

interface Props {
  readonly test: TestView
  /** Goals that have a rate of their own beside the one that decides. */
  readonly others: readonly Goal[]
  /** In hundredths. */
  readonly rateOf: (goal: GoalId | null, version: VersionId) => number
  readonly setRate: (goal: GoalId, version: VersionId, rate: number) => void
  readonly mishapOf: Readonly<Record<VersionId, Mishap>>
  readonly setMishap: (version: VersionId, mishap: Mishap) => void
}

/** What is true of each version, goal by goal, and what is the matter with it that nobody has noticed. */
export function TruthsTable({ test, others, rateOf, setRate, mishapOf, setMishap }: Props) {
  const { design, versions, goals } = test
  const primary = goals.find(({ id }) => id === design.primary)
  const nameOf = (version: VersionId) => armName(design, versions, version)
  return (
    <table className="truths">
      <caption>What is true of each version: of those who see it, so many reach the goal</caption>
      <thead>
        <tr>
          <td />
          {design.arms.map(({ version }, index) => (
            <th key={version} scope="col">
              <VersionMark index={index} /> {nameOf(version)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">
            {primary?.name ?? 'The goal that decides'} <span className="quiet">decides</span>
          </th>
          {design.arms.map(({ version }) => (
            <td key={version}>
              <NumberField
                aria-label={`True rate of ${nameOf(version)}`}
                value={rateOf(design.primary, version)}
                {...{ min: 0, max: 100, unit: '%' }}
                change={(rate) => design.primary !== null && setRate(design.primary, version, rate)}
              />
            </td>
          ))}
        </tr>
        {others.map(({ id, name }) => (
          <tr key={id}>
            <th scope="row">{name}</th>
            {design.arms.map(({ version }) => (
              <td key={version}>
                <NumberField
                  aria-label={`${name}, rate of ${nameOf(version)}`}
                  value={rateOf(id, version)}
                  {...{ min: 0, max: 100, unit: '%' }}
                  change={(rate) => setRate(id, version, rate)}
                />
              </td>
            ))}
          </tr>
        ))}
        <tr>
          <th scope="row">What nobody has noticed</th>
          {design.arms.map(({ version }) => (
            <td key={version}>
              {version === ORIGINAL ? (
                <span className="quiet">{mishapWords.none}</span>
              ) : (
                <Choice
                  size="small"
                  aria-label={`What is the matter with ${nameOf(version)}`}
                  value={mishapOf[version] ?? 'none'}
                  change={(mishap) => setMishap(version, mishap)}
                  options={mishaps.map((value) => ({ value, label: mishapWords[value] }))}
                />
              )}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  )
}
