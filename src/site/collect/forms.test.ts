import { apply, documentSchema, type Edit } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { releaseSchema } from '@/core/release'
import { compile } from '../compile/compile'
import { makeSite } from '../site'
import type { FormEntry } from '@/core/events'

const page = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['part'] },
    part: { type: 'section', props: {}, children: ['form'] },
    form: { type: 'form', props: { next: 'page:front', order: '24' }, children: ['field'] },
    field: { type: 'formField', props: { label: 'Your name', name: 'name' }, children: [] },
  },
})
const thanks = documentSchema.parse({
  id: 'thanks',
  kind: 'page',
  root: 'r',
  nodes: { r: { type: 'page', props: { title: 'Thanks', path: '/thanks' }, children: [] } },
})

const other: Edit[] = [
  { kind: 'set', node: 'form' as NodeId, prop: 'next', value: 'page:thanks' },
  { kind: 'set', node: 'form' as NodeId, prop: 'order', value: '30' },
  { kind: 'set', node: 'field' as NodeId, prop: 'name', value: 'phone' },
  { kind: 'set', node: 'field' as NodeId, prop: 'label', value: 'Your telephone' },
]
const inserted: Edit = {
  kind: 'insert',
  parent: 'part' as NodeId,
  after: null,
  tree: {
    root: 'new-form' as NodeId,
    nodes: {
      'new-form': { type: 'form', props: { next: 'page:thanks' }, children: ['new-field' as NodeId] },
      'new-field': { type: 'formField', props: { label: 'Your wish', name: 'wish' }, children: [] },
    },
  },
}
const releaseWith = (edits: Edit[], documents = [page, thanks]) =>
  releaseSchema.parse({
    documents,
    personalizations: [],
    goals: [],
    rounds: [
      {
        id: 't-1-r1',
        test: 't-1',
        number: 1,
        design: {
          name: 'A form',
          problem: '',
          change: '',
          expected: '',
          document: 'front',
          node: 'part',
          arms: [
            { version: 'original', weight: 5000 },
            { version: 'other', weight: 5000 },
          ],
          share: 10_000,
          primary: null,
          watched: [],
          smallestEffect: 0.05,
        },
        versions: [{ id: 'other', name: 'Other', edits }],
        goals: [],
        salt: 't-1',
        plannedTotal: 100,
        paused: false,
      },
    ],
  })
const assets = { script: '', style: '' }

function siteOf(edits: Edit[]) {
  const entries: FormEntry[] = []
  let compiled = compile(releaseWith(edits), assets)
  const site = makeSite({
    current: () => compiled,
    writeEvents: () => Promise.resolve(),
    keepEntry: (entry) => {
      entries.push(entry)
      return Promise.resolve()
    },
    assets: new Map(),
    media: new Map(),
    now: () => 1_700_000_000_000,
    log: () => undefined,
  })
  /** The addresses of the forms that whoever is given this version is shown, in their order. */
  const shown = async (version: string) => {
    for (let n = 1; n < 200; n++) {
      const cookie = `visitor=${n.toString(16).padStart(32, '0')}`
      const { body } = await site.inject({ url: '/', headers: { cookie, 'user-agent': 'Mozilla/5.0 Chrome/140' } })
      if (body.includes(`t-1-r1/${version}`)) return [...body.matchAll(/action="([^"]+)"/g)].map(([, address]) => address ?? '')
    }
    throw new Error(`nobody is shown ${version}`)
  }
  const send = (url: string, payload: string) =>
    site.inject({ method: 'POST', url, headers: { 'content-type': 'application/x-www-form-urlencoded' }, payload })
  const publish = (...changed: Parameters<typeof releaseWith>) => (compiled = compile(releaseWith(...changed), assets, compiled))
  return { entries, shown, send, publish }
}

test('a form is taken as it was shown: what it asks, where it leads, what its order is worth', async () => {
  const { entries, shown, send } = siteOf(other)
  const [original] = await shown('original')
  const [varied] = await shown('other')
  expect((await send(original ?? '', 'name=Nelly')).headers.location).toBe('/')
  expect((await send(varied ?? '', 'phone=12')).headers.location).toBe('/thanks')
  expect((await send(varied ?? '', 'name=Nelly')).body).toContain('fill in “Your telephone”')
  expect(entries.map(({ node, order, values }) => ({ node, order, values }))).toEqual([
    { node: 'form', order: 24, values: { name: 'Nelly' } },
    { node: 'form', order: 30, values: { phone: '12' } },
  ])
})

test('a form that a variant put in is taken', async () => {
  const { entries, shown, send } = siteOf([inserted])
  const [first] = await shown('other')
  expect((await send(first ?? '', 'wish=a+cello')).headers.location).toBe('/thanks')
  expect(entries).toMatchObject([{ document: 'front', node: 'new-form', order: 0, values: { wish: 'a cello' } }])
})

test('a page left open over a release sends the form that it shows, though the test is over and the form changed', async () => {
  const { entries, shown, send, publish } = siteOf(other)
  const [varied] = await shown('other')
  publish([], [apply(page, [{ kind: 'remove', node: 'form' as NodeId }]).document, thanks])
  expect((await send(varied ?? '', 'phone=12')).headers.location).toBe('/thanks')
  expect(entries).toHaveLength(1)
  // One that nobody ever was shown is taken as it is now, or not there.
  expect((await send('/forms/front/form/0123456789abcdef', 'name=Nelly')).statusCode).toBe(404)
})
