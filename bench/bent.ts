import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand'

/* Good input, as a schema describes it, and the same bent: what an attacker, a broken program or a curious person sends. */

export interface Lots {
  below(count: number): number
  pick<Of>(from: readonly Of[]): Of
}

export function lotsFrom(seed: number): Lots {
  const lots = xoroshiro128plus(seed)
  const below = (count: number) => unsafeUniformIntDistribution(0, Math.max(0, count - 1), lots)
  return { below, pick: (from) => from[below(from.length)] as never }
}

type Json = null | boolean | number | string | Json[] | { [name: string]: Json }

export interface JsonSchema {
  readonly type?: string | readonly string[]
  readonly enum?: readonly Json[]
  readonly const?: Json
  readonly anyOf?: readonly JsonSchema[]
  readonly oneOf?: readonly JsonSchema[]
  readonly allOf?: readonly JsonSchema[]
  readonly properties?: Readonly<Record<string, JsonSchema>>
  readonly additionalProperties?: JsonSchema | boolean
  readonly items?: JsonSchema
  readonly minItems?: number
  readonly minimum?: number
  readonly maximum?: number
  readonly $ref?: string
  readonly $defs?: Readonly<Record<string, JsonSchema>>
  readonly default?: Json
}

/** Names that exist in the site that is attacked, so that good input reaches the handlers. */
const names = [
  'home', 'plans', 'reserve', 'home-title', 'home-banner', 'plans-title', 'main-menu', 'original', 't-1', 't-1-r1', 'reserved', 'wilma',
  'page:plans', '/plans', '2026-11-01', 'https://shop.example', 'EUR', 'set', 'insert', 'title', 'words', 'Reserved',
] // prettier-ignore

/** A value that mostly fits the schema. */
export function sample(schema: JsonSchema, lots: Lots, root: JsonSchema = schema, depth = 0): Json {
  if (schema.$ref !== undefined) {
    const name = schema.$ref.split('/').at(-1) ?? ''
    return depth > 8 ? null : sample(root.$defs?.[name] ?? {}, lots, root, depth + 1)
  }
  if (schema.const !== undefined) return schema.const
  if (schema.enum !== undefined) return lots.pick(schema.enum)
  const choices = schema.anyOf ?? schema.oneOf
  if (choices !== undefined) return sample(lots.pick(choices), lots, root, depth + 1)
  if (schema.allOf !== undefined) return sample(schema.allOf[0] ?? {}, lots, root, depth + 1)
  const type = typeof schema.type === 'string' ? schema.type : (schema.type?.[0] ?? 'object')
  switch (type) {
    case 'object': {
      if (depth > 10) return {}
      const own = Object.entries(schema.properties ?? {}).map(([name, of]) => [name, sample(of, lots, root, depth + 1)] as const)
      const { additionalProperties: more } = schema
      const free =
        typeof more === 'object' && own.length === 0 ? [[lots.pick(names), sample(more, lots, root, depth + 1)] as const] : []
      return Object.fromEntries([...own, ...free])
    }
    case 'array':
      return Array.from({ length: Math.max(schema.minItems ?? 0, lots.below(3)) }, () =>
        sample(schema.items ?? {}, lots, root, depth + 1),
      )
    case 'integer':
    case 'number':
      return (schema.minimum ?? 0) + lots.below(Math.min(5, (schema.maximum ?? 9) - (schema.minimum ?? 0) + 1))
    case 'boolean':
      return lots.below(2) === 0
    case 'null':
      return null
    default:
      return lots.pick(names)
  }
}

const deep = (levels: number): Json => {
  let value: Json = 'x'
  for (let level = 0; level < levels; level++) value = level % 2 === 0 ? [value] : { of: value }
  return value
}

export const nastyTexts: readonly string[] = [
  '', ' ', '\u0000', '\ud83d', '\udc4d', `${'a'.repeat(79)}\u{1f600}`, '😀', 'é́', '\u202e', '\r\nset-cookie: a=b', "' OR 1=1 --", '<script>alert(1)</script>',
  '${7*7}', '../../etc/passwd', '%00', '%ff', '%F0%9F%98%80', '%', 'constructor', '__proto__', 'toString', 'hasOwnProperty', 'x'.repeat(400),
  'x'.repeat(30_000), 'https://例え.example/', 'javascript:alert(1)', '2026-02-30', '9'.repeat(40), '-1', 'NaN', 't-0', 't-99999999999', 'page:constructor',
] // prettier-ignore

const nasty: readonly (() => Json)[] = [
  () => null, () => true, () => 0, () => -1, () => 1e308, () => Number.MAX_SAFE_INTEGER, () => 0.1, () => [], () => ({}), () => [[[]]],
  () => ({ $gt: '' }), () => ({ length: 5 }), () => deep(40), () => deep(3000), () => Array.from({ length: 3000 }, () => 0),
] // prettier-ignore

/** The same value with one to three things wrong somewhere in it. */
export function bent(value: Json, lots: Lots): Json {
  const copy = { whole: structuredClone(value) } as Record<string, Json>
  for (let times = 1 + lots.below(3); times > 0; times--) {
    const places: { holder: Record<string, Json>; key: string }[] = []
    const walk = (holder: Record<string, Json>, depth: number) => {
      for (const key of Object.keys(holder)) {
        places.push({ holder, key })
        const inner = holder[key]
        if (typeof inner === 'object' && inner !== null && depth < 12) walk(inner as Record<string, Json>, depth + 1)
      }
    }
    walk(copy, 0)
    if (places.length === 0) break
    const { holder, key } = lots.pick(places)
    const how = lots.below(8)
    if (how <= 2) holder[key] = lots.pick(nastyTexts)
    else if (how <= 4) holder[key] = lots.pick(nasty)()
    else if (how === 5 && !Array.isArray(holder)) delete holder[key]
    else if (how === 6)
      Object.defineProperty(holder, lots.pick(nastyTexts), {
        value: lots.pick(nastyTexts),
        enumerable: true,
        configurable: true,
        writable: true,
      })
    else holder[key] = [holder[key] ?? null, holder[key] ?? null]
  }
  return copy.whole ?? null
}
