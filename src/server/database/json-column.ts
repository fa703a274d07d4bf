import * as z from 'zod'

/** A JSON column through the schema of what it holds. The driver gives objects or their text, as the server's version has it. */
export function jsonColumn<Of extends z.ZodType>(of: Of) {
  return z.preprocess((value, context): unknown => {
    if (typeof value !== 'string') return value
    try {
      return JSON.parse(value)
    } catch {
      context.addIssue({ code: 'custom', message: 'the column does not hold JSON' })
      return z.NEVER
    }
  }, of)
}
