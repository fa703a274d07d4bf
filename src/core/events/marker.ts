import * as z from 'zod'

/** A name that several components carry, so that a press on any of them is one goal. */
export const markerSchema = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'a marker has small letters, digits and “-”, 1 to 40')
