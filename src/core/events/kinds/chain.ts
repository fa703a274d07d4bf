import * as z from 'zod'
import { nodeIdSchema } from '../../ids'

const LETTERS = 500

/** From the inside out; what does not fit is the farthest out. */
export function chained(nodes: readonly string[]): string {
  const text = nodes.join(' ')
  return text.length <= LETTERS ? text : text.slice(0, text.lastIndexOf(' ', LETTERS))
}

export const chainSchema = z.string().transform((text) =>
  text
    .split(' ')
    .filter(Boolean)
    .map((node) => nodeIdSchema.parse(node)),
)
