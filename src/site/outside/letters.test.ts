import { documentSchema } from '@/core/document'
import { passText, signedPass, versionsFor } from '@/core/letter'
import { signerWith } from '@/serving/signer'
import { releaseSchema } from '@/core/release'
import type { DocumentId } from '@/core/ids'
import type { StampedEvent } from '@/core/events'
import { compile } from '../compile/compile'
import { makeSite } from '../site'

const key = 'ab'.repeat(32)
const page = (id: string, path: string, withCall = false) =>
  documentSchema.parse({
    id,
    kind: 'page',
    root: `${id}-root`,
    nodes: {
      [`${id}-root`]: { type: 'page', props: { title: id, path }, children: [`${id}-main`] },
      [`${id}-main`]: { type: 'mainPart', props: {}, children: [`${id}-section`] },
      [`${id}-section`]: { type: 'section', props: {}, children: withCall ? [`${id}-call`] : [] },
      ...(withCall ? { [`${id}-call`]: { type: 'callToAction', props: { callToAction: 'reserve' }, children: [] } } : {}),
    },
  })
const call = documentSchema.parse({
  id: 'reserve',
  kind: 'callToAction',
  root: 'reserve-root',
  nodes: { 'reserve-root': { type: 'callToActionText', props: { title: 'Reserve', link: 'page:cellos' }, children: [] } },
})
const round = {
  id: 't-1-r1',
  test: 't-1',
  number: 1,
  design: {
    name: 'The call',
    problem: '',
    change: '',
    expected: '',
    document: 'reserve',
    node: 'reserve-root',
    arms: [
      { version: 'original', weight: 5000 },
      { version: 'elsewhere', weight: 5000 },
    ],
    share: 10_000,
    primary: null,
    watched: [],
    smallestEffect: 0.05,
  },
  versions: [
    {
      id: 'elsewhere',
      name: 'Elsewhere',
      edits: [{ kind: 'set', node: 'reserve-root', prop: 'link', value: 'page:violins#prices' }],
    },
  ],
  goals: [],
  salt: 't-1',
  plannedTotal: 1000,
  paused: false,
}
const release = releaseSchema.parse({
  documents: [page('front', '/', true), page('cellos', '/cellos'), page('violins', '/violins'), call],
  rounds: [round],
  personalizations: [],
  goals: [],
  letterKey: key,
})
const agent = 'Mozilla/5.0 (X11; Linux) Chrome/140'

function letterSite() {
  const events: StampedEvent[] = []
  const compiled = compile(release, { script: '', style: '' })
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: (written) => Promise.resolve(void events.push(...written)),
    keepEntry: () => Promise.resolve(),
    now: () => 1_700_000_000_000,
    log: () => undefined,
  })
  const get = async (url: string, cookie = '') => {
    const answer = await site.inject({ url, headers: { 'user-agent': agent, cookie } })
    // What is counted is written in the turn of the loop that comes next, before whatever asks for one after it.
    await new Promise((next) => setImmediate(next))
    const cookies = answer.cookies.map(({ name, value }) => `${name}=${value}`).join('; ')
    return { answer, cookies, location: answer.headers.location }
  }
  return { events, get }
}

/** A recipient who was drawn the version that leads elsewhere. */
const recipient =
  Array.from({ length: 50 }, (_, n) => n.toString(16).padStart(32, '0')).find(
    (id) => versionsFor(id, ['reserve' as DocumentId], release.rounds)[0]?.version === 'elsewhere',
  ) ?? ''
const [drawn] = versionsFor(recipient, ['reserve' as DocumentId], release.rounds)
const passed = { letter: 7, recipient, carried: new Map([[drawn!.test!, drawn!.version]]) }
const pass = signedPass(passed, signerWith(key))
const followed = `/letter/follow?pass=${pass}&call=reserve&utm_source=newsletter`

test('a link leads where the version in the letter leads, with its marks, and counts for its recipient once', async () => {
  const { events, get } = letterSite()
  const { location, cookies } = await get(followed)
  await get(followed, cookies)
  expect(location).toBe('/violins?utm_source=newsletter#prices')
  expect(cookies).toBe(`visitor=${recipient}; kept=t-1~elsewhere`)
  expect(events).toMatchObject([
    { kind: 'letter', did: 'followed', letter: 7, recipient, visitor: recipient },
    { id: events[0]?.id, kind: 'letter' },
  ])
})

test('whoever has an id of their own is shown what the letter showed, but takes no part in the test by following', async () => {
  const { events, get } = letterSite()
  const own = `visitor=${'e'.repeat(32)}`
  const { cookies } = await get(followed, own)
  expect(cookies).toBe('kept=t-1~elsewhere~c')
  const { answer } = await get('/', `${own}; ${cookies}`)
  expect(answer.body).toContain('href="/violins#prices"')
  expect(events.map(({ kind }) => kind)).toEqual(['letter'])
})

test('opening the letter shows its calls to action and enrols in the tests that it carries', async () => {
  const { events, get } = letterSite()
  await get(`/letter/image?pass=${pass}&calls=reserve.nothing`)
  expect(events.map(({ kind, visitor }) => [kind, visitor])).toEqual([
    ['letter', recipient],
    ['assigned', recipient],
    ['seen', recipient],
  ])
})

test.each([
  'x',
  `0.${recipient}`,
  `7.${'g'.repeat(32)}`,
  passText(passed),
  signedPass(passed, signerWith('cd'.repeat(32))),
  pass.replace('7.', '8.'),
])('a link that is none of ours leads nowhere: %s', async (text) => {
  const { events, get } = letterSite()
  expect((await get(`/letter/follow?pass=${text}&call=reserve`)).answer.statusCode).toBe(404)
  await get(`/letter/image?pass=${text}&calls=reserve`)
  expect(events).toEqual([])
})
