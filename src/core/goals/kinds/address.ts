import * as z from 'zod'
import { LONGEST_ADDRESS } from '../../page-address'
import { goalKind } from './kind'
import { pageShown } from './page-shown'

export const addressText = z.string().trim().normalize().min(1, 'give the address').max(LONGEST_ADDRESS)

const words = { is: 'is', startsWith: 'starts with', contains: 'contains' } as const

const schema = z.object({ kind: z.literal('address'), by: z.enum(['is', 'startsWith', 'contains']), text: addressText })

/** A page by its address. */
export const address = goalKind(schema, {
  label: 'A page with a certain address is shown',
  words: ({ by, text }) => `a page is shown whose address ${words[by]} “${text}”`,
  reaches: (wiring, event) => event.kind === 'page' && fits(event.path, wiring),
  doing: ({ text }, at) => [{ ...pageShown(at), path: text }],
  needs: (wiring) => ({
    kind: 'somePage',
    fits: ({ path }) => fits(path, wiring),
    lack: 'No published page has such an address.',
  }),
  toldByPage: true,
  reported: false,
  begins: () => ({ kind: 'address', by: 'startsWith' as const, text: '/' }),
})

function fits(path: string, { by, text }: { readonly by: keyof typeof words; readonly text: string }): boolean {
  if (by === 'is') return path === text
  return by === 'startsWith' ? path.startsWith(text) : path.includes(text)
}
