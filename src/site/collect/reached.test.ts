import { goalSchema } from '@/core/goals'
import type { GoalId } from '@/core/ids'
import { frontPage, greetingRules, saying, siteOf } from '../test-site'

const page = frontPage({
  title: { type: 'heading', props: { words: 'Hello' } },
  button: { type: 'button', props: { words: 'On', link: 'page:front' } },
  form: { type: 'form', props: { buttonWords: 'Send', next: 'page:front' } },
})
const goal = (id: string, wiring: object, more: object = {}) => goalSchema.parse({ id, name: id, wiring, ...more })
const goals = [
  goal('pressed', { kind: 'click', document: 'front', node: 'button' }),
  goal('sent', { kind: 'form', document: 'front', node: 'form' }),
  goal('other', { kind: 'page', document: 'front' }),
]
const whoReached = (id: string) =>
  greetingRules({ version: saying('Welcome back'), condition: { kind: 'goalReached', goal: id, reached: true } })
const visitor = '1'.repeat(32)

function siteWith(personalizations: unknown[]) {
  const { post, heading } = siteOf({ documents: [page], personalizations, goals })
  const told = (answer: { readonly headers: object }) =>
    /reached=([^;]*)/.exec(String('set-cookie' in answer.headers ? answer.headers['set-cookie'] : ''))?.[1] ?? null
  const report = async (node: string, cookie = `visitor=${visitor}`) => {
    const event = { i: 'a'.repeat(32), k: 'click', n: [node] }
    const answer = await post('/collect', JSON.stringify({ d: 'front', e: [event] }), { cookie })
    return { status: answer.statusCode, cookie: told(answer) }
  }
  /** Of sending the form: the status, and what the browser is told. */
  const send = async (headers: Record<string, string> = {}) => {
    const form = { 'content-type': 'application/x-www-form-urlencoded', cookie: `visitor=${visitor}` }
    const answer = await post('/forms/front/form', 'name=Nelly', { ...form, ...headers })
    return { status: answer.statusCode, cookie: told(answer) }
  }
  return { report, send, words: (cookie: string) => heading({ cookie }) }
}

test('a browser is told of a goal that some rule asks for, and gets what the rule gives from then on', async () => {
  const { report, words } = siteWith([whoReached('pressed')])
  const { status, cookie } = await report('button')
  expect([status, cookie]).toEqual([204, expect.stringMatching(/^pressed\.[\w-]{22}$/)])
  expect(await words(`visitor=${visitor}`)).toBe('Hello')
  expect(await words(`visitor=${visitor}; reached=${cookie}`)).toBe('Welcome back')
  // Another press is no news.
  expect((await report('button', `visitor=${visitor}; reached=${cookie}`)).cookie).toBeNull()
})

test('nobody can say it of themselves, or with what somebody else was given', async () => {
  const { report, words } = siteWith([whoReached('pressed')])
  const { cookie } = await report('button')
  for (const said of ['pressed', `pressed.${'A'.repeat(22)}`, `pressed~other.${cookie?.split('.')[1]}`, 'constructor'])
    expect(await words(`visitor=${visitor}; reached=${said}`)).toBe('Hello')
  expect(await words(`visitor=${'2'.repeat(32)}; reached=${cookie}`)).toBe('Hello')
})

test('a form that was sent is told of at once, and to nobody who is left out', async () => {
  const { send } = siteWith([whoReached('sent')])
  expect(await send()).toEqual({ status: 303, cookie: expect.stringMatching(/^sent\.[\w-]{22}$/) })
  expect(await send({ 'sec-gpc': '1' })).toEqual({ status: 303, cookie: null })
  expect(await send({ cookie: '' })).toEqual({ status: 303, cookie: null })
})

describe('what no page can tell', () => {
  const ordered = goal('ordered', { kind: 'order' })
  const through = goal('through', { kind: 'steps', goals: ['pressed', 'sent'] })
  const cookie = `visitor=${visitor}`
  const siteHearing = (...heard: string[]) =>
    siteOf(
      { documents: [page], personalizations: [whoReached('through')], goals: [...goals, ordered, through] },
      { heardOf: (who) => (who === visitor ? (heard as GoalId[]) : []) },
    )

  test('is heard of, decides from the next page on, and is told to the browser', async () => {
    const { get } = siteHearing('through')
    const answer = await get('/', { cookie })
    expect(answer.body).toContain('Welcome back')
    const told = /reached=([^;]*)/.exec(String(answer.headers['set-cookie']))?.[1] ?? ''
    expect(told).toMatch(/^through\.[\w-]{22}$/)
    // Kept there, it holds when this process has forgotten.
    const later = await siteHearing().get('/', { cookie: `${cookie}; reached=${told}` })
    expect([later.body.includes('Welcome back'), String(later.headers['set-cookie']).includes('reached')]).toEqual([true, false])
  })

  test('is nothing to others, nor to whom nothing may be kept of, nor where no rule asks for it', async () => {
    const { get } = siteHearing('through', 'other')
    const others: Record<string, string>[] = [{ cookie: `visitor=${'2'.repeat(32)}` }, { cookie, 'sec-gpc': '1' }]
    for (const headers of others) expect(String((await get('/', headers)).headers['set-cookie'])).not.toContain('reached')
    const unasked = await siteHearing('ordered', 'constructor').get('/', { cookie })
    expect([unasked.body.includes('Welcome back'), String(unasked.headers['set-cookie']).includes('reached')]).toEqual([
      false,
      false,
    ])
  })
})

test('where no rule asks, and for what none asks for, browsers are given nothing to keep', async () => {
  expect((await siteWith([]).report('button')).cookie).toBeNull()
  expect((await siteWith([whoReached('pressed')]).report('title')).cookie).toBeNull()
})
