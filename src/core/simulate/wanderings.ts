import type { Device } from '../decide'
import type { Happening } from '../events'
import type { DocumentId, NodeId } from '../ids'
import { normalQuantile } from '../stats'
import { lotsOf, pick, type SimulatedVisitor } from './visitors'

/** A page with what there is to press on it and where it leads, most wanted first. */
export interface Surroundings {
  readonly page: DocumentId
  readonly presses: readonly { readonly node: NodeId; readonly markers: readonly string[] }[]
  readonly next: readonly DocumentId[]
  /** What is read by those who take their time. */
  readonly reads: NodeId
  /** How many times as long this version takes to be painted. */
  readonly slower: number
}

/** Half of all pages are painted within so many milliseconds. */
const paints: { readonly [Of in Device]: number } = { phone: 1900, tablet: 1500, computer: 950 }
const responses: { readonly [Of in Device]: number } = { phone: 130, tablet: 110, computer: 56 }
/** Whoever is let wander does so once in these. */
const [PRESSES, READS, GOES_ON] = [0.55, 0.6, 0.4]
const SPREAD = 0.45

/**
 * What a simulated visitor does besides what the test is about: presses here and there, goes on to another page, and tells
 * how fast it was. The same for the same visitor.
 *
 * @returns in their order, with the milliseconds since they arrived
 */
export function wanderings(
  { id, device }: SimulatedVisitor,
  { page, presses, next, reads, slower }: Surroundings,
): { readonly after: number; readonly happening: Happening }[] {
  const lots = lotsOf(parseInt(id.slice(0, 8), 16) | 0)
  const around = (middle: number) =>
    Math.round(middle * Math.exp(SPREAD * normalQuantile(Math.min(0.999, Math.max(0.001, lots())))))
  const found: { after: number; happening: Happening }[] = []
  const wanted = <Of>(of: readonly Of[]) =>
    pick(
      of.map((one, place) => [one, 1 / (1 + place)] as const),
      lots(),
    )
  for (let step = 0; presses.length > 0 && step < 3 && lots() < PRESSES; step++) {
    const [x, y] = [tenth(lots() + lots()), tenth(lots() + lots())]
    const { node, markers } = wanted(presses)
    const happening: Happening = { kind: 'click', document: page, nodes: [node], markers: [...markers], spot: [x, y] }
    found.push({ after: 5000 + step * 4000, happening })
  }
  if (lots() < READS) found.push({ after: 18_000, happening: { kind: 'read', document: page, node: reads } })
  const speed = {
    ...{ kind: 'speed' as const, document: page },
    paint: around(paints[device] * slower),
    response: found.every(({ happening }) => happening.kind !== 'click') ? null : around(responses[device]),
    shift: Math.round(around(30)) / 1000,
  }
  found.push({ after: 19_000, happening: speed })
  if (next.length > 0 && lots() < GOES_ON)
    found.push({ after: 20_000, happening: { kind: 'page', document: wanted(next), path: '', pageType: '', arrival: null } })
  return found
}

/** Of a number from 0 to 2, that is most often about 1: in the middle of what is pressed. */
const tenth = (lot: number) => Math.min(9, Math.floor(lot * 5))
