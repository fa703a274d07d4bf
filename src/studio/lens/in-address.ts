import { isSameData } from '@/core/same-data'
import { madeUpSchema, type MadeUp } from '@/core/lens'

/** What of a visitor is not as it is without saying, as one word of an address. */
export function inAddress(visitor: MadeUp, usual: MadeUp): string {
  const said = Object.entries(visitor).filter(([name, value]) => !isSameData(value, usual[name as keyof MadeUp]))
  return said.length === 0 ? '' : JSON.stringify(Object.fromEntries(said))
}

/** @returns the usual visitor where the address says nothing that can be read */
export function fromAddress(words: string, usual: MadeUp): MadeUp {
  try {
    const read = madeUpSchema.safeParse({ ...usual, ...(words === '' ? {} : (JSON.parse(words) as object)) })
    return read.success ? read.data : usual
  } catch {
    return usual
  }
}
