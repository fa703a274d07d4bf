import * as z from 'zod'
import { asks, edits, listOf, nothing, paging, placeLine, when } from './action'

export const mediaLine = z.object({
  name: z.string(),
  title: z.string(),
  alt: z.string(),
  type: z.string(),
  width: z.number(),
  height: z.number(),
  size: z.number(),
  at: when,
  by: z.string(),
  places: z.array(placeLine),
})
export type MediaLine = z.infer<typeof mediaLine>

/** The name of a file in the media library, made from what is in it. */
export const mediaName = z.string().regex(/^m-[0-9a-f]{32}$/, 'the name of a file in the library')

export const libraryActions = {
  'media.list': asks(z.object({ ...paging, kind: z.enum(['image', 'video', 'all']).default('all') }), listOf(mediaLine)),
  'media.save': edits(z.object({ name: mediaName, title: z.string().max(200), alt: z.string().max(500) }), nothing),
  'campaign.list': asks(
    nothing,
    z.object({ campaigns: z.array(z.object({ name: z.string(), tests: z.number(), documents: z.number() })) }),
  ),
  'campaign.create': edits(z.object({ name: z.string().trim().min(1, 'give the campaign a name').max(120) }), nothing),
  'campaign.remove': edits(z.object({ name: z.string().max(120) }), nothing),
}
