import * as z from 'zod'

/**
 * A map as it is kept: its keys and its values in lists, so that no name of a property can mean something else. An empty
 * one is left out: of most visitors most are.
 */
export function mapOf<Key extends z.ZodType<string>, Value extends z.ZodType>(key: Key, value: Value) {
  type Known = Map<z.output<Key>, z.output<Value>>
  return z.codec(
    z.object({ k: z.array(key), v: z.array(value) }).optional(),
    z.custom<Known>((known) => known instanceof Map),
    {
      decode: (kept): Known => new Map((kept?.k ?? []).map((one, index) => [one, kept?.v[index] as z.output<Value>])),
      encode: (known) => (known.size === 0 ? undefined : { k: [...known.keys()], v: [...known.values()] }),
    },
  )
}

/** A set as it is kept; an empty one is left out. */
export const textsSchema = z.codec(z.array(z.string()).optional(), z.set(z.string()), {
  decode: (texts) => new Set(texts),
  encode: (texts) => (texts.size === 0 ? undefined : [...texts]),
})

/** An id as it is kept. It was checked when it came in; one of a step of a funnel is a little longer than a goal’s own. */
export function kept<Id extends string>() {
  return z.custom<Id>((id) => typeof id === 'string')
}

/**
 * What `z.encode` makes of maps, sets and objects under these codecs, as JSON, without a look at each part and without making
 * it first: states are made by folding alone, and this is most of what writing them costs.
 *
 * @returns `undefined` for what is left out
 * @throws where a number is none, which could never be read again
 */
export function keptText(of: unknown): string | undefined {
  if (typeof of === 'string') return quoted(of)
  if (typeof of === 'number') {
    if (!Number.isFinite(of)) throw new Error('what is remembered of a visitor holds a number that is none')
    return `${of}`
  }
  if (typeof of !== 'object') return of === undefined ? undefined : String(of)
  if (of === null) return 'null'
  if (of instanceof Map) return of.size === 0 ? undefined : `{"k":${listText(of.keys())},"v":${listText(of.values())}}`
  if (of instanceof Set) return of.size === 0 ? undefined : listText(of)
  if (Array.isArray(of)) return listText(of)
  let text = ''
  // Names are those of the schema alone: what comes from outside is never one.
  for (const name in of) {
    const value = keptText((of as Record<string, unknown>)[name])
    if (value !== undefined) text += `${text === '' ? '' : ','}"${name}":${value}`
  }
  return `{${text}}`
}

/** Nearly all texts of a state are ids of which a site has a few: each is put into quotes once, as many as fit in a megabyte. */
const known = new Map<string, string>()
function quoted(text: string): string {
  const before = known.get(text)
  if (before !== undefined) return before
  const made = JSON.stringify(text)
  if (known.size > 5000) known.clear()
  if (text.length < 100) known.set(text, made)
  return made
}

function listText(all: Iterable<unknown>): string {
  let text = ''
  for (const one of all) {
    const value = keptText(one) ?? 'null'
    text += text === '' ? value : `,${value}`
  }
  return `[${text}]`
}

/** The same in other maps, sets and objects, all the way down. */
export function copied<Of>(of: Of): Of {
  if (of instanceof Map) return new Map([...of].map(([key, value]) => [key, copied(value)])) as Of
  if (of instanceof Set) return new Set(of) as Of
  if (Array.isArray(of)) return of.map(copied) as Of
  if (typeof of !== 'object' || of === null) return of
  const made: Record<string, unknown> = {}
  for (const name of Object.keys(of)) made[name] = copied((of as Record<string, unknown>)[name])
  return made as Of
}
