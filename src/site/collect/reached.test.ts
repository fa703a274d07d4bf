import { documentSchema } from '@/core/document'
import { goalSchema } from '@/core/goals'
import { versionSchema } from '@/core/experiment'
import { releaseSchema } from '@/core/release'
import { compile } from '../compile/compile'
import { makeSite } from '../site'

const page = documentSchema.parse({
  id: 'front',
  kind: 'page',
  root: 'root',
  nodes: {
    root: { type: 'page', props: { title: 'Front', path: '/' }, children: ['main'] },
    main: { type: 'mainPart', props: {}, children: ['part'] },
    part: { type: 'section', props: {}, children: ['title', 'button', 'form'] },
    title: { type: 'heading', props: { words: 'Hello' }, children: [] },
    button: { type: 'button', props: { words: 'On', link: 'page:front' }, children: [] },
    form: { type: 'form', props: { buttonWords: 'Send', next: 'page:front' }, children: [] },
  },
})
const pressed = goalSchema.parse({ id: 'pressed', name: 'Pressed', wiring: { kind: 'click', document: 'front', node: 'button' } })
const sent = goalSchema.parse({ id: 'sent', name: 'Sent', wiring: { kind: 'form', document: 'front', node: 'form' } })
const other = goalSchema.parse({ id: 'other', name: 'Other', wiring: { kind: 'page', document: 'front' } })
const rule = {
  id: 'front.title',
  document: 'front',
  node: 'title',
  rules: [
    {
      version: versionSchema.parse({
        id: 'again',
        name: 'Again',
        edits: [{ kind: 'set', node: 'title', prop: 'words', value: 'Welcome back' }],
      }),
      condition: { kind: 'goalReached', goal: 'pressed', reached: true },
    },
  ],
  holdout: 0,
}
const visitor = '1'.repeat(32)
const agent = { 'user-agent': 'Mozilla/5.0 (X11; Linux) Chrome/140' }

function siteWith(personalizations: unknown[]) {
  const compiled = compile(
    releaseSchema.parse({
      documents: [page],
      rounds: [],
      personalizations,
      goals: [pressed, other, sent],
      letterKey: '00'.repeat(32),
    }),
    { script: '', style: '' },
  )
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: () => Promise.resolve(),
    keepEntry: () => Promise.resolve(),
    now: () => 1_700_000_000_000,
    log: () => undefined,
  })
  const report = async (node: string, cookie = `visitor=${visitor}`) => {
    const event = { i: 'a'.repeat(32), k: 'click', n: [node] }
    const answer = await site.inject({
      method: 'POST',
      url: '/collect',
      headers: { ...agent, 'content-type': 'text/plain', cookie },
      payload: JSON.stringify({ d: 'front', e: [event] }),
    })
    return { status: answer.statusCode, cookie: /reached=([^;]*)/.exec(String(answer.headers['set-cookie'] ?? ''))?.[1] ?? null }
  }
  /** Of sending the form: the status, and what the browser is told. */
  const send = async (headers: object) => {
    const answer = await site.inject({
      method: 'POST',
      url: '/forms/front/form',
      headers: { ...agent, 'content-type': 'application/x-www-form-urlencoded', cookie: `visitor=${visitor}`, ...headers },
      payload: 'name=Nelly',
    })
    return [answer.statusCode, /reached=([^;]*)/.exec(String(answer.headers['set-cookie'] ?? ''))?.[1] ?? null]
  }
  const words = async (cookie: string) =>
    /<h2[^>]*>([^<]*)</.exec((await site.inject({ url: '/', headers: { ...agent, cookie } })).body)?.[1]
  return { report, send, words }
}

test('a browser is told of a goal that some rule asks for, and gets what the rule gives from then on', async () => {
  const { report, words } = siteWith([rule])
  const { status, cookie } = await report('button')
  expect([status, cookie]).toEqual([204, expect.stringMatching(/^pressed\.[\w-]{22}$/)])
  expect(await words(`visitor=${visitor}`)).toBe('Hello')
  expect(await words(`visitor=${visitor}; reached=${cookie}`)).toBe('Welcome back')
  // Another press is no news.
  expect((await report('button', `visitor=${visitor}; reached=${cookie}`)).cookie).toBeNull()
})

test('nobody can say it of themselves, or with what somebody else was given', async () => {
  const { report, words } = siteWith([rule])
  const { cookie } = await report('button')
  for (const said of ['pressed', `pressed.${'A'.repeat(22)}`, `pressed~other.${cookie?.split('.')[1]}`, 'constructor'])
    expect(await words(`visitor=${visitor}; reached=${said}`)).toBe('Hello')
  expect(await words(`visitor=${'2'.repeat(32)}; reached=${cookie}`)).toBe('Hello')
})

test('a form that was sent is told of at once, and to nobody who is left out', async () => {
  const { send } = siteWith([
    { ...rule, rules: [{ ...rule.rules[0], condition: { kind: 'goalReached', goal: 'sent', reached: true } }] },
  ])
  expect(await send({})).toEqual([303, expect.stringMatching(/^sent\.[\w-]{22}$/)])
  expect(await send({ 'sec-gpc': '1' })).toEqual([303, null])
  expect(await send({ cookie: '' })).toEqual([303, null])
})

test('where no rule asks, and for what none asks for, browsers are given nothing to keep', async () => {
  expect((await siteWith([]).report('button')).cookie).toBeNull()
  expect((await siteWith([rule]).report('title')).cookie).toBeNull()
})
