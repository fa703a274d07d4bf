import * as z from 'zod'
import { addressText } from './address'
import { goalKind, nothing } from './kind'

const words = { host: 'leads to', is: 'is', startsWith: 'starts with' } as const

const schema = z.object({ kind: z.literal('outbound'), by: z.enum(['host', 'is', 'startsWith']), text: addressText })

/** A link to elsewhere is followed. */
export const outbound = goalKind(schema, {
  label: 'A link to elsewhere is followed',
  words: ({ by, text }) => `a link is followed that ${words[by]} “${text}”`,
  reaches: (wiring, event) => event.kind === 'outbound' && leadsTo(event.address, wiring),
  doing: ({ by, text }, { document }) => [{ kind: 'outbound', document, address: by === 'host' ? `https://${text}/` : text }],
  needs: () => nothing,
  toldByPage: true,
  reported: false,
  begins: () => ({ kind: 'outbound', by: 'host' as const, text: 'example.org' }),
})

/** A host also stands for what is below it: “example.org” for “www.example.org”. */
function leadsTo(address: string, { by, text }: { readonly by: keyof typeof words; readonly text: string }): boolean {
  if (by === 'is') return address === text
  if (by === 'startsWith') return address.startsWith(text)
  const host = /^https?:\/\/([^/?#:]+)/.exec(address)?.[1]?.toLowerCase()
  const wanted = text.toLowerCase()
  return host !== undefined && (host === wanted || host.endsWith(`.${wanted}`))
}
