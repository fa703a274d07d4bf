import * as z from 'zod'

/** The name of something reported by a script, a snippet or a server. */
export const eventNameSchema = z
  .string()
  .regex(/^[a-z][a-z0-9._-]{0,59}$/, 'an event’s name begins with a small letter and has small letters, digits, “.”, “_” and “-”')
