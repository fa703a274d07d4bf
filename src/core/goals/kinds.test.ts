import { documentSchema, type ContentDocument } from '../document'
import { happeningSchema, type Happening, type VisitorEvent } from '../events'
import type { DocumentId } from '../ids'
import { doing, goalSchema, kindNamed, lackOf, libraryOf, placesOf, reaches, wiringKinds, type Goal, type WiringKind } from '.'
import type { Beginnings, Need, Whereabouts } from './kinds/kind'

const at: Whereabouts = { document: 'home' as DocumentId, path: '/somewhere', pageType: 'Plain', order: 'P-7', value: 12.5 }
const goal = (id: string, wiring: object): Goal => goalSchema.parse({ id, name: id, wiring })
const asked = goal('asked', { kind: 'event', event: 'asked' })
const opened = goal('opened', { kind: 'page', document: 'plans' })
const library = libraryOf([asked, opened])
const shown = { kind: 'page', document: 'home', path: '/somewhere', pageType: 'Plain', arrival: null }

/** All that is true of a kind: what is wired, what somebody does for it, what it needs, and how a new one begins. */
const truths: {
  readonly [Kind in WiringKind]: {
    readonly wired: object
    readonly done: readonly object[]
    readonly needs: Need['kind'] | object
    readonly begins: object | null
    /** Beside what is done for it. */
    readonly alsoReachedBy?: readonly object[]
    readonly toldByPage: boolean
    readonly seconds?: number
  }
} = {
  click: {
    wired: { document: 'plans', node: 'go' },
    done: [{ kind: 'click', document: 'home', nodes: ['go'], markers: [] }],
    ...{ needs: { kind: 'component', document: 'plans', node: 'go', doing: 'pressed' }, begins: null, toldByPage: true },
  },
  marker: {
    wired: { marker: 'buy' },
    done: [{ kind: 'click', document: 'home', nodes: [], markers: ['buy'] }],
    ...{ needs: { kind: 'marker', marker: 'buy' }, begins: { kind: 'marker', marker: 'reserve' }, toldByPage: true },
  },
  form: {
    wired: { document: 'plans', node: 'ask' },
    done: [{ kind: 'form', document: 'plans', nodes: ['ask'] }],
    ...{ needs: { kind: 'component', document: 'plans', node: 'ask', doing: 'sent' }, begins: null, toldByPage: true },
  },
  page: {
    wired: { document: 'plans' },
    done: [{ ...shown, document: 'plans' }],
    ...{ needs: { kind: 'page', document: 'plans' }, begins: { kind: 'page', document: 'front' }, toldByPage: true },
  },
  pageType: {
    wired: { pageType: 'Article' },
    done: [{ ...shown, pageType: 'Article' }],
    ...{ needs: 'somePage', begins: { kind: 'pageType', pageType: 'Plans' }, toldByPage: true },
  },
  address: {
    wired: { by: 'is', text: '/plans' },
    done: [{ ...shown, path: '/plans' }],
    ...{ needs: 'somePage', begins: { kind: 'address', by: 'startsWith', text: '/' }, toldByPage: true },
  },
  outbound: {
    wired: { by: 'host', text: 'example.org' },
    done: [{ kind: 'outbound', document: 'home', address: 'https://example.org/' }],
    ...{ needs: { kind: 'nothing' }, begins: { kind: 'outbound', by: 'host', text: 'example.org' }, toldByPage: true },
  },
  read: {
    wired: { document: 'plans', node: 'story' },
    done: [{ kind: 'read', document: 'plans', node: 'story' }],
    ...{ needs: { kind: 'component', document: 'plans', node: 'story', doing: 'seen' }, begins: null, toldByPage: true },
  },
  stay: {
    wired: { seconds: 45 },
    done: [{ kind: 'stay', document: 'home', seconds: 45 }],
    ...{ needs: { kind: 'nothing' }, begins: { kind: 'stay', seconds: 30 }, toldByPage: true, seconds: 45 },
  },
  noBounce: {
    wired: { seconds: 45 },
    done: [{ kind: 'stay', document: 'home', seconds: 45 }],
    alsoReachedBy: [
      { ...shown },
      { kind: 'click', document: 'home', nodes: [], markers: [] },
      { kind: 'form', document: 'home', nodes: [] },
      { kind: 'outbound', document: 'home', address: 'https://other.example/' },
      { kind: 'order', order: 'X', value: 3 },
    ],
    ...{ needs: { kind: 'nothing' }, begins: { kind: 'noBounce', seconds: 5 }, toldByPage: true, seconds: 45 },
  },
  order: {
    wired: {},
    done: [{ kind: 'order', order: 'P-7', value: 12.5 }],
    alsoReachedBy: [{ kind: 'order', order: 'free', value: 0 }],
    ...{ needs: { kind: 'nothing' }, begins: { kind: 'order' }, toldByPage: false },
  },
  event: {
    wired: { event: 'tuned' },
    done: [{ kind: 'event', name: 'tuned', value: 12.5 }],
    ...{ needs: { kind: 'nothing' }, begins: { kind: 'event', event: 'something-happened' }, toldByPage: true },
  },
  anyOf: {
    wired: { goals: ['gone', 'asked', 'opened'] },
    done: [{ kind: 'event', name: 'asked', value: 12.5 }],
    alsoReachedBy: [{ ...shown, document: 'plans' }],
    needs: { kind: 'goals', of: ['gone', 'asked', 'opened'], all: false },
    ...{ begins: { kind: 'anyOf', goals: ['asked', 'opened'] }, toldByPage: true },
  },
  steps: {
    wired: { goals: ['asked', 'opened'] },
    done: [
      { kind: 'event', name: 'asked', value: 12.5 },
      { ...shown, document: 'plans' },
    ],
    needs: { kind: 'goals', of: ['asked', 'opened'], all: true },
    ...{ begins: { kind: 'steps', goals: ['asked', 'opened'] }, toldByPage: false },
  },
}

/** One of everything that can happen, none of which is what a kind above counts. */
const somethingElse: readonly Happening[] = [
  { ...shown, arrival: { source: 'direct', device: 'phone' } },
  { kind: 'click', document: 'plans', nodes: ['other'], markers: ['other'], spot: [1, 2] },
  { kind: 'form', document: 'plans', nodes: ['other'] },
  { kind: 'outbound', document: 'plans', address: 'https://notexample.org/' },
  { kind: 'outbound', document: 'plans', address: 'mailto:somebody@example.org' },
  { kind: 'outbound', document: 'plans', address: 'tel:+https://example.org' },
  { kind: 'read', document: 'plans', node: 'other' },
  { kind: 'stay', document: 'plans', seconds: 44 },
  { kind: 'event', name: 'other', value: null },
  { kind: 'order', order: 'back', value: -5 },
  { kind: 'assigned', round: 'r-1', version: 'original', document: 'plans', segments: [] },
  { kind: 'seen', round: 'r-1', version: 'original' },
  { kind: 'speed', document: 'plans', paint: 900, response: null, shift: null },
].map((one) => happeningSchema.parse(one))
const happened = (happening: object): VisitorEvent => ({
  ...{ visitor: 'f'.repeat(32), at: new Date(0) },
  ...happeningSchema.parse(happening),
})
const beginnings: Beginnings = {
  pages: [
    { id: 'front' as DocumentId, path: '/', pageType: '' },
    { id: 'plans' as DocumentId, path: '/plans', pageType: 'Plans' },
  ],
  others: [asked.id, opened.id, 'third' as never],
}

describe.each(wiringKinds.map((kind) => [kind, truths[kind]] as const))('a goal by %s', (kind, truth) => {
  const own = goal('own', { kind, ...truth.wired })
  const reached = (happening: object) => reaches(own, happened(happening), library)

  test('is done in the way that it counts, and by nothing else that happens', () => {
    expect(doing(own, library, at)).toEqual(truth.done)
    if (kind !== 'steps') expect(truth.done.map(reached)).toEqual(truth.done.map(() => true))
    for (const one of truth.alsoReachedBy ?? []) expect([one, reached(one)]).toEqual([one, true])
    const isAlso = (one: Happening) => (kind === 'noBounce' ? ['click', 'form', 'outbound'].includes(one.kind) : false)
    for (const one of somethingElse.filter((happening) => !isAlso(happening))) expect([one, reached(one)]).toEqual([one, false])
  })

  test('says what it needs, who tells of it, and how a new one begins', () => {
    const { needs, toldByPage, reported, seconds, begins, label, words } = kindNamed(kind)
    expect(needs(own.wiring)).toMatchObject(typeof truth.needs === 'string' ? { kind: truth.needs } : truth.needs)
    expect([toldByPage, seconds?.(own.wiring)]).toEqual([truth.toldByPage, truth.seconds])
    expect(reported).toBe(['order', 'event', 'anyOf'].includes(kind))
    expect(begins(beginnings)).toEqual(truth.begins)
    expect(label.length).toBeGreaterThan(10)
    expect(words(own.wiring, { titleOf: (id) => `<${id}>`, goalNamed: (id) => `<${id}>` }).length).toBeGreaterThan(10)
  })
})

test('where nothing is there to begin with, no goal of a page begins, and a type is made up', () => {
  const none: Beginnings = { pages: [], others: [] }
  expect(kindNamed('page').begins(none)).toBeNull()
  expect(kindNamed('pageType').begins(none)).toEqual({ kind: 'pageType', pageType: 'Page' })
})

test('an address is met as it is said: whole, from its beginning, anywhere, or by its host', () => {
  const met = (wiring: object, happening: object) => reaches(goal('own', wiring), happened(happening), library)
  const page = (path: string) => ({ ...shown, path })
  const by = (way: string, path: string) => met({ kind: 'address', by: way, text: '/plans' }, page(path))
  expect(['/plans', '/plans/a', '/a/plans'].map((path) => by('is', path))).toEqual([true, false, false])
  expect(['/plans', '/plans/a', '/a/plans'].map((path) => by('startsWith', path))).toEqual([true, true, false])
  expect(['/plans', '/a/plans/b', '/a/plan'].map((path) => by('contains', path))).toEqual([true, true, false])
  const out = (way: string, text: string, address: string) =>
    met({ kind: 'outbound', by: way, text }, { kind: 'outbound', document: 'home', address })
  expect(out('is', 'https://example.org/a', 'https://example.org/a')).toBe(true)
  expect(out('is', 'https://example.org/a', 'https://example.org/ab')).toBe(false)
  expect(out('startsWith', 'https://example.org/a', 'https://example.org/ab')).toBe(true)
  expect(out('startsWith', 'example.org', 'https://example.org/')).toBe(false)
  const hosts = [
    'http://example.org',
    'https://www.EXAMPLE.org:8080/a',
    'https://example.org.evil.example/',
    'nothttps://example.org/',
  ]
  expect(hosts.map((address) => out('host', 'Example.org', address))).toEqual([true, true, false, false])
  expect(doing(goal('own', { kind: 'outbound', by: 'is', text: 'tel:+1' }), library, at)).toEqual([
    { kind: 'outbound', document: 'home', address: 'tel:+1' },
  ])
})

describe('on the published site', () => {
  const page = (id: string, pageType: string, marker: string): ContentDocument =>
    documentSchema.parse({
      ...{ id, kind: 'page', root: `${id}-root` },
      nodes: {
        [`${id}-root`]: { type: 'page', props: { title: id, path: `/${id}`, pageType }, children: [`${id}-main`] },
        [`${id}-main`]: { type: 'mainPart', props: {}, children: [`${id}-go`] },
        [`${id}-go`]: { type: 'button', props: { words: 'Go', marker }, children: [] },
      },
    })
  const footer = documentSchema.parse({
    ...{ id: 'footer', kind: 'shared', root: 'footer-root' },
    nodes: { 'footer-root': { type: 'footer', props: { marker: 'buy', path: '/plans', pageType: 'Article' }, children: [] } },
  })
  const published = new Map([page('plans', 'Plans', 'buy'), page('story', 'Article', ''), footer].map((one) => [one.id, one]))
  const wired = (wiring: object, goals: readonly Goal[] = []) => {
    const own = goal('own', wiring)
    const all = libraryOf([...library.values(), ...goals, own])
    return { places: placesOf(own, all, published), lack: lackOf(own, all, published) }
  }
  const lacking = (lack: RegExp) => ({ places: [], lack: expect.stringMatching(lack) as string })

  test('a goal is where its component, its page, its marker or its kind of page is, and says so where there is none', () => {
    expect(wired({ kind: 'click', document: 'plans', node: 'plans-go' })).toEqual({
      places: [{ document: 'plans', node: 'plans-go' }],
      lack: '',
    })
    expect(wired({ kind: 'click', document: 'plans', node: 'gone' })).toEqual(lacking(/no longer on the published page/))
    expect(wired({ kind: 'form', document: 'gone', node: 'plans-go' })).toEqual(lacking(/not published/))
    expect(wired({ kind: 'page', document: 'plans' })).toEqual({ places: [{ document: 'plans', node: null }], lack: '' })
    expect(wired({ kind: 'page', document: 'gone' })).toEqual(lacking(/page is not published/))
    expect(wired({ kind: 'marker', marker: 'buy' })).toEqual({
      places: [
        { document: 'plans', node: 'plans-go' },
        { document: 'footer', node: 'footer-root' },
      ],
      lack: '',
    })
    expect(wired({ kind: 'marker', marker: 'sell' })).toEqual(lacking(/carries the marker “sell”/))
    // A footer is no page, whatever it carries.
    expect(wired({ kind: 'pageType', pageType: 'Article' })).toEqual({ places: [{ document: 'story', node: null }], lack: '' })
    expect(wired({ kind: 'pageType', pageType: 'Poem' })).toEqual(lacking(/of the type “Poem”/))
    expect(wired({ kind: 'address', by: 'startsWith', text: '/pl' })).toEqual({
      places: [{ document: 'plans', node: null }],
      lack: '',
    })
    expect(wired({ kind: 'address', by: 'is', text: '/' })).toEqual(lacking(/such an address/))
    expect(wired({ kind: 'order' })).toEqual({ places: [], lack: '' })
  })

  test('one that is made of others is where they are, once round at the most, and lacks what is gone', () => {
    expect(wired({ kind: 'anyOf', goals: ['asked', 'opened'] })).toEqual({
      places: [{ document: 'plans', node: null }],
      lack: '',
    })
    expect(wired({ kind: 'steps', goals: ['opened', 'gone'] })).toEqual({
      places: [{ document: 'plans', node: null }],
      lack: expect.stringMatching(/is gone/) as string,
    })
    const round = goal('round', { kind: 'anyOf', goals: ['own', 'opened'] })
    expect(wired({ kind: 'anyOf', goals: ['round', 'own', 'opened'] }, [round]).places).toEqual([
      { document: 'plans', node: null },
      { document: 'plans', node: null },
    ])
  })
})
