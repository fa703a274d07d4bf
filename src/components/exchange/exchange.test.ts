import Ajv2020 from 'ajv/dist/2020'
import addFormats from 'ajv-formats'
import fc from 'fast-check'
import { documentSchema, type ContentDocument, type Edit } from '@/core/document'
import { nodeIdSchema } from '@/core/ids'
import { readExchange } from './read'
import { exchangeJsonSchema } from './schema'
import { writeExchange } from './write'

let count = 0
const fresh = () => nodeIdSchema.parse(`fresh-${++count}`)
const read = (value: unknown) => readExchange(typeof value === 'string' ? value : JSON.stringify(value), fresh)

const leaf = (type: string, props: Record<string, string> = {}) => ({ type, props, children: [] })
const document: ContentDocument = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['one'] },
    one: { type: 'section', props: {}, children: ['title', 'words', 'cards'] },
    title: leaf('heading', { words: 'Hello', level: 'h1' }),
    words: leaf('text', { words: '<p>Words</p>' }),
    cards: { type: 'cardList', props: {}, children: ['card'] },
    card: leaf('card', { title: 'A', link: 'page:front' }),
  },
})
const file: unknown = JSON.parse(writeExchange({ kind: 'document', document }))
const inserted: Edit = {
  kind: 'insert',
  parent: document.root,
  after: null,
  tree: { root: nodeIdSchema.parse('n'), nodes: { n: leaf('heading', { words: 'New' }) } },
}
const variant = {
  kind: 'variant' as const,
  document: document.id,
  node: nodeIdSchema.parse('title'),
  variant: { id: 'v-1' as never, name: 'A', edits: [inserted] },
}

/** The published schema, as a validator that is not this program's own reads it. */
const ajv = new Ajv2020({ strict: true })
addFormats(ajv)
const passes = ajv.compile(JSON.parse(exchangeJsonSchema('https://studio.example/schema.json')) as object)

test('a document and a variant come back as they went out, and pass the schema', () => {
  expect(read(file)).toEqual({ content: { kind: 'document', document }, notes: [] })
  expect(read(writeExchange(variant)).content).toEqual(variant)
  expect([passes(file), passes(JSON.parse(writeExchange(variant)))]).toEqual([true, true])
})

test('segments, and rules with those that they name, come back as they went out, and pass the schema', () => {
  const near = { id: 'near' as never, name: 'Near', condition: { kind: 'region' as const, region: 'XP-HA' } }
  const segments = { kind: 'segments' as const, segments: [near] }
  const rules = {
    ...{ kind: 'rules' as const, document: document.id, node: nodeIdSchema.parse('title'), segments: [near] },
    rules: [{ ...variant.variant, condition: { kind: 'segment' as const, segment: near.id, fits: true } }],
  }
  for (const content of [segments, rules]) {
    expect(read(writeExchange(content))).toEqual({ content, notes: [] })
    expect(passes(JSON.parse(writeExchange(content)))).toBe(true)
  }
  const nested = { ...near, condition: { kind: 'segment', segment: 'other', fits: true } }
  const file = JSON.parse(writeExchange(segments)) as object
  expect(() => read({ ...file, segments: [nested] })).toThrow('cannot be made of other segments')
})

test.each([
  ['{"format": "upbeat-sprig",\n  "version": }', 'Line 2, column 14'],
  ['{}', 'kind: '],
  [JSON.stringify({ ...(file as object), version: 1 }), 'version: '],
])('%s is refused with its place', (text, message) => {
  expect(() => read(text)).toThrow(message)
})

test('parts with one id, or without, get ids of their own; a link that leads nowhere is left open and said', () => {
  const root = {
    id: 'r',
    type: 'callToActionText',
    props: { title: 'Try', link: 'javascript:x()' },
  }
  const { content, notes } = read({
    format: 'upbeat-sprig',
    version: 2,
    kind: 'document',
    document: { id: 'c', kind: 'callToAction', root },
  })
  expect(content).toMatchObject({ document: { nodes: { r: { props: { title: 'Try', link: '' } } } } })
  expect(notes).toEqual(['“javascript:x()” is no address that can be followed; that link was left open.'])
  const twice = JSON.parse(JSON.stringify(file).replace('"id":"words"', '"id":"title"').replace('"id":"card",', '')) as unknown
  const taken = read(twice).content
  expect(taken.kind === 'document' && Object.keys(taken.document.nodes)).toHaveLength(7)
})

// The law that a schema is published for: what passes it is taken, and what does not is refused.
test('what the schema lets pass is taken, and what it does not is refused', () => {
  const value = fc.constantFrom<unknown>(
    null,
    7,
    true,
    '',
    'h1',
    'heading',
    'page',
    [],
    {},
    ['x'],
    'x'.repeat(2001),
    'constructor',
  )
  const bending = fc.array(fc.tuple(fc.nat(), fc.constantFrom('change', 'remove', 'add', 'double'), value), {
    minLength: 1,
    maxLength: 3,
  })
  fc.assert(
    fc.property(fc.constantFrom(file, JSON.parse(writeExchange(variant)) as unknown), bending, (whole, bends) => {
      const bent = bends.reduce<unknown>((now, [at, how, by]) => changed(now, at, how, by), structuredClone(whole))
      const outcome = taken(bent)
      if (passes(bent) !== outcome) throw new Error(`${JSON.stringify(bent)} ${outcome}: ${ajv.errorsText(passes.errors)}`)
    }),
    { numRuns: 1000 },
  )
})

function taken(value: unknown): boolean {
  try {
    read(value)
    return true
  } catch {
    return false
  }
}

/** The value with one thing in it, wherever that is, made otherwise. */
function changed(value: unknown, at: number, how: string, constant: unknown): unknown {
  const by = structuredClone(constant)
  const places: (() => void)[] = []
  const visit = (holder: Record<string, unknown>) => {
    for (const key of Object.keys(holder)) {
      places.push(() => bend(holder, key, how, by))
      const inner = holder[key]
      if (typeof inner === 'object' && inner !== null) visit(inner as Record<string, unknown>)
    }
  }
  visit(value as Record<string, unknown>)
  places[at % places.length]?.()
  return value
}

function bend(holder: Record<string, unknown>, key: string, how: string, by: unknown): void {
  if (Array.isArray(holder)) {
    if (how === 'remove') holder.splice(Number(key), 1)
    else if (how === 'change') holder[Number(key)] = by
    else holder.push(how === 'add' ? by : structuredClone(holder[Number(key)]))
  } else if (how === 'remove') delete holder[key]
  else if (how === 'change') holder[key] = by
  else if (how === 'add') holder[typeof by === 'string' && by !== '' ? by.slice(0, 20) : 'more'] = by
}
