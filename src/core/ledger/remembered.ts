import { stranger, type Device, type Moment, type Visitor } from '../decide'
import { devices } from '../decide'
import type { DocumentId } from '../ids'
import type { VisitorState } from './visitor'

interface Around {
  readonly pageTypeOf: (page: DocumentId) => string | undefined
  readonly clockOf: (at: Date) => Moment
}

/**
 * Somebody as they were on their last visit, as far as counting remembers it: not by which marks of an address they came,
 * nor from which site. `null` where no visit is remembered.
 */
export function rememberedVisitor({ visit, presence }: VisitorState, { pageTypeOf, clockOf }: Around): Visitor | null {
  if (visit === null) return null
  const seen = (pages: Iterable<string>) =>
    [...pages].map((page) => ({ page: page as DocumentId, pageType: pageTypeOf(page as DocumentId) ?? '' }))
  return {
    ...stranger,
    device: devices.find((device): device is Device => device === visit.device) ?? stranger.device,
    visits: visit.number,
    beginning: { ...stranger.beginning, source: visit.source ?? '' },
    language: visit.language,
    region: visit.region,
    moment: clockOf(new Date(visit.lastAt)),
    pagesSeen: seen(visit.documents),
    // Subjects that are no pages have a mark before them, or stand for all.
    // In how many visits, and when, is not remembered.
    pagesEver: seen([...presence.known].filter((subject) => !subject.includes(':') && subject !== '*')).map((page) => ({
      ...page,
      ...{ visits: 1, daysAgo: 0 },
    })),
  }
}
