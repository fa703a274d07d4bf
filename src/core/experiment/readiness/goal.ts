import { libraryOf } from '../../goals'
import { goalsOf } from '../design'
import { unreachable, type Unreachable } from '../reachable'
import { openPage, type ReadinessCheck, type ReadinessFacts } from './check'

type Found = { readonly code: 'noGoal' } | Unreachable

export const goal: ReadinessCheck<Found> = {
  passed: 'The goal can be reached from every version',
  blocks: goalIsReachable,
  advises: othersReachable,
  words: {
    noGoal: () => ({
      words: 'Nothing says what counts as success. Choose a goal.',
      settle: { label: 'Choose a goal', step: 'chooseGoal', subject: null },
    }),
    goalUnpublished: (finding, names) => ({
      words: `“${names.goal(finding.goal)}” counts on “${names.page(finding.document)}”, which is not published: it could never be reached.`,
      settle: { label: 'Publish that page', step: 'publishPage', subject: finding.document },
    }),
    goalGone: (finding, names) => ({
      words: `“${names.goal(finding.goal)}” cannot be reached from ‘${names.version(finding.version)}’: its component is not there. Choose another goal, or bring the component back.`,
      settle: { label: 'Choose another goal', step: 'chooseGoal', subject: null },
    }),
    goalDead: (finding, names) => ({
      words: `“${names.goal(finding.goal)}” cannot be reached from ‘${names.version(finding.version)}’: its component is there, but nothing of it can be ${finding.doing}.`,
      settle: openPage,
    }),
    markerInVariantsOnly: (finding, names) => ({
      words: `“${names.goal(finding.goal)}” counts presses on whatever carries the marker “${finding.marker}”, and only the original has nothing with it that can be pressed: it could not win. Give its component the marker.`,
      settle: openPage,
    }),
    goalNoWay: (finding, names) => ({
      words: `“${names.goal(finding.goal)}” counts on a page to which the original leads, by a link or a form, and ‘${names.version(finding.version)}’ does not: it could not win. Bring what leads there back, or choose another goal.`,
      settle: openPage,
    }),
    goalNowhere: (finding, names) => ({
      words: `“${names.goal(finding.goal)}” is not wired to anything that is published: it could never be reached.`,
      settle: { label: 'Wire the goal', step: 'openGoal', subject: finding.goal },
    }),
    markerGone: (finding, names) => ({
      words: `“${names.goal(finding.goal)}” counts presses on whatever carries the marker “${finding.marker}”, and nothing in ‘${names.version(finding.version)}’ that can be pressed carries it: the variant could not win. Give its component the marker.`,
      settle: { label: 'Put the marker on', step: 'putMarker', subject: `${finding.marker} ${finding.version}` },
    }),
  },
}

function goalIsReachable(facts: ReadinessFacts): Found[] {
  const library = libraryOf(facts.goals)
  const goal = facts.design.primary === null ? undefined : library.get(facts.design.primary)
  return goal === undefined ? [{ code: 'noGoal' }] : unreachable(goal, { ...facts, library })
}

/** A goal that is watched or guards, and could never be reached, says nothing. */
function othersReachable(facts: ReadinessFacts): Found[] {
  const library = libraryOf(facts.goals)
  return goalsOf(facts.design)
    .filter((id) => id !== facts.design.primary)
    .flatMap((id) => {
      const goal = library.get(id)
      return goal === undefined ? [] : unreachable(goal, { ...facts, library }).slice(0, 1)
    })
}
