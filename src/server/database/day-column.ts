import * as z from 'zod'

/** A DATE: a day and no moment, whatever clock somebody has; the driver gives it as its midnight in UTC. */
export const dayColumn = z.date().transform((midnight) => midnight.toISOString().slice(0, 10))
