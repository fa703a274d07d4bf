import type { Condition } from '@/core/decide'
import type { GoalId, NodeId } from '@/core/ids'
import type { Database } from '../database/connect'
import { act, attempt, donePage, editor, freshDatabase, publisher, readyTest, testPage } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const place = { document: testPage.id, node: 'front-text' as NodeId }
const phone: Condition = { kind: 'device', device: 'phone' }
const look = (visitor: object, page: string | null = null) => act(db, editor, 'lens.look', { page: page as never, visitor })
const words = (answer: { readonly body: unknown }) => (answer.body as { fault?: string }).fault ?? ''

test('a page is what this visitor would be sent, by rule and by chance, with the reason', async () => {
  expect((await look({ device: 'phone' })).parts).toEqual([])
  const goal: GoalId = (
    await act(db, editor, 'goal.create', { name: 'Went on', wiring: { kind: 'page', document: donePage.id } })
  ).id
  const { id, lock } = await act(db, editor, 'version.create', { ...place, manner: 'rule', from: null })
  await act(db, editor, 'version.save', {
    ...{ id, lock, name: 'Short', condition: { kind: 'all', of: [phone] } },
    edits: [{ kind: 'set', node: place.node, prop: 'words', value: '<p>Short words</p>' }],
  })
  const { plan } = await act(db, editor, 'personalization.read', place)
  await act(db, editor, 'personalization.plan', { ...place, lock: 0, plan: { ...plan, primary: goal } })
  await act(db, publisher, 'personalization.publish', place)
  const ready = await readyTest(db, 'Other')
  await act(db, publisher, 'test.start', { test: ready.test, lock: ready.lock })

  const people = await Promise.all(Array.from({ length: 30 }, (_, n) => look({ device: 'phone', person: n + 1 })))
  const shown = people.map(({ html, parts }) => {
    const rule = parts.find(({ test }) => test === null)
    const chance = parts.find(({ test }) => test !== null)
    // What is said is what stands in the page.
    expect(html.includes('Short words')).toBe(rule?.versionName === 'Short')
    expect(/<h2[^>]*>Other</.test(html)).toBe(chance?.versionName === 'Variant 1')
    expect(html).not.toContain('<script')
    return `${rule?.reason.code} ${chance?.versionName}`
  })
  expect(new Set(shown)).toEqual(
    new Set(['ruleMatched Original', 'ruleMatched Variant 1', ...shown.filter((one) => one.startsWith('heldOut'))]),
  )
  const stranger = await look({ device: 'computer', person: 1 })
  expect(stranger.parts.find(({ test }) => test === null)).toMatchObject({
    versionName: 'Original',
    reason: { code: 'noRuleMatched', rule: null },
    rules: [{ name: 'Short', asks: { kind: 'all', of: [phone] } }],
  })
  // Nothing of it was counted or kept.
  expect(await db('events')).toEqual([])
})

test('saved visitors stand beside all that varies, each with what the site would give them', async () => {
  const parent = { device: 'phone' as const, person: 7 }
  const { id } = await act(db, editor, 'lens.save', { name: 'Parent', visitor: parent })
  // Saved again under its name, it takes the place of the other.
  expect(await act(db, editor, 'lens.save', { name: 'parent', visitor: { ...parent, region: 'XP-HA' } })).toEqual({ id })
  const { visitors } = await act(db, editor, 'lens.saved', {})
  expect(visitors).toMatchObject([{ id, name: 'parent', visitor: { region: 'XP-HA', person: 7 }, by: 'Emil' }])
  const matrix = await act(db, editor, 'lens.matrix', {
    visitors: [...visitors.map(({ name, visitor }) => ({ name, visitor })), { name: 'Stranger', visitor: {} }],
  })
  expect(matrix.columns.map(({ test, versions }) => [test, versions.map(({ name }) => name)])).toEqual([
    [null, ['Original', 'Short']],
    ['Heading on Front', ['Original', 'Variant 1']],
  ])
  const alone = await look({ ...parent, region: 'XP-HA' })
  expect(matrix.rows[0]?.cells.map(({ version }) => version)).toEqual(alone.parts.map(({ version }) => version))
  expect(matrix.rows[1]?.cells[0]?.reason.code).toBe('noRuleMatched')
  await act(db, editor, 'lens.remove', { id })
  expect((await attempt(db, editor, 'lens.remove', { id })).status).toBe(404)
})

test.each<[string, Parameters<typeof look>[0], string | null, RegExp]>([
  ['a page that is not published', {}, 'nowhere', /no longer there|is not|A published page/],
  ['a day that is none', { day: '2026-02-30' }, null, /day/],
  ['pages without end', { pagesSeen: Array.from({ length: 31 }, () => 'front') }, null, /pagesSeen/],
])('%s cannot be looked at', async (_, visitor, page, why) => {
  const answer = await attempt(db, editor, 'lens.look', { page: page as never, visitor })
  expect(answer.status).toBeGreaterThanOrEqual(400)
  expect(words(answer)).toMatch(why)
})

test('of two who save a visitor under one new name at the same moment, the last takes the place of the first', async () => {
  const save = (person: number) => attempt(db, editor, 'lens.save', { name: 'At once', visitor: { person } })
  const answers = await Promise.all([save(1), save(2), save(3)])
  expect(answers.map(({ status }) => status)).toEqual([200, 200, 200])
  const { visitors } = await act(db, editor, 'lens.saved', {})
  expect(visitors.filter(({ name }) => name === 'At once')).toHaveLength(1)
})
