import { apply, changedBy, compare, placeOf, walk, type ContentDocument, type Edit } from '../document'
import { carriersOf, needOf, type Goal } from '../goals'
import type { NodeId } from '../ids'
import { partsOf, type Round } from './design'
import { routeOf } from './routes'

/** What publishing a document does to a test that rests on it. */
export const effects = ['partGone', 'variantUnfit', 'goalGone', 'originalChanged'] as const
export type Effect = (typeof effects)[number]

/** What can be done about it: the next round is opened, that part is left as it is for now, the test ends. */
export const outcomes = ['round', 'leave', 'end'] as const
export type Outcome = (typeof outcomes)[number]

/** Each effect with the ways out of it. A round can only be opened where every version still works. */
export const waysOut: { readonly [Of in Effect]: readonly Outcome[] } = {
  partGone: ['leave', 'end'],
  variantUnfit: ['leave', 'end'],
  goalGone: ['leave', 'end'],
  originalChanged: ['round', 'leave'],
}

export const effectWords: { readonly [Of in Effect]: string } = {
  partGone: 'The tested part would be gone, so the test could draw nobody any more.',
  variantUnfit: 'A variant would no longer fit: what it changes would be gone.',
  goalGone: 'What its goal counts on would be gone, so the goal could not be reached.',
  originalChanged: 'What visitors of the original see would be something else than what was measured so far.',
}

type Rested = Pick<Round, 'design' | 'versions' | 'goals'>

/** The components of a document that a test compares: its part with all in it, and what its versions change. */
export function comparedIn({ design, versions }: Rested, document: ContentDocument): Set<NodeId> {
  const found = new Set<NodeId>()
  const take = (node: NodeId) => {
    if (document.nodes[node] !== undefined) for (const inside of walk(document, node)) found.add(inside)
  }
  const mine = partsOf(design).filter((part) => part.document === document.id)
  const edits = versions.flatMap((version) => version.edits)
  for (const { node } of mine) {
    const wholePage = document.kind === 'page' && node === document.root
    // A whole page that is compared with another page is compared with all that is on it.
    if (!wholePage || versions.some((version) => routeOf(apply(document, version.edits).document) !== null)) take(node)
  }
  if (mine.length > 0)
    for (const edit of edits) {
      if (edit.kind === 'set') found.add(edit.node)
      else take(placeOf(edit))
    }
  return new Set([...found].filter((node) => document.nodes[node] !== undefined))
}

/** What a test counts on in a document. */
function countedIn(goals: readonly Goal[], document: ContentDocument): NodeId[] {
  return goals.flatMap((goal) => {
    const need = needOf(goal)
    if (need.kind === 'marker') return carriersOf(document, need.marker)
    return need.kind === 'component' && need.document === document.id && document.nodes[need.node] !== undefined
      ? [need.node]
      : []
  })
}

/** What becomes of a test when a document is published anew. */
export function effectsOn(test: Rested, before: ContentDocument, after: ContentDocument): Effect[] {
  const compared = comparedIn(test, before)
  const parts = partsOf(test.design).filter(({ document }) => document === before.id)
  const fits = (document: ContentDocument, edits: readonly Edit[]) => apply(document, edits).refused.length === 0
  const isOther = (node: NodeId) => JSON.stringify(before.nodes[node]) !== JSON.stringify(after.nodes[node])
  const found: { readonly [Of in Effect]: boolean } = {
    partGone: parts.some(({ node }) => after.nodes[node] === undefined),
    variantUnfit: parts.length > 0 && test.versions.some(({ edits }) => fits(before, edits) && !fits(after, edits)),
    goalGone: countedIn(test.goals, before).some((node) => after.nodes[node] === undefined) && !isCounted(test.goals, after),
    originalChanged: [...compared].some(isOther),
  }
  const grave = effects.filter((effect) => found[effect] && effect !== 'originalChanged')
  return grave.length > 0 || !found.originalChanged ? grave : ['originalChanged']
}

function isCounted(goals: readonly Goal[], document: ContentDocument): boolean {
  return countedIn(goals, document).length > 0
}

/** A document as it would be published, with what these tests compare and count on as it was before. */
export function leavingAsItIs(tests: readonly Rested[], before: ContentDocument, after: ContentDocument): ContentDocument {
  const kept = new Set(tests.flatMap((test) => [...comparedIn(test, before), ...countedIn(test.goals, before)]))
  const leaves = (edit: Edit) => !changedBy(before, edit).some((node) => kept.has(node))
  return apply(before, compare(before, after).filter(leaves)).document
}
