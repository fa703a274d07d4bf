import { ORIGINAL } from '../decide'
import { documentSchema, type ContentDocument } from '../document'
import { goalSchema, libraryOf, type Goal } from '../goals'
import type { DocumentId, VersionId } from '../ids'
import { designSchema } from './design'
import { unreachable } from './reachable'
import type { Shown, ShownPage } from './shown'

const [bold, calm] = ['bold', 'calm'] as VersionId[] as [VersionId, VersionId]
const home = documentSchema.parse({
  ...{ id: 'home', kind: 'page', root: 'root' },
  nodes: {
    root: { type: 'page', props: { path: '/', pageType: 'Front' }, children: ['title', 'button'] },
    title: { type: 'heading', props: {}, children: [] },
    button: { type: 'button', props: {}, children: [] },
  },
})
const goal = (id: string, wiring: object): Goal => goalSchema.parse({ id, name: id, wiring })
const pressed = goal('pressed', { kind: 'click', document: 'home', node: 'button' })
const opened = goal('opened', { kind: 'page', document: 'home' })
const elsewhere = goal('elsewhere', { kind: 'page', document: 'gone' })
const marked = goal('marked', { kind: 'marker', marker: 'buy' })

type Of = Partial<Omit<ShownPage, 'version'>>
const page = (version: VersionId, of: Of = {}): ShownPage => ({
  ...{ page: 'home' as DocumentId, version, blank: false, seen: new Set(), sent: new Set(), placed: new Set(), links: [] },
  ...{ pressed: new Set(['button']), markers: new Set(['buy']) },
  ...of,
})
/** What is wrong with a goal where these pages are shown; `bold` takes the button away where it is said. */
function found(
  wanted: Goal,
  pages: readonly ShownPage[],
  of: { gone?: boolean; published?: readonly ContentDocument[]; more?: readonly Goal[]; ways?: Shown['ways'] } = {},
) {
  const { gone = false, published = [home], more = [], ways = [] } = of
  const design = designSchema.parse({
    ...{ name: 'Test', problem: '', change: '', expected: '', document: 'home', node: 'title', share: 10_000 },
    arms: [ORIGINAL, bold, calm].map((version) => ({ version, weight: 3333 })),
    ...{ primary: wanted.id, watched: [], smallestEffect: 0.05 },
  })
  const versions = [
    { id: bold, name: 'Bold', edits: gone ? [{ kind: 'remove' as const, node: 'button' as never }] : [] },
    { id: calm, name: 'Calm', edits: [] },
  ]
  return unreachable(wanted, {
    ...{ design, versions, library: libraryOf([pressed, opened, elsewhere, marked, wanted, ...more]) },
    published: new Map(published.map((document) => [document.id, document])),
    shown: { pages, hides: [], sameByRule: [], ways, same: [], circle: null, fault: null },
  })
}
const everywhere = [page(ORIGINAL), page(bold), page(calm)]

test('a page has to be published, and one of a type to be there at all', () => {
  expect(found(opened, everywhere)).toEqual([])
  expect(found(elsewhere, everywhere)).toEqual([{ code: 'goalUnpublished', goal: 'elsewhere', document: 'gone' }])
  expect(found(goal('front', { kind: 'pageType', pageType: 'Front' }), everywhere)).toEqual([])
  expect(found(goal('shop', { kind: 'pageType', pageType: 'Shop' }), everywhere)).toEqual([{ code: 'goalNowhere', goal: 'shop' }])
  expect(found(goal('event', { kind: 'event', event: 'tuned' }), [])).toEqual([])
})

test('where the original leads to a page and a variant does not, the way is missing; where neither does, visitors come otherwise', () => {
  const way = (version: VersionId, ...pages: string[]) => ({ version, pages: new Set(pages as DocumentId[]) })
  const ways = [way(ORIGINAL, 'home'), way(bold), way(calm, 'home')]
  expect(found(opened, everywhere, { ways })).toEqual([{ code: 'goalNoWay', goal: 'opened', version: bold }])
  expect(found(goal('front', { kind: 'pageType', pageType: 'Front' }), everywhere, { ways })).toMatchObject([{ version: bold }])
  expect(found(pressed, everywhere, { ways })).toMatchObject([{ code: 'goalNoWay', version: bold }])
  expect(found(opened, everywhere, { ways: [way(ORIGINAL), way(bold), way(calm)] })).toEqual([])
})

test('what is to be pressed has to be on the page of every version, and be something to press', () => {
  expect(found(pressed, everywhere)).toEqual([])
  expect(found(pressed, everywhere, { published: [] })).toEqual([{ code: 'goalUnpublished', goal: 'pressed', document: 'home' }])
  const dead = [page(ORIGINAL), page(bold, { pressed: new Set() }), page(calm)]
  expect(found(pressed, dead)).toEqual([{ code: 'goalDead', goal: 'pressed', version: bold, doing: 'pressed' }])
  expect(found(pressed, dead, { gone: true })).toEqual([{ code: 'goalGone', goal: 'pressed', version: bold }])
  // Nowhere at all: each version says so for itself.
  const none = [ORIGINAL, bold, calm].map((version) => page(version, { pressed: new Set() }))
  expect(found(pressed, none, { gone: true }).map(({ code }) => code)).toEqual(['goalDead', 'goalGone', 'goalDead'])
})

test('of pages that nobody could look at, what is gone from their documents is said, and no more', () => {
  expect(found(pressed, [])).toEqual([])
  expect(found(pressed, [], { gone: true })).toEqual([{ code: 'goalGone', goal: 'pressed', version: bold }])
})

test('a marker that a version lacks is gone from it; one that the original lacks is in variants only', () => {
  expect(found(marked, everywhere)).toEqual([])
  const [without, nowhere] = [
    { markers: new Set<string>() },
    [ORIGINAL, bold].map((version) => page(version, { markers: new Set() })),
  ]
  expect(found(marked, [page(ORIGINAL), page(bold, without), page(calm)])).toEqual([
    { code: 'markerGone', goal: 'marked', marker: 'buy', version: bold },
  ])
  expect(found(marked, [page(ORIGINAL, without), page(bold), page(calm)])).toEqual([
    { code: 'markerInVariantsOnly', goal: 'marked', marker: 'buy' },
  ])
  expect(found(marked, nowhere)).toEqual([{ code: 'goalNowhere', goal: 'marked' }])
})

describe('a goal made of others', () => {
  const both = goal('both', { kind: 'steps', goals: ['pressed', 'elsewhere'] })
  const either = goal('either', { kind: 'anyOf', goals: ['elsewhere', 'pressed'] })
  const unpublished = { code: 'goalUnpublished', document: 'gone' }

  test('needs all its steps, and says so as itself', () => {
    expect(found(both, everywhere)).toEqual([{ ...unpublished, goal: 'both' }])
    expect(found(goal('one', { kind: 'steps', goals: ['pressed', 'opened'] }), everywhere)).toEqual([])
  })

  test('of several one will do; of none the first is told', () => {
    expect(found(either, everywhere)).toEqual([])
    const gone = goal('neither', { kind: 'anyOf', goals: ['elsewhere', 'nobody'] })
    expect(found(gone, everywhere)).toEqual([{ ...unpublished, goal: 'neither' }])
  })

  test('of what is not there, or of itself, is reached nowhere', () => {
    expect(found(goal('odd', { kind: 'anyOf', goals: ['somebody', 'nobody'] }), everywhere)).toEqual([
      { code: 'goalNowhere', goal: 'odd' },
    ])
    const circle = goal('circle', { kind: 'anyOf', goals: ['round', 'nobody'] })
    const round = goal('round', { kind: 'anyOf', goals: ['circle', 'nobody'] })
    expect(found(circle, everywhere, { more: [round] })).toEqual([{ code: 'goalNowhere', goal: 'circle' }])
    expect(found(goal('own', { kind: 'steps', goals: ['pressed', 'own'] }), everywhere)).toEqual([
      { code: 'goalNowhere', goal: 'own' },
    ])
  })
})
