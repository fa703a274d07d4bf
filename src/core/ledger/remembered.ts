import { noUtm, stranger, type Device, type Moment, type Visitor } from '../decide'
import { devices } from '../decide'
import type { DocumentId, GoalId, RoundId, TestId, VersionId } from '../ids'
import type { VisitorState } from './visitor'

interface Around {
  readonly pageTypeOf: (page: DocumentId) => string | undefined
  readonly clockOf: (at: Date) => Moment
  /** `null` where it is no test’s. */
  readonly testOf: (round: RoundId) => TestId | null
}

/** Somebody as they were on their last visit, as far as counting remembers it; `null` where no visit is remembered. */
export function rememberedVisitor(state: VisitorState, { pageTypeOf, clockOf, testOf }: Around): Visitor | null {
  const { visit, presence, enrolments } = state
  if (visit === null) return null
  const seen = (pages: Iterable<string>) =>
    [...pages].map((page) => ({ page: page as DocumentId, pageType: pageTypeOf(page as DocumentId) ?? '' }))
  return {
    ...stranger,
    device: devices.find((device): device is Device => device === visit.device) ?? stranger.device,
    visits: visit.number,
    beginning: { source: visit.source ?? '', utm: { ...noUtm, ...visit.utm }, referrer: visit.referrer },
    language: visit.language,
    region: visit.region,
    moment: clockOf(new Date(visit.lastAt)),
    attributes: new Map(visit.attributes),
    goalsReached: [...presence.known].flatMap((subject) => (subject.startsWith('g:') ? [subject.slice(2) as GoalId] : [])),
    kept: new Map(
      [...enrolments].flatMap(([round, { version }]): [TestId, VersionId][] => {
        const test = testOf(round)
        return test === null ? [] : [[test, version]]
      }),
    ),
    pagesSeen: seen(visit.documents),
    // Subjects that are no pages have a mark before them, or stand for all.
    // In how many visits, and when, is not remembered.
    pagesEver: seen([...presence.known].filter((subject) => !subject.includes(':') && subject !== '*')).map((page) => ({
      ...page,
      ...{ visits: 1, daysAgo: 0 },
    })),
  }
}
