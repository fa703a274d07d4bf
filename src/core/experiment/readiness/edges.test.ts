import { ORIGINAL } from '../../decide'
import type { Edit } from '../../document'
import { goalSchema } from '../../goals'
import type { DocumentId, GoalId, NodeId, TestId } from '../../ids'
import { at, bold, change, facts, page, pressed, shownAs, words } from './a-ready-test'
import { readiness, type Finding } from './index'
import type { ReadinessFacts } from './check'

const blocked = (of: ReadinessFacts) => readiness(of).blocks.map(({ code }) => code)
const advised = (of: ReadinessFacts) => readiness(of).advises.map(({ code }) => code)
const found = (of: ReadinessFacts, code: Finding['code']) =>
  [...readiness(of).blocks, ...readiness(of).advises].filter((one) => one.code === code)
const edited = (...edits: Edit[]): Partial<ReadinessFacts> => ({ versions: [{ id: bold, name: 'Bold', edits }] })
const set = (node: string, prop: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop, value })

/* It is nine in the morning of the first of December. */
describe('a schedule', () => {
  test.each<[string, string | null, string | null, Finding['code'][], Finding['code'][]]>([
    ['none at all', null, null, [], []],
    ['an end a minute from now', null, '2026-12-01T09:01', [], []],
    ['an end that is now', null, '2026-12-01T09:00', ['endIsPast'], []],
    ['an end in a week', null, '2026-12-08T09:00', [], []],
    ['an end in eight days', null, '2026-12-09T09:00', [], ['partOfAWeek']],
    ['an end in a day', null, '2026-12-02T09:00', [], ['partOfAWeek']],
    ['an end with its start', '2026-12-03T09:00', '2026-12-03T09:00', ['endsBeforeStart'], []],
    ['an end before its start', '2026-12-04T09:00', '2026-12-03T09:00', ['endsBeforeStart'], []],
    ['a start that was missed', '2026-11-20T09:00', '2026-12-01T09:30', [], ['partOfAWeek']],
    ['a day that there is none of', '2026-02-30T09:00', null, ['noSuchTime'], []],
    ['two of them', '2026-02-30T09:00', '2026-02-31T09:00', ['noSuchTime', 'noSuchTime'], []],
  ])('with %s', (_, start, end, blocks, advises) => {
    const of = change({ schedule: at(start, end) })
    expect([blocked(of), advised(of)]).toEqual([blocks, advises])
  })

  test('is counted in whole days', () => {
    expect(found(change({ schedule: at(null, '2026-12-11T21:00') }), 'partOfAWeek')).toEqual([{ code: 'partOfAWeek', days: 11 }])
  })
})

test('an answer within eight weeks is said to be in time, and one a day later to take long', () => {
  const forecast = (waiting: object) => change({}, { forecast: { waiting } as never })
  expect(advised(forecast({ kind: 'days', days: 56 }))).toEqual([])
  expect(found(forecast({ kind: 'days', days: 57 }), 'takesLong')).toEqual([
    { code: 'takesLong', waiting: { kind: 'days', days: 57 } },
  ])
  expect(advised(forecast({ kind: 'tooFew', visitors: 3 }))).toEqual(['takesLong'])
})

test('a question needs its problem and its change, and spaces are neither', () => {
  expect(advised(change({ change: ' ' }))).toEqual(['noQuestion'])
  expect(advised(change({ problem: '\n' }))).toEqual(['noQuestion'])
})

test('the split is a whole, everybody has a part of it, and no more of a group is taken than is free', () => {
  const weights = (...of: number[]) => facts.design.arms.map((arm, index) => ({ ...arm, weight: of[index] ?? 0 }))
  expect(found(change({ arms: weights(5000, 4000) }), 'weightsOff')).toEqual([{ code: 'weightsOff', total: 9000 }])
  expect(found(change({ arms: weights(10_000, 0) }), 'weightZero')).toEqual([{ code: 'weightZero', version: bold }])
  expect(blocked(change({ arms: weights(10_000, 0) }))).toEqual(['weightZero'])
  expect(blocked(change({ share: 0 }))).toEqual(['shareZero'])
  const taken = { takenOfGroup: [[0, 6000]] as ReadinessFacts['takenOfGroup'] }
  expect(found(change({ group: 'front', share: 5000 }, taken), 'groupFull')).toEqual([{ code: 'groupFull', free: 4000, by: [] }])
  const beside = { ofGroup: [{ name: 'Menu', share: 6000, isLive: true }] }
  expect(found(change({ group: 'front', share: 5000 }, { ...taken, ...beside }), 'groupFull')).toMatchObject([{ by: ['Menu'] }])
  // What leaves nothing for others is told before it starts, with the part that leaves as much for each.
  expect(advised(change({ group: 'front', share: 10_000 }))).toContain('groupTaken')
  const two = { ofGroup: [1, 2].map((at) => ({ name: `T${at}`, share: 10_000, isLive: false })) }
  expect(found(change({ group: 'front', share: 10_000 }, two), 'groupTaken')).toEqual([
    { code: 'groupTaken', fair: 3333, others: 2 },
  ])
  expect(advised(change({ group: 'front', share: 3333 }, two))).not.toContain('groupTaken')
  expect(advised(change({ share: 10_000 }))).not.toContain('groupTaken')
  expect(blocked(change({ group: 'front', share: 4000 }, taken))).toEqual([])
  expect(blocked(change({ share: 5000 }, taken))).toEqual([])
})

test('a part is on the published page, and what is no page on one of them', () => {
  const gone = change({}, { published: new Map([[page.id, { ...page, nodes: { root: page.nodes.root } as never }]]) })
  expect(found(gone, 'partUnpublished')).toEqual([{ code: 'partUnpublished', document: 'home', pagePublished: true }])
  expect(found(change({}, { published: new Map() }), 'partUnpublished')).toEqual([
    { code: 'partUnpublished', document: 'home', pagePublished: false },
  ])
  const shared = { published: new Map([[page.id, { ...page, kind: 'shared' as const }]]) }
  expect(blocked(change({}, shared))).toEqual(['partNowhere'])
  expect(blocked(change({}, { ...shared, places: new Map([[page.id, 0]]) }))).toEqual(['partNowhere'])
  expect(blocked(change({}, { ...shared, places: new Map([[page.id, 1]]) }))).toEqual([])
})

test('the address is that of a page as a whole, in one edit of several', () => {
  const ofPage = (...edits: Edit[]) => blocked(change({ node: page.root }, edited(...edits)))
  expect(ofPage(words('New'), set('root', 'path', '/other'))).toEqual(['addressChanged'])
  expect(ofPage(set('root', 'title', 'Other'))).toEqual([])
  expect(ofPage(set('title', 'path', '/other'))).not.toContain('addressChanged')
  const shared = { published: new Map([[page.id, { ...page, kind: 'shared' as const }]]), places: new Map([[page.id, 1]]) }
  expect(blocked(change({ node: page.root }, { ...edited(set('root', 'path', '/x')), ...shared }))).toEqual([])
})

test('a page that is blank in the original too is said of each', () => {
  expect(found(change({}, { shown: shownAs({ blank: true }, { blank: true }) }), 'pageBlank')).toEqual([
    { code: 'pageBlank', version: ORIGINAL, document: 'home' },
    { code: 'pageBlank', version: bold, document: 'home' },
  ])
})

test('another test is in the way where it varies one of the same parts, or where one hides the other', () => {
  const other = (...nodes: string[]) => ({
    others: [
      {
        test: 't-2' as TestId,
        name: 'Other',
        touches: nodes.map((node) => ({ document: page.id, node: node as NodeId })),
      },
    ],
  })
  expect(found(change({}, other('title')), 'testMeetsTest')).toEqual([{ code: 'testMeetsTest', test: 't-2', name: 'Other' }])
  expect(blocked(change({}, other('button', 'title')))).toEqual(['testMeetsTest'])
  expect(blocked(change({}, other('button')))).toEqual([])
  expect(blocked(change({}, { ...other('button'), shown: { ...shownAs(), hides: ['t-2' as TestId] } }))).toEqual([
    'testMeetsTest',
  ])
  expect(blocked(change({}, { ...other('button'), shown: { ...shownAs(), hides: ['t-3' as TestId] } }))).toEqual([])
})

test('where a variant leads is told with whether that is all that differs, and never of the original', () => {
  const leads = (address: string) => ({ links: [{ address, words: 'Plans', answers: true }] })
  const shown = shownAs({}, leads('/other'))
  const said = (...edits: Edit[]) => found(change({}, { shown, ...edited(...edits) }), 'leadsElsewhere')
  expect(said(words('New'))).toEqual([{ code: 'leadsElsewhere', version: bold, address: '/other', alone: true }])
  expect(said(words('New'), set('button', 'link', 'page:other'))).toMatchObject([{ alone: false }])
  expect(found(change({}, { shown: shownAs(leads('/other')) }), 'leadsElsewhere')).toMatchObject([{ version: bold }])
})

test('a goal that is watched is advised on, once, and the one that decides is in the way', () => {
  const gone = (id: string) => goalSchema.parse({ id, name: id, wiring: { kind: 'click', document: 'home', node: 'gone' } })
  const watched = gone('watched')
  const of = change({ watched: [watched.id] }, { goals: [pressed, watched] })
  expect(blocked(of)).toEqual([])
  expect(readiness(of).advises).toMatchObject([{ code: 'goalGone', goal: 'watched' }])
  expect(advised(change({ watched: [pressed.id] }))).toEqual([])
  expect(advised(change({ watched: ['unknown' as GoalId] }))).toEqual([])
  expect(blocked(change({ primary: null }))).toEqual(['noGoal'])
  expect(blocked(change({ primary: 'unknown' as GoalId }))).toEqual(['noGoal'])
})

test('whoever is sent on is sent to a page that is there and shows itself, and is known there', () => {
  const sends = (to: string) => edited(set('root', 'route', to))
  const other = (root: object = {}) =>
    new Map([
      [page.id, page],
      [
        'other' as DocumentId,
        {
          ...page,
          id: 'other' as DocumentId,
          nodes: { ...page.nodes, root: { type: 'page', children: [], props: {}, ...root } },
        },
      ],
    ]) as ReadinessFacts['published']
  const of = (to: string, published: ReadinessFacts['published'], keeping: ReadinessFacts['design']['keeping'] = 'browser') =>
    change({ node: page.root, keeping }, { ...sends(to), published })
  expect(blocked(of('page:other', other()))).toEqual([])
  expect(found(of('page:gone', other()), 'routeGone')).toEqual([{ code: 'routeGone', version: bold }])
  expect(found(of('page:other', other({ props: { route: 'page:home' } })), 'routeLoops')).toEqual([
    { code: 'routeLoops', version: bold, document: 'other' },
  ])
  expect(found(of('page:home', other()), 'routeLoops')).toEqual([{ code: 'routeLoops', version: bold, document: 'home' }])
  expect(blocked(of('page:other', other(), 'view'))).toEqual(['routeForgotten'])
  expect(blocked(of('page:other', other(), 'visit'))).toEqual([])
  expect(blocked(change({ keeping: 'view' }))).toEqual([])
})
