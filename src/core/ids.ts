import * as z from 'zod'
import { NOT_INHERITED } from './own'

declare const kindOfId: unique symbol

/** A string known to name one `Kind` of thing. At run time it is only the string. */
export type Id<Kind extends string> = string & { readonly [kindOfId]: Kind }

export type DocumentId = Id<'document'>
export type NodeId = Id<'node'>
export type VersionId = Id<'version'>
export type TestId = Id<'test'>
export type RoundId = Id<'round'>
export type GoalId = Id<'goal'>
export type AccountId = Id<'account'>
export type SegmentId = Id<'segment'>

/** Short, lower-case, safe in an attribute, an address and a cookie without escaping. */
export const idText = z
  .string()
  .regex(/^[a-z0-9][a-z0-9-]{0,39}$/, 'an id has 1 to 40 of a–z, 0–9 and “-”')
  .regex(NOT_INHERITED, 'this word cannot be an id; choose another')

/** In the schemas at the border: the one place where text from outside becomes an id. */
function idSchema<Kind extends string>() {
  return idText.transform((text) => text as Id<Kind>)
}

export const documentIdSchema = idSchema<'document'>()
export const nodeIdSchema = idSchema<'node'>()
export const versionIdSchema = idSchema<'version'>()
export const testIdSchema = idSchema<'test'>()
export const roundIdSchema = idSchema<'round'>()
export const goalIdSchema = idSchema<'goal'>()
export const accountIdSchema = idSchema<'account'>()
export const segmentIdSchema = idSchema<'segment'>()
