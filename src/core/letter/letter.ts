import * as z from 'zod'
import { documentIdSchema, type DocumentId } from '../ids'

/** A part of a newsletter, from top to bottom. */
export const blockSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('title'), words: z.string().max(200) }),
  /** Rich text, cleaned like that of a page. */
  z.object({ kind: z.literal('words'), html: z.string().max(20_000) }),
  z.object({ kind: z.literal('picture'), picture: z.string().max(60) }),
  z.object({ kind: z.literal('call'), call: documentIdSchema }),
])
export type Block = z.infer<typeof blockSchema>

export const letterSchema = z.object({
  subject: z.string().trim().min(1, 'give it a subject').max(160),
  /** What mail programs show beside the subject. */
  opening: z.string().max(200).default(''),
  campaign: z.string().max(120).default(''),
  blocks: z.array(blockSchema).max(40),
})
export type Letter = Readonly<z.infer<typeof letterSchema>>

/** The calls to action in it, each once, in their order. */
export function callsIn({ blocks }: Letter): DocumentId[] {
  return [...new Set(blocks.flatMap((block) => (block.kind === 'call' ? [block.call] : [])))]
}
