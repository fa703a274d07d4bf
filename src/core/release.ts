import * as z from 'zod'
import { conditionSchema } from './decide'
import { documentSchema } from './document'
import { roundSchema, versionSchema } from './experiment'
import { goalSchema } from './goals'
import { documentIdSchema, nodeIdSchema } from './ids'

/** A part with versions by rule, as published: the first rule that matches wins, the original comes last. */
export const personalizationSchema = z.object({
  id: z.string().min(1).max(90),
  document: documentIdSchema,
  node: nodeIdSchema,
  rules: z.array(z.object({ version: versionSchema, condition: conditionSchema })).max(50),
  holdout: z.number().int().min(0).max(10_000),
})
export type Personalization = Readonly<z.infer<typeof personalizationSchema>>

/** An immutable, numbered snapshot of all that the site serves. */
export const releaseSchema = z.object({
  documents: z.array(documentSchema),
  rounds: z.array(roundSchema.extend({ paused: z.boolean() })),
  personalizations: z.array(personalizationSchema),
  goals: z.array(goalSchema),
  /** Seconds after which a visit to one page is no bounce. */
  bounceSeconds: z.number().int().min(1).max(600).default(5),
  currency: z.string().default('EUR'),
  /** Who may report from elsewhere: an origin with the SHA-256 of its key. */
  reporters: z.array(z.object({ id: z.string(), origin: z.string(), hash: z.string() })).default([]),
  /** Addresses that pages had before, and the page that answers there now. */
  redirects: z.array(z.object({ from: z.string(), document: documentIdSchema })).default([]),
  /** Whether scripts that variants bring may run. */
  scripts: z.boolean().default(false),
})
export type Release = Readonly<z.infer<typeof releaseSchema>>
