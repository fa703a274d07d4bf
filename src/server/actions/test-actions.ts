import { isForEverybody } from '@/core/decide'
import { audienceSize } from '@/core/experiment'
import { segmentsNow } from '../stores/segments'
import { recentVisitorsCloser, testsMet } from '../stores/recent-visitors'
import type { Knex } from 'knex'
import { mayAs, type AccountView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import {
  changeWords,
  designSchema,
  effectsOn,
  goalsOf,
  isOpenToChange,
  MOST_ARMS,
  partsOf,
  versionsInUse,
  weeksFrom,
  whatAffects,
  type Change,
  type Design,
} from '@/core/experiment'
import type { DocumentId, NodeId, VersionId } from '@/core/ids'
import { codesBroughtBy } from '@/components/scripts'
import { vocabulary } from '@/components/types'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { holdDocument, publishedAt, readDocument, readPublished, type DocumentRow } from '../stores/documents'
import { pagesShowing } from '../stores/document-index'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import { refuseUnapproved } from '../stores/scripts'
import { publishGoals } from '../stores/goals'
import { readCalendar, readSettings } from '../stores/settings'
import {
  lastRounds,
  holdTest,
  holdUp,
  indexTest,
  readTest,
  roundsOf,
  testId,
  testsWhere,
  type RoundRow,
  type TestRow,
} from '../stores/tests'
import { looksAt, makeLook, takeLooksBack } from '../stores/looks'
import { listVersions, versionsOfTest } from '../stores/versions'
import { contains } from '../database/contains'
import type { Area } from './handler'
import { endTest, startTest } from './life'
import { changesSince, closeRounds, command, expectReady, openRound, ORIGINAL_CHANGED, takeChanges } from './rounds'
import { settle, takeBack } from './settle'
import { leavingOut, takingOver } from './taking-over'
import { listTests } from './test-lines'
import { changesIn } from './test-changes'
import { asVersion } from './test-facts'
import { drawnVersions } from './test-drawn'
import { asIfStarted } from './test-shown'
import { siteOrigin } from '@/serving/addresses'
import { armsOf, keepDesign } from './keep-design'
import { calendarAddress, newCalendarAddress } from '../formats/calendar-file'
import { testsBetween } from './test-calendar'
import { openTest } from './test-sheet'

export const testActions: Area<'test'> = {
  'test.list': async ({ db }, { page, search, status, campaign, person, part }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      if (campaign !== '') void query.where({ campaign })
      if (status !== null) void query.where({ status })
      if (person !== '') void query.where({ created_by: person })
      if (part !== null) void query.whereIn('document_id', db('documents').where({ kind: part }).select('id'))
      if (search !== '') void query.whereILike('name', contains(search))
    }
    return listTests(db, narrow, page)
  },

  'test.calendar': async ({ db }, { from, weeks }) => {
    const { beginOf, dayOf } = await readCalendar(db)
    const [begin, end] = [beginOf(from), beginOf(weeksFrom(from, weeks + 1).at(-1) ?? from)]
    return {
      from: begin.toISOString(),
      to: end.toISOString(),
      today: dayOf(new Date()),
      lines: await testsBetween(db, begin, end),
    }
  },
  'test.calendarAddress': async ({ db, account }) => ({ address: await calendarAddress(db, account.id) }),
  'test.newCalendarAddress': async ({ db, account }) => ({ address: await newCalendarAddress(db, account.id) }),

  'test.open': ({ db }, { test }) => openTest(db, test),
  'test.audience': async ({ db }, { audience }) => {
    if (isForEverybody(audience)) return { kind: 'everybody' }
    const { visitors, awaited } = await recentVisitorsCloser(db)
    const size = audienceSize(audience, await segmentsNow(db), visitors)
    return size.kind === 'share' ? { ...size, awaited } : size
  },

  'test.create': ({ db, account }, { parts }) =>
    inTransaction(db, async (trx) => {
      const [first, ...further] = parts
      if (first === undefined) throw new Failure('input', 'Select the part that is to be tested first.')
      const levels: VersionId[][] = []
      let title = ''
      for (const { document, node } of parts) {
        const home = await readDocument(trx, document)
        const part = home.draft.nodes[node]
        if (part === undefined) throw new Failure('input', 'That component is no longer there. Select another one.')
        const free = (await listVersions(trx, document)).filter(
          (version) => version.node_id === node && version.manner === 'chance' && version.test_number === null,
        )
        levels.push([ORIGINAL, ...free.map(({ id }) => id)])
        title ||= nameFor(home, node)
      }
      const arms = armsOf(levels)
      if (arms.length > MOST_ARMS)
        throw new Failure(
          'input',
          `That would be ${arms.length} combinations, and ${MOST_ARMS} are the most. Remove some variants first.`,
        )
      const { share, keeping } = await readSettings(trx)
      const design = designSchema.parse({
        name: (parts.length === 1 ? title : `${title}, and ${parts.length - 1} more`).slice(0, 120),
        problem: '',
        change: '',
        expected: '',
        ...first,
        further,
        arms,
        share,
        keeping,
        primary: null,
        watched: [],
        smallestEffect: 0.05,
      })
      const [number] = await trx('tests').insert({
        document_id: first.document,
        status: 'draft',
        name: design.name,
        design: JSON.stringify(design),
        created_at: new Date(),
        created_by: account.name,
      })
      if (number === undefined) throw new Error('the database gave no number for the new test')
      await indexTest(trx, number, design)
      await trx('versions').whereIn('id', levels.flat()).update({ test_number: number })
      return { test: testId(number) }
    }),

  'test.capacity': async ({ db }) => {
    const running = await testsWhere(db, (query) => void query.where({ status: 'running' }))
    const rounds = await lastRounds(
      db,
      running.map(({ number }) => number),
    )
    return { met: await testsMet(db, new Set([...rounds.values()].map(({ snapshot }) => snapshot.id))) }
  },

  'test.save': ({ db, account }, { test, lock, design }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      // Sent again, as its answer was lost: it is there already.
      if (row.lock_version === lock + 1 && JSON.stringify(row.design) === JSON.stringify(design))
        return { lock: row.lock_version }
      if (row.lock_version !== lock)
        throw new Failure(
          'conflict',
          'Somebody else has changed this test since you opened it. Open it again; your last change is not saved over theirs.',
        )
      // The question may be written and mended at any time; what affects the result only while nobody is drawn.
      const changes = isOpenToChange(row.status) ? [] : whatAffects(row.design, design)
      if (changes.length > 0) {
        throw new Failure(
          'blocked',
          row.status === 'scheduled'
            ? 'This test waits for its start, as it was found ready. Make it a draft again to change it.'
            : `This test is ${row.status}, and this would distort its result: ${changeWords(changes)}. Pause it first; going on then opens a new round.`,
        )
      }
      if (row.status !== 'draft') await expectMayPlan(trx, row, design, account)
      await keepDesign(trx, row, design)
      return { lock: lock + 1 }
    }),

  'test.change': ({ db, account }, { test, arms, share }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      if (row.status !== 'running')
        throw new Failure('conflict', `This test is ${row.status}. Its split and its variants are changed here while it runs.`)
      for (const { document } of partsOf(row.design)) await holdDocument(trx, document)
      const design = designSchema.parse({ ...row.design, arms, share: share ?? row.design.share })
      await keepDesign(trx, row, design)
      const changed = await readTest(trx, test)
      const { changes: because } = await changesSince(trx, changed)
      if (because.length === 0) throw new Failure('input', 'Nothing would change: this is what visitors are given now.')
      const begun = await takeChanges(trx, changed, { because, author: account.name })
      return { release: await makeRelease(trx, `${changeWords(because)} in “${row.name}”`, account.name), ...begun }
    }),

  'test.remove': ({ db }, { test }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      if (row.status !== 'draft' || (await roundsOf(trx, row.number)).length > 0)
        throw new Failure('blocked', 'Only a draft that has never run can be removed; what has run stays on record.')
      await trx('versions').where({ test_number: row.number }).update({ test_number: null })
      await trx('tests').where({ number: row.number }).delete()
      await takeLooksBack(trx, { test })
      return {}
    }),

  'test.start': ({ db, account }, { test, lock }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      expectLock(row, lock)
      return { release: await startTest(trx, row, account.name) }
    }),

  'test.schedule': ({ db, account }, { test, lock }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      expectLock(row, lock)
      const { start } = row.design.schedule
      const at = start === null ? null : (await readCalendar(trx)).read(start)
      if (at === null) throw new Failure('input', 'Say first when it is to start, or start it now.')
      const published = await publishGoals(trx, goalsOf(row.design), account.name)
      await expectReady(trx, row)
      await command(trx, row, 'schedule')
      // Goals count from now on, not from the start.
      if (published.length > 0) await makeRelease(trx, `published the goals of “${row.name}”`, account.name)
      return {}
    }),

  'test.unschedule': ({ db }, { test }) =>
    inTransaction(db, async (trx) => {
      await command(trx, await holdTest(trx, test), 'unschedule')
      return {}
    }),

  'test.again': ({ db }, { test }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'again')
      const { schedule } = row.design
      await trx('tests')
        .where({ number: row.number })
        .update({
          settled_at: null,
          // Its times are past.
          design: JSON.stringify({ ...row.design, schedule: { ...schedule, start: null, end: null } }),
          lock_version: row.lock_version + 1,
        })
      await trx('versions').where({ test_number: row.number }).update({ settled: 0 })
      return {}
    }),

  'test.pause': ({ db, account }, { test }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'pause')
      await holdUp(trx, row.number, true)
      return { release: await makeRelease(trx, `paused “${row.name}”`, account.name) }
    }),

  'test.goOn': ({ db, account }, { test, lock }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      // Whoever starts a test holds its page: two tests on one part cannot both find the other not running.
      for (const { document } of partsOf(row.design)) await holdDocument(trx, document)
      expectLock(row, lock)
      await command(trx, row, 'goOn')
      const { last, changes } = await changesSince(trx, row)
      const because = [...changes, ...(last === undefined ? [] : await originalSince(trx, last))]
      await holdUp(trx, row.number, false)
      const nothing = last !== undefined && because.length === 0
      const begun = nothing ? null : await takeChanges(trx, row, { because, author: account.name })
      return { release: await makeRelease(trx, `went on with “${row.name}”`, account.name), begins: begun?.begins ?? null }
    }),

  'test.nextRound': ({ db, account }, { test, because }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      if (row.status !== 'running')
        throw new Failure('conflict', `This test is ${row.status}. A next round is opened here while it runs.`)
      for (const { document } of partsOf(row.design)) await holdDocument(trx, document)
      const [last] = await roundsOf(trx, row.number)
      await openRound(trx, row, {
        number: (last?.snapshot.number ?? 0) + 1,
        because: [{ words: because === 'goals' ? 'the goals were changed' : 'counting was begun anew by hand', begins: 'round' }],
        author: account.name,
      })
      return { release: await makeRelease(trx, `opened the next round of “${row.name}”`, account.name) }
    }),

  'test.end': ({ db, account }, { test }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      return { release: await endTest(trx, row, account.name) }
    }),

  'test.look': async ({ db, account }, { test }) => {
    const row = await readTest(db, test)
    const versions = (await versionsOfTest(db, row.number)).map(asVersion)
    const own = asIfStarted(test, row.design, versions)
    const rounds = row.status === 'running' || row.status === 'paused' ? [] : [{ ...own, versions: versionsInUse(own) }]
    const key = await makeLook(db, { tests: [test], rounds }, account)
    return { address: `${siteOrigin()}/see/${key}?to=${encodeURIComponent(await pathWith(db, row.document_id))}` }
  },

  'test.looks': async ({ db }, { test }) => ({
    looks: (await looksAt(db, test)).map(({ number, until, made_at: madeAt, made_by: by }) => ({
      ...{ number, by, until: until.toISOString(), madeAt: madeAt.toISOString() },
    })),
  }),
  'test.takeLooksBack': async ({ db }, { test, number }) => ({
    taken: await takeLooksBack(db, { test, number: number ?? undefined }),
  }),

  'test.drawn': async ({ db }, { test }) => drawnVersions(db, await readTest(db, test)),

  'test.preview': async ({ db }, { test, version }) => takingOver(db, await readTest(db, test), version),

  'test.decide': ({ db, account }, { test, version, reason, lesson, without }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'settle')
      await closeRounds(trx, row.number)
      const changes = leavingOut(await changesIn(trx, row, version), without)
      // Taking over is one more way in for a script.
      await refuseUnapproved(trx, codesBroughtBy((changes ?? []).flatMap(({ edits }) => edits)))
      return settle(trx, row, { version, reason, lesson, changes, author: account.name })
    }),

  'test.note': ({ db, account }, { test, words }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      if (row.notes.length >= MOST_NOTES)
        throw new Failure(
          'blocked',
          `A test has at most ${MOST_NOTES} notes. What was learned has a place of its own in the notebook.`,
        )
      const last = row.notes.at(-1)
      // Sent again, as its answer was lost: it is there already.
      if (last?.words === words && last.by === account.name) return {}
      const note = { at: new Date().toISOString(), by: account.name, words }
      await trx('tests')
        .where({ number: row.number })
        .update({ notes: JSON.stringify([...row.notes, note]) })
      return {}
    }),

  'test.tag': ({ db }, { test, tags }) =>
    inTransaction(db, async (trx) => {
      const row = await holdTest(trx, test)
      await trx('tests')
        .where({ number: row.number })
        .update({ tags: JSON.stringify([...new Set(tags)]) })
      return {}
    }),

  'test.undo': ({ db, account }, { test }) =>
    goLive(db, async (trx) => {
      const row = await holdTest(trx, test)
      await command(trx, row, 'undo')
      return takeBack(trx, row, account.name)
    }),
}

const MOST_NOTES = 200

/** Whether what is compared was published anew since the round was opened. */
async function originalSince(db: Knex, { snapshot, started_at: since }: RoundRow): Promise<Change[]> {
  for (const { document } of partsOf(snapshot.design)) {
    const now = (await readPublished(db, [document])).get(document)
    const then = await publishedAt(db, document, since)
    if (now !== undefined && then !== null && effectsOn(snapshot, then, now).length > 0) return [ORIGINAL_CHANGED]
  }
  return []
}

/** “Heading on Plans and prices”, “The menu Main menu”. */
function nameFor(home: DocumentRow, node: NodeId): string {
  const type = vocabulary.typeName(home.draft.nodes[node]?.type ?? '')
  const own = node === home.draft.root
  const words =
    own && home.kind === 'page' ? `The page ${home.title}` : own ? `The ${type} ${home.title}` : `${type} on ${home.title}`
  return words.replace(/^./, (letter) => letter.toUpperCase())
}

function expectLock(row: TestRow, lock: number): void {
  if (row.lock_version !== lock)
    throw new Failure('conflict', 'Somebody else has changed this test since you looked at it. Look again, then start it.')
}

/** What a test that is live does by itself goes live by it: that is for publishers, and never at once by a slip of the keys. */
async function expectMayPlan(
  db: Knex,
  { status, design: before }: TestRow,
  { schedule, adaptive }: Design,
  account: AccountView,
): Promise<void> {
  const isPlan = JSON.stringify([schedule, adaptive]) !== JSON.stringify([before.schedule, before.adaptive])
  if (!isPlan || status === 'ended' || status === 'settled') return
  if (!mayAs(account.role, 'publisher'))
    throw new Failure('role', 'Only a publisher can change what a test that is not a draft does by itself.')
  const { end } = schedule
  if (end === null || end === before.schedule.end || status === 'scheduled') return
  const at = (await readCalendar(db)).read(end)
  if (at === null || at.at <= new Date()) throw new Failure('input', 'That end is past. Choose a later one, or end the test now.')
}

/** A page on which a document is to be seen. */
async function pathWith(db: Knex, id: DocumentId): Promise<string> {
  const own = (await readPublished(db, [id])).get(id)
  if (own === undefined) return '/'
  const page = own.kind === 'page' ? id : (await pagesShowing(db, id))[0]?.id
  const shown = page === undefined ? undefined : (await readPublished(db, [page])).get(page)
  const path = shown?.nodes[shown.root]?.props.path
  return typeof path === 'string' ? path : '/'
}
