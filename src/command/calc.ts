import { createInterface } from 'node:readline'
import type { Readable, Writable } from 'node:stream'
import * as z from 'zod'
import { families } from '@/core/stats/families'

/** More than this no case of any family has. */
const LONGEST_LINE = 20_000_000

interface Streams {
  readonly input: Readable
  readonly output: Writable
  readonly faults: Writable
}

/**
 * Computes by one family of the statistics: a JSON object a line in, one a line out, in the same order. A bad line gets its
 * number and what is wrong with it, and the others go on.
 *
 * @returns the exit status: 0, 1 where some line was bad, 2 where there is no such family
 */
export async function calc(family: string | undefined, { input, output, faults }: Streams): Promise<0 | 1 | 2> {
  const compute = family !== undefined && Object.hasOwn(families, family) ? families[family] : undefined
  if (compute === undefined) {
    faults.write(`There is no family “${family ?? ''}”. These are: ${Object.keys(families).join(', ')}.\n`)
    return 2
  }
  let number = 0
  let status: 0 | 1 = 0
  for await (const line of createInterface({ input, crlfDelay: Infinity })) {
    number++
    if (line.trim() === '') continue
    try {
      if (line.length > LONGEST_LINE) throw new RangeError('it is too long')
      output.write(`${JSON.stringify(compute(JSON.parse(line)), asWritten)}\n`)
    } catch (reason) {
      status = 1
      faults.write(`Line ${number}: ${faultWords(reason)}\n`)
    }
  }
  return status
}

/** JSON has no word for what is unbounded. */
function asWritten(_: string, value: unknown): unknown {
  if (typeof value !== 'number' || Number.isFinite(value)) return value
  return Number.isNaN(value) ? null : value > 0 ? 'Infinity' : '-Infinity'
}

function faultWords(reason: unknown): string {
  if (reason instanceof z.ZodError) {
    const [issue] = reason.issues
    return `${issue?.path.map(String).join(' › ') || 'the whole'}: ${issue?.message ?? 'not understood'}.`
  }
  return reason instanceof Error ? reason.message : String(reason)
}
