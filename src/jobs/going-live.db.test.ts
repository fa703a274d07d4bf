import * as z from 'zod'
import type { VersionId } from '@/core/ids'
import { documentSchema, type Edit } from '@/core/document'
import type { Design } from '@/core/experiment'
import type { Release } from '@/core/release'
import { connect, type Database } from '@/server/database/connect'
import { goLive } from '@/server/database/go-live'
import { createDocument, publishBody, readDocument } from '@/server/stores/documents'
import { makeRelease, newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { readSettings } from '@/server/stores/settings'
import { act, administrator, donePage, editor, freshDatabase, publisher } from '@/server/test-database'
import { adaptSplits, keepTime } from './by-the-clock'

/** Something that goes live, made ready to be done, done, and found again in the release that must hold it. */
interface Command {
  readonly ready: () => Promise<void>
  readonly run: () => Promise<unknown>
  readonly isIn: (release: Release) => boolean
}

let db: Database
/** Another program, which holds up whatever is about to be written into the audit trail: the last thing that a command does. */
let other: Database
let count = 0
beforeAll(async () => {
  await (await freshDatabase()).destroy()
  // As many as wait for each other at the same moment.
  db = connect(process.env, { min: 0, max: 40 })
  other = connect(process.env, { min: 0, max: 2 })
})
afterAll(() => Promise.all([db.destroy(), other.destroy()]))

const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release

/** A page of its own with a heading and a script, published. */
async function newPage() {
  const id = `page-${++count}`
  const [root, main, section, title, script] = ['root', 'main', 'part', 'title', 'script'].map((name) => `${id}-${name}`)
  const page = documentSchema.parse({
    id,
    kind: 'page',
    root,
    nodes: {
      [root ?? '']: { type: 'page', props: { title: id, path: `/${id}` }, children: [main] },
      [main ?? '']: { type: 'mainPart', props: {}, children: [section] },
      [section ?? '']: { type: 'section', props: {}, children: [title, script] },
      [title ?? '']: { type: 'heading', props: { words: 'As it was' }, children: [] },
      [script ?? '']: { type: 'script', props: { code: '0' }, children: [] },
    },
  })
  await goLive(db, async (trx) => {
    await createDocument(trx, page, 100 + count, 'Paula')
    await publishBody(trx, page.id, page, { note: '', author: 'Paula', lock: 0 })
    await makeRelease(trx, 'made', 'Paula')
  })
  const [heading, code] = [title, script].map((node) => page.root && (node as typeof page.root))
  if (heading === undefined || code === undefined) throw new Error('two nodes were expected')
  const lock = async () => (await readDocument(db, page.id)).lock_version
  const edit = async (edits: Edit[], by = editor) =>
    act(db, by, 'document.edit', { document: page.id, base: await lock(), edits })
  const publish = async () => act(db, publisher, 'document.publish', { document: page.id, lock: await lock() })
  const shown = (release: Release) => release.documents.find((document) => document.id === page.id)
  return { page, heading, code, edit, publish, shown, saying: (release: Release) => shown(release)?.nodes[heading]?.props.words }
}

async function publishing(): Promise<Command> {
  const { heading, edit, publish, saying } = await newPage()
  let words = ''
  return {
    ready: async () => void (await edit([{ kind: 'set', node: heading, prop: 'words', value: (words = `Words ${++count}`) }])),
    run: publish,
    isIn: (release) => saying(release) === words,
  }
}

async function moving(): Promise<Command> {
  const { page, edit, publish } = await newPage()
  let [was, is] = ['', `/${page.id}`]
  return {
    ready: async () => {
      ;[was, is] = [is, `/moved-${++count}`]
      await edit([{ kind: 'set', node: page.root, prop: 'path', value: is }])
    },
    run: publish,
    isIn: ({ redirects }) => redirects.some(({ from, document }) => from === was && document === page.id),
  }
}

async function takingOff(): Promise<Command> {
  const { page, publish, shown } = await newPage()
  return {
    ready: async () => void (await publish()),
    run: () => act(db, publisher, 'bin.takeOff', { document: page.id, to: null }),
    isIn: (release) => shown(release) === undefined,
  }
}

async function bringingAScript(): Promise<Command> {
  const { code, edit, publish, shown } = await newPage()
  let words = ''
  return {
    ready: async () =>
      void (await edit([{ kind: 'set', node: code, prop: 'code', value: (words = `${++count}`) }], administrator)),
    run: publish,
    isIn: (release) => shown(release)?.nodes[code]?.props.code === words,
  }
}

async function settling(role: number): Promise<Command> {
  let seconds = 5
  return {
    ready: async () => void (seconds = 1 + (++count % 600)),
    run: () =>
      role === 0
        ? act(db, administrator, 'setting.save', { bounceSeconds: seconds })
        : act(db, administrator, 'setting.save', { scripts: seconds % 2 === 0, timeZone: `Etc/GMT+${seconds % 12}` }),
    isIn: (release) => (role === 0 ? release.bounceSeconds === seconds : release.timeZone === `Etc/GMT+${seconds % 12}`),
  }
}

async function asking(role: number): Promise<Command> {
  let words = ''
  return {
    ready: async () => void (words = `Question ${++count}?`),
    run: async () =>
      role === 0
        ? act(db, administrator, 'setting.save', { consent: { ...(await readSettings(db)).consent, words } })
        : act(db, administrator, 'setting.save', { identity: { ...(await readSettings(db)).identity, name: words } }),
    isIn: ({ consent, identity }) => (role === 0 ? consent.words : identity.name) === words,
  }
}

async function makingAKey(): Promise<Command> {
  let made = ''
  return {
    ready: async () => void (made = ''),
    run: async () => {
      made = (await act(db, administrator, 'key.create', { name: 'Shop', origin: `https://shop-${++count}.example` })).id
    },
    isIn: ({ reporters }) => reporters.some(({ id }) => id === made),
  }
}

async function ruling(): Promise<Command> {
  const { page, heading } = await newPage()
  const place = { document: page.id, node: heading }
  const { id, lock } = await act(db, editor, 'version.create', { ...place, manner: 'rule', from: null })
  let [words, at] = ['', lock]
  return {
    ready: async () => {
      words = `Words ${++count}`
      const edits: Edit[] = [{ kind: 'set', node: heading, prop: 'words', value: words }]
      at = (await act(db, editor, 'version.save', { id, lock: at, edits, condition: { kind: 'device', device: 'phone' } })).lock
    },
    run: () => act(db, publisher, 'personalization.publish', place),
    isIn: ({ personalizations }) => JSON.stringify(personalizations).includes(`"${words}"`),
  }
}

async function segmenting(): Promise<Command> {
  const { page, heading } = await newPage()
  const place = { document: page.id, node: heading }
  const name = `Segment ${++count}`
  const segment = await act(db, editor, 'segment.create', { name, condition: { kind: 'device', device: 'phone' } })
  const version = await act(db, editor, 'version.create', { ...place, manner: 'rule', from: null })
  await act(db, editor, 'version.save', {
    ...{ id: version.id, lock: version.lock, edits: [{ kind: 'set', node: heading, prop: 'words', value: name }] },
    condition: { kind: 'segment', segment: segment.id, fits: true },
  })
  await act(db, publisher, 'personalization.publish', place)
  let [device, lock] = ['phone' as 'phone' | 'tablet', 1]
  return {
    ready: async () => void (device = device === 'phone' ? 'tablet' : 'phone'),
    run: async () => {
      const condition = { kind: 'device' as const, device }
      lock = (await act(db, publisher, 'segment.save', { id: segment.id, lock, name, condition })).lock
    },
    isIn: ({ segments }) => JSON.stringify(segments.find(({ id }) => id === segment.id)?.condition).includes(device),
  }
}

async function countingAGoal(): Promise<Command> {
  const made = await act(db, editor, 'goal.create', { name: 'Came', wiring: { kind: 'event', event: `came-${++count}` } })
  let [name, lock] = ['', 0]
  return {
    ready: async () => {
      name = `Came ${++count}`
      ;({ lock } = await act(db, editor, 'goal.save', { ...made, name, lock }))
    },
    run: () => act(db, publisher, 'goal.publish', { goal: made.id, lock }),
    isIn: ({ goals }) => goals.some((goal) => goal.name === name),
  }
}

/** A test of its own page, and how it comes from wherever it stands to where a command wants it. */
async function newTest(more: Partial<Design> = {}) {
  const { page, heading, saying } = await newPage()
  const place = { document: page.id, node: heading }
  const made = await act(db, editor, 'version.create', { ...place, manner: 'chance', from: null })
  const edits: Edit[] = [{ kind: 'set', node: heading, prop: 'words', value: 'Otherwise' }]
  await act(db, editor, 'version.save', { id: made.id, lock: made.lock, edits })
  const goal = await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: donePage.id } })
  const { test } = await act(db, editor, 'test.create', { parts: [place] })
  const opened = () => act(db, editor, 'test.open', { test })
  const planned = async (changed: Partial<Design>) => {
    const { design, lock } = await opened()
    return (await act(db, publisher, 'test.save', { test, lock, design: { ...design, ...changed } })).lock
  }
  await planned({ primary: goal.id, ...more })
  const reason = 'We like it'
  const steps = {
    draft: { start: async () => act(db, publisher, 'test.start', { test, lock: (await opened()).lock }) },
    scheduled: { start: () => act(db, publisher, 'test.unschedule', { test }) },
    running: {
      pause: () => act(db, publisher, 'test.pause', { test }),
      end: () => act(db, publisher, 'test.end', { test }),
    },
    paused: { goOn: async () => act(db, publisher, 'test.goOn', { test, lock: (await opened()).lock }) },
    ended: {
      again: () => act(db, publisher, 'test.again', { test }),
      decide: () => act(db, publisher, 'test.decide', { test, version: made.id, reason, without: [] }),
    },
    settled: { undo: () => act(db, publisher, 'test.undo', { test }) },
  } as const
  const status = async () => (await opened()).status
  async function to(wanted: 'draft' | 'running' | 'paused' | 'ended' | 'settled'): Promise<void> {
    for (;;) {
      const now = await status()
      if (now === wanted) return
      if (now === 'draft' || now === 'scheduled') await steps[now].start()
      else if (now === 'running') await (wanted === 'paused' ? steps.running.pause() : steps.running.end())
      else if (now === 'paused') await steps.paused.goOn()
      else if (now === 'settled') await steps.settled.undo()
      else await (wanted === 'settled' ? steps.ended.decide() : steps.ended.again())
    }
  }
  const round = ({ rounds }: Release) => rounds.find((one) => one.test === test)
  return { test, variant: made.id, goal: goal.id, steps, to, planned, opened, round, saying }
}

const IN_YEARS = new Date('2040-01-04T12:00:00Z')

const ofTests: Readonly<Record<string, () => Promise<Command>>> = {
  start: async () => {
    const { to, steps, round } = await newTest()
    return { ready: () => to('draft'), run: steps.draft.start, isIn: (release) => round(release)?.paused === false }
  },
  pause: async () => {
    const { to, steps, round } = await newTest()
    return { ready: () => to('running'), run: steps.running.pause, isIn: (release) => round(release)?.paused === true }
  },
  goOn: async () => {
    const { to, steps, round } = await newTest()
    return { ready: () => to('paused'), run: steps.paused.goOn, isIn: (release) => round(release)?.paused === false }
  },
  end: async () => {
    const { to, steps, round } = await newTest()
    return { ready: () => to('running'), run: steps.running.end, isIn: (release) => round(release) === undefined }
  },
  decide: async () => {
    const { to, steps, saying } = await newTest()
    return { ready: () => to('ended'), run: steps.ended.decide, isIn: (release) => saying(release) === 'Otherwise' }
  },
  undo: async () => {
    const { to, steps, saying } = await newTest()
    return { ready: () => to('settled'), run: steps.settled.undo, isIn: (release) => saying(release) === 'As it was' }
  },
  schedule: async () => {
    const { test, to, planned, opened, round } = await newTest()
    return {
      ready: async () => {
        await to('draft')
        const { schedule } = (await opened()).design
        const lock = await planned({ schedule: { ...schedule, start: '2040-01-02T09:00' } })
        await act(db, publisher, 'test.schedule', { test, lock })
      },
      run: () =>
        keepTime(db, IN_YEARS, {
          stopRules: false,
          log: (reason) => {
            throw reason
          },
        }),
      isIn: (release) => round(release)?.paused === false,
    }
  },
  adaptive: async () => {
    const { test, variant, goal, to, opened, round } = await newTest({ adaptive: { floor: 1000, every: 60 } })
    await to('running')
    await countedFor((await opened()).rounds[0]?.id ?? '', variant, goal)
    return {
      ready: async () => {
        const [original, arm] = (await opened()).design.arms
        if (original === undefined || arm === undefined) throw new Error('two arms were expected')
        if (original.weight === 5000) return
        const even = [original, arm].map((one) => ({ ...one, weight: 5000 }))
        await act(db, publisher, 'test.change', { test, arms: even })
      },
      run: () => adaptSplits(db, new Date(IN_YEARS.getTime() + ++count * 3_600_000)),
      isIn: (release) => round(release)?.design.arms[0]?.weight === 1000,
    }
  },
}

/** As if a thousand had seen each version, and twice as many of the variant's had reached the goal. */
async function countedFor(round: string, variant: VersionId, goal: string): Promise<void> {
  const none = {
    assigned: 0,
    exposed: 0,
    converters: 0,
    conversions: 0,
    worth: 0,
    worth_squared: 0,
    visits: 0,
    visits_squared: 0,
  }
  const day = new Date().toISOString().slice(0, 10)
  const key = { crowd: 0, round_id: round, epoch: 1, day, ...none }
  for (const [version, converters] of [
    ['original', 50],
    [variant, 150],
  ] as const) {
    await db('tallies').insert({ ...key, goal_id: '', version, assigned: 1000, exposed: 1000 })
    await db('tallies').insert({ ...key, goal_id: goal, version, converters, conversions: converters })
  }
}

const commands: Readonly<Record<string, (role: number) => Promise<Command>>> = {
  publish: publishing,
  redirect: moving,
  takeOff: takingOff,
  script: bringingAScript,
  setting: settling,
  consent: asking,
  key: makingAKey,
  rule: ruling,
  segment: segmenting,
  goal: countingAGoal,
  ...ofTests,
}

const running = z.array(z.object({ query: z.coerce.number() }))
/** Until so many statements are under way that do not come to an end: they wait for something that another one holds. */
async function waiting(wanted: number): Promise<void> {
  let before: number[] = []
  for (let tries = 0; tries < 5000; tries++) {
    const now = running
      .parse(
        await other('information_schema.processlist')
          .where({ command: 'Query' })
          .whereRaw('id <> CONNECTION_ID()')
          .select({ query: 'query_id' }),
      )
      .map(({ query }) => query)
    if (now.filter((query) => before.includes(query)).length >= wanted) return
    before = now
    await new Promise((next) => setTimeout(next, 8))
  }
  throw new Error(`${wanted} commands were expected to wait`)
}

/** One is held open at its very end, all the others begin meanwhile; then all may go on. */
async function heldOpen(first: Command, others: readonly Command[]): Promise<void> {
  const holding = await other.client.acquireConnection()
  try {
    await other.raw('LOCK TABLES audit_trail WRITE').connection(holding)
    const one = first.run()
    await Promise.race([one, waiting(1)])
    const rest = others.map(({ run }) => run())
    await Promise.race([one, ...rest, waiting(1 + others.length)])
    await other.raw('UNLOCK TABLES').connection(holding)
    await Promise.all([one, ...rest])
  } finally {
    await other.raw('UNLOCK TABLES').connection(holding)
    await other.client.releaseConnection(holding)
  }
}

test('of whatever goes live while something else does, in every order, the newest release holds both', async () => {
  const made: [string, Command, Command][] = []
  for (const [name, make] of Object.entries(commands)) made.push([name, await make(0), await make(1)])
  const lost: string[] = []
  for (const [name, first] of made) {
    await first.ready()
    for (const [, , second] of made) await second.ready()
    await heldOpen(
      first,
      made.map(([, , second]) => second),
    )
    const release = await served()
    if (release === undefined || !first.isIn(release)) lost.push(`${name} (others came after it)`)
    for (const [two, , second] of made) if (release === undefined || !second.isIn(release)) lost.push(`${two} (after ${name})`)
  }
  expect(lost).toEqual([])
}, 1_200_000)
