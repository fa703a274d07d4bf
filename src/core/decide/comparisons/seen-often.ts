import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { comparisonKind, numbered } from './comparison'

const MOST_VISITS = 50
const MOST_DAYS = 365

/** A page, or any page of a type: in so many visits, the last of them so many days ago at the most. */
const schema = z.object({
  kind: z.literal('seenOften'),
  what: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('page'), page: documentIdSchema }),
    z.object({ kind: z.literal('type'), pageType: z.string().min(1).max(60) }),
  ]),
  visits: z.number().int().min(1).max(MOST_VISITS),
  days: z.number().int().min(1).max(MOST_DAYS),
})
type What = z.infer<typeof schema>['what']

const valueOf = (what: What) => (what.kind === 'page' ? `page ${what.page}` : `type ${what.pageType}`)

export const seenOften = comparisonKind(schema, {
  label: 'looked at',
  sentence: (comparison, { pages, pageTypes }) => {
    const options: readonly { readonly what: What; readonly label: string }[] = [
      ...pageTypes.map((pageType) => ({ what: { kind: 'type' as const, pageType }, label: `any page of type ${pageType}` })),
      ...pages.map(({ id, title }) => ({ what: { kind: 'page' as const, page: id }, label: `“${title}”` })),
    ]
    const value = valueOf(comparison.what)
    const named = options.map(({ what, label }) => ({ value: valueOf(what), label }))
    const gone = {
      value,
      label: comparison.what.kind === 'page' ? 'a page that is gone' : `any page of type ${comparison.what.pageType}`,
    }
    return [
      {
        control: 'choice',
        label: 'Page or page type',
        value,
        options: named.some((one) => one.value === value) ? named : [...named, gone],
        put: (to) => {
          const found = options.find(({ what }) => valueOf(what) === to)
          return found === undefined ? null : { ...comparison, what: found.what }
        },
      },
      'in at least',
      numbered('In how many visits', comparison.visits, { least: 1, most: MOST_VISITS }, (visits) => ({ ...comparison, visits })),
      comparison.visits === 1 ? 'visit, at most' : 'visits, the last of them at most',
      numbered('Within how many days', comparison.days, { least: 1, most: MOST_DAYS }, (days) => ({ ...comparison, days })),
      comparison.days === 1 ? 'day ago' : 'days ago',
    ]
  },
  holds: ({ what, visits, days }, { pagesEver }) => {
    let times = 0
    let last = Infinity
    for (const seen of pagesEver) {
      if (what.kind === 'page' ? seen.page !== what.page : seen.pageType !== what.pageType) continue
      times += seen.visits
      last = Math.min(last, seen.daysAgo)
    }
    return times >= visits && last <= days
  },
  begins: ({ pages: [page], pageTypes: [pageType] }) => {
    const what: What | null =
      pageType !== undefined ? { kind: 'type', pageType } : page !== undefined ? { kind: 'page', page: page.id } : null
    return what === null ? null : { kind: 'seenOften', what, visits: 2, days: 30 }
  },
  remembered: false,
})
