import { exchangeJsonSchema, readExchange, writeExchange, type Exchange } from '.'
import { documentSchema } from '../document'

const document = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: { root: { type: 'page', props: { title: 'Front' }, children: [] } },
})
const file: Exchange = { format: 'upbeat-sprig', version: 1, kind: 'document', document }

test('a document comes back as it went out', () => {
  expect(readExchange(writeExchange(file))).toEqual(file)
})

test.each([
  ['{"format": "upbeat-sprig",\n  "version": }', 'Line 2, column 14'],
  ['{}', 'kind: '],
  [JSON.stringify({ ...file, document: { ...document, root: 'gone' } }), 'document › nodes: the root “gone” is missing'],
  [JSON.stringify({ ...file, version: 2 }), 'version: '],
])('%s is refused with its place', (text, message) => {
  expect(() => readExchange(text)).toThrow(message)
})

test('the schema that is published names every kind', () => {
  const schema = exchangeJsonSchema()
  expect(schema).toContain('"$schema": "https://json-schema.org/draft/2020-12/schema"')
  for (const kind of ['document', 'variant', 'test']) expect(schema).toContain(`"const": "${kind}"`)
})
