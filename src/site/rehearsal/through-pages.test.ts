import { documentSchema } from '@/core/document'
import { roundSchema } from '@/core/experiment'
import { goalSchema, type Goal } from '@/core/goals'
import type { VersionId } from '@/core/ids'
import { usualMix, visitors, type Mishap, type Mix } from '@/core/simulate'
import { compiledWith, frontPage, greetingRound } from '../test-site'
import { ParsedPage } from './parsed-page'
import { throughPages, type Truth } from './through-pages'

const [original, warm] = ['original', 'warm'] as [VersionId, VersionId]
const front = frontPage(
  {
    title: { type: 'heading', props: { words: 'Hello' } },
    button: { type: 'button', props: { words: 'Reserve', to: 'page:thanks' } },
    ask: { type: 'form', props: { buttonWords: 'Send', next: 'page:thanks' }, children: ['field'] },
  },
  { field: { type: 'formField', props: { name: 'mail', label: 'E-mail', kind: 'email', required: true } } },
)
const thanks = documentSchema.parse({
  ...{ id: 'thanks', kind: 'page', root: 'thanks-root' },
  nodes: {
    'thanks-root': { type: 'page', props: { title: 'Thank you', path: '/thanks' }, children: ['thanks-main'] },
    'thanks-main': { type: 'mainPart', props: {}, children: ['thanks-part'] },
    'thanks-part': { type: 'section', props: {}, children: ['thanks-title'] },
    'thanks-title': { type: 'heading', props: { words: 'Thank you' }, children: [] },
  },
})
const goal = (wiring: object): Goal => goalSchema.parse({ id: 'reached', name: 'Reached', wiring })
const startsAt = new Date('2026-03-02T00:00:00Z')

/** 300 visitors of a greeting whose variant is changed by these edits. */
async function rehearsed(
  wanted: Goal,
  of: {
    edits?: readonly object[]
    mishap?: Mishap
    mix?: Partial<Mix>
    goals?: readonly Goal[]
    release?: object
    others?: Truth['others']
  } = {},
) {
  const { edits = [{ kind: 'set', node: 'title', prop: 'words', value: 'Welcome' }], mishap = 'none', mix = {}, goals = [] } = of
  const { release = {}, others = [] } = of
  const round = roundSchema.parse({
    ...greetingRound('t-1', { primary: 'reached' }),
    versions: [{ id: 'warm', name: 'Warm', edits }],
    goals: [wanted, ...goals],
    pages: ['front'],
  })
  const compiled = compiledWith({
    documents: [front, thanks],
    rounds: [{ ...round, paused: false }],
    goals: [wanted, ...goals],
    ...release,
  })
  const truths = new Map<VersionId, Truth>([
    [original, { rate: 0.3, mishap: 'none' }],
    [warm, { rate: 0.6, mishap, others }],
  ])
  const rehearsal = await throughPages(compiled, {
    round,
    crowd: 7,
    truths,
    startsAt,
    worth: { mean: 40, noise: 'little' },
  })
  for (const visitor of visitors({ seed: 5, visitors: 300, days: 3, startsAt, mix: { ...usualMix, ...mix } }))
    await rehearsal.send(visitor)
  const events = await rehearsal.take()
  await rehearsal.close()
  const of_ = (kind: string, version?: VersionId) =>
    events.filter((event) => event.kind === kind && (version === undefined || ('version' in event && event.version === version)))
  return { events, of: of_, found: rehearsal.found }
}
const people = (events: readonly { readonly visitor: string }[]) => new Set(events.map(({ visitor }) => visitor)).size

test('whoever comes is drawn and served by the site itself, on the visitor’s own day, and counted for the rehearsal alone', async () => {
  const { events, of, found } = await rehearsed(goal({ kind: 'click', document: 'front', node: 'button' }))
  expect(people(of('assigned'))).toBe(300)
  expect(people(of('seen', original)) + people(of('seen', warm))).toBe(300)
  expect(people(of('seen', warm))).toBeGreaterThan(110)
  expect(
    events.every(({ crowd, at }) => crowd === 7 && at >= startsAt && at.getTime() < startsAt.getTime() + 4 * 86_400_000),
  ).toBe(true)
  expect(new Set(events.map(({ id }) => id)).size).toBe(events.length)
  const pressed = people(of('click'))
  expect(pressed).toBeGreaterThan(300 * 0.3)
  expect(pressed).toBeLessThan(300 * 0.6)
  expect(found).toMatchObject({ bots: 0, cameBack: 0, wrong: [] })
})

test.each<[string, Goal, string, Goal[]]>([
  [
    'a form is filled in and sent, and the page after it comes',
    goal({ kind: 'form', document: 'front', node: 'ask' }),
    'form',
    [],
  ],
  ['a page is opened', goal({ kind: 'page', document: 'thanks' }), 'page', []],
  [
    'steps are taken one after the other',
    goal({ kind: 'steps', goals: ['pressed', 'sent'] }),
    'form',
    [
      goalSchema.parse({ id: 'pressed', name: 'Pressed', wiring: { kind: 'click', document: 'front', node: 'button' } }),
      goalSchema.parse({ id: 'sent', name: 'Sent', wiring: { kind: 'form', document: 'front', node: 'ask' } }),
    ],
  ],
])('%s', async (_, wanted, kind, goals) => {
  const { of, found } = await rehearsed(wanted, { goals })
  expect(found.wrong).toEqual([])
  const reached = kind === 'page' ? of('page').filter((event) => 'document' in event && event.document === 'thanks') : of(kind)
  expect(people(reached)).toBeGreaterThan(300 * 0.3)
  expect(people(reached)).toBeLessThan(300 * 0.6)
})

test('a variant on which the goal cannot be reached is told with what is missing, and how many met it', async () => {
  const gone = [{ kind: 'remove', node: 'button' }]
  const { of, found } = await rehearsed(goal({ kind: 'click', document: 'front', node: 'button' }), { edits: gone })
  expect(found.wrong).toEqual([
    { version: warm, words: 'what is to be pressed is not on the page', times: expect.any(Number) as number },
  ])
  expect(found.wrong[0]?.times).toBeGreaterThan(50)
  expect(people(of('click'))).toBeLessThan(300 * 0.25)
})

test('bots are shown the original, keep nothing and are counted nowhere; who comes back keeps what they had', async () => {
  const { of, found } = await rehearsed(goal({ kind: 'page', document: 'thanks' }), { mix: { bots: 0.5, returning: 1 } })
  expect(found.bots).toBeGreaterThan(100)
  expect(people(of('page'))).toBe(300 - found.bots)
  expect(found.cameBack).toBe(300 - found.bots)
  expect(found.wrong).toEqual([])
  expect(people(of('assigned'))).toBe(300 - found.bots)
})

test('whom the site leaves out is left out for the reason it gives, and who is asked and agrees is counted', async () => {
  const wanted = goal({ kind: 'page', document: 'thanks' })
  const studio = await rehearsed(wanted, { mix: { studioUsers: 0.4 } })
  expect(studio.found).toMatchObject({ bots: 0, withheld: 0, wrong: [] })
  expect(studio.found.studioUsers).toBeGreaterThan(80)
  expect(people(studio.of('page'))).toBe(300 - studio.found.studioUsers)
  const asking = await rehearsed(wanted, { mix: { agree: 0.7 }, release: { consent: { asked: true } } })
  expect(asking.found).toMatchObject({ studioUsers: 0, wrong: [] })
  expect(asking.found.withheld).toBeGreaterThan(50)
  expect(people(asking.of('assigned'))).toBe(300 - asking.found.withheld)
  // A site that counts bots is not told off for it.
  const counting = await rehearsed(wanted, { mix: { bots: 0.4 }, release: { leavingOut: { bots: false } } })
  expect(counting.found).toMatchObject({ bots: 0, wrong: [] })
  expect(people(counting.of('assigned'))).toBe(300)
})

test('a goal that is counted besides is reached as often as was set, and an order is worth what was drawn for it', async () => {
  const asked = goalSchema.parse({ id: 'asked', name: 'Asked', wiring: { kind: 'event', event: 'asked' } })
  const others = [{ goal: asked.id, rate: 0.5 }]
  const { of } = await rehearsed(goal({ kind: 'click', document: 'front', node: 'button' }), { goals: [asked], others })
  const warmOnes = new Set(of('seen', warm).map(({ visitor }) => visitor))
  const askers = of('event')
  expect(askers.every(({ visitor }) => warmOnes.has(visitor))).toBe(true)
  expect(people(askers) / warmOnes.size).toBeGreaterThan(0.38)
  expect(people(askers) / warmOnes.size).toBeLessThan(0.62)
  expect(new Set(askers.map((event) => ('value' in event ? event.value : null))).size).toBeGreaterThan(20)
})

test('what has gone wrong unnoticed is there to be found: one in ten does not report, a button does nothing', async () => {
  const wanted = goal({ kind: 'click', document: 'front', node: 'button' })
  const lost = await rehearsed(wanted, { mishap: 'lost' })
  expect(people(lost.of('seen', warm)) / people(lost.of('assigned', warm))).toBeLessThan(1)
  expect(people(lost.of('seen', original))).toBe(people(lost.of('assigned', original)))
  const dead = await rehearsed(wanted, { mishap: 'deadButton' })
  expect(people(dead.of('click'))).toBeLessThan(300 * 0.25)
})

test('a page is asked as the site’s own script asks it, whatever stands in it', () => {
  const page = new ParsedPage(
    `<html data-d="front" data-e="r-2/v " data-t="10 30"><body><section data-n="s" data-m="buy"><a data-n="a" href="/x"><b>Go</b></a>
     <p data-n="p">No link</p></section><div data-n="d'&quot;]" data-e="r-1/original"></div></body></html>`,
  )
  expect(page.varying).toEqual(['r-2/v', 'r-1/original'])
  expect(page.pressOn({ node: 'a' as never })).toEqual({ nodes: ['a', 's'], markers: ['buy'] })
  expect(page.pressOn({ marker: 'buy' })).toEqual({ nodes: ['a', 's'], markers: ['buy'] })
  expect(page.pressOn({ node: 'p' as never })).toBeNull()
  expect(page.pressOn({ node: `d'"]` as never })).toBeNull()
  expect(page.has(`d'"]` as never)).toBe(true)
  expect(page.formAt('front', 'ask' as never)).toBeNull()
  expect(page.tells('data-t')).toEqual(['10', '30'])
})
