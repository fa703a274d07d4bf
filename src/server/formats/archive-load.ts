import type { Knex } from 'knex'
import type { AccountView } from '@/contract/contract'
import type { ContentDocument } from '@/core/document'
import { isSameData } from '@/core/same-data'
import { codesBroughtBy, codesIn } from '@/components/scripts'
import { putRulesLive } from '../actions/gains'
import type { LiveTransaction } from '../database/go-live'
import { intoBin } from '../stores/bin'
import { createDocument, holdDocument, publishBody, saveDraft } from '../stores/documents'
import { readPlan, writePlan } from '../stores/gains'
import { createGoal, refuseParts } from '../stores/goals'
import { makeRelease } from '../stores/releases'
import { allowScripts } from '../stores/scripts'
import { takeSegments } from '../stores/segments'
import { readSettings, writeSettings } from '../stores/settings'
import { indexTest } from '../stores/tests'
import { checkVersion } from '../stores/versions'
import { eachHistory, eachMedia } from './archive-file'
import { loadHistory } from './archive-history'
import { numbersOf, partId, type Here, type Plan, type Planned } from './archive-plan'
import type { ArchivedSite } from './archived-site'
import { keepFile } from './picture-file'

export interface Loading {
  readonly site: ArchivedSite
  readonly plan: Plan
  readonly here: Here
  /** Where the archive lies. */
  readonly path: string
  readonly account: AccountView
}

/** What of it is to be written. */
function wanted<Of extends Planned<unknown>>(things: readonly Of[]): Of[] {
  return things.filter(({ fate }) => fate === 'new' || fate === 'replaced')
}

/** Carries out a plan, and makes the release. @returns its number */
export async function load(trx: LiveTransaction, { site, plan, here, path, account }: Loading): Promise<number> {
  const author = account.name
  await loadMedia(trx, plan, path, author)
  await loadSettings(trx, plan, author)
  await loadGoals(trx, plan, site, author)
  for (const { thing: name } of wanted(plan.campaigns))
    await trx('campaigns')
      .insert({ name, created_at: new Date(), created_by: author })
      .onConflict('name')
      .merge({ binned_at: null, binned_by: null })
  const documents = wanted(plan.documents).map(({ thing }) => thing)
  const codes = documents.flatMap(({ draft, published }) => [draft, ...(published === null ? [] : [published])]).flatMap(codesIn)
  await allowScripts(trx, account, codes)
  await makeRoom(trx, documents, here, author)
  await loadDocuments(trx, documents, author)
  await loadRedirects(trx, plan)
  const segments = wanted(plan.segments).map(({ thing }) => thing)
  await takeSegments(trx, segments, { by: author, keepIds: true })
  const numbers = numbersOf(plan, here)
  await loadTests(trx, plan, numbers, author)
  await loadVersions(trx, plan, numbers, account)
  const wantedHistory = new Set(wanted(plan.history).map(({ thing }) => thing.number))
  if (wantedHistory.size > 0)
    await eachHistory(path, async (test) => {
      if (wantedHistory.has(test.number)) await loadHistory(trx, test, { tests: numbers }, author)
    })
  await loadRules(trx, plan, account)
  return makeRelease(trx, 'loaded a site from an archive', author)
}

async function loadMedia(trx: Knex.Transaction, plan: Plan, path: string, author: string): Promise<void> {
  const names = new Map(wanted(plan.media).map(({ thing: { name, title, alt } }) => [name, { title, alt, author }]))
  if (names.size === 0) return
  await eachMedia(path, async (name, body) => {
    const about = names.get(name)
    if (about !== undefined) await keepFile(trx, body, about)
  })
}

async function loadSettings(trx: LiveTransaction, plan: Plan, author: string): Promise<void> {
  for (const { thing } of wanted(plan.settings)) await writeSettings(trx, { ...(await readSettings(trx)), ...thing }, author)
}

async function loadGoals(trx: LiveTransaction, plan: Plan, { goalStates }: ArchivedSite, author: string): Promise<void> {
  const goals = wanted(plan.goals).map(({ thing }) => thing)
  await refuseParts(trx, goals)
  const states = new Map(goalStates.map((state) => [state.goal, state]))
  for (const goal of goals) {
    await createGoal(trx, goal, author, true)
    const state = states.get(goal.id)
    if (state === undefined) continue
    const published = state.published === null ? null : JSON.stringify(state.published)
    await trx('goals').where({ id: goal.id }).update({ published, archived: state.archived })
  }
}

/** The page that a site begins with goes where another one comes to its address, while nobody has touched it. */
async function makeRoom(trx: LiveTransaction, documents: ArchivedSite['documents'], here: Here, author: string): Promise<void> {
  const { untouched } = here
  if (untouched === null || documents.some(({ draft }) => draft.id === untouched)) return
  const comes = documents.some(({ draft }) => addressOf(draft) === '/')
  if (!comes) return
  // Another one is published at its address in the same moment: the site is never without a front page.
  await trx('documents').where({ id: untouched }).update({ published_revision: null, published_lock: null, published_path: null })
  await intoBin(trx, untouched, author)
}

function addressOf({ nodes, root }: ContentDocument): unknown {
  return nodes[root]?.props.path
}

async function loadDocuments(trx: LiveTransaction, documents: ArchivedSite['documents'], author: string): Promise<void> {
  for (const { draft, published, position } of documents) {
    const known = (await trx('documents').where({ id: draft.id }).first('id')) !== undefined
    if (known) await saveDraft(trx, await holdDocument(trx, draft.id), draft, [], author)
    else await createDocument(trx, draft, position, author)
    const { lock_version: lock } = await holdDocument(trx, draft.id)
    if (published !== null) {
      const same = isSameData(published, draft)
      await publishBody(trx, draft.id, published, { note: 'From an archive', author, lock: same ? lock : null })
    }
  }
}

async function loadRedirects(trx: Knex.Transaction, plan: Plan): Promise<void> {
  for (const { thing } of wanted(plan.redirects))
    await trx('redirects').insert({ path: thing.from, document_id: thing.document, at: new Date() }).onConflict('path').merge()
}

async function loadTests(
  trx: Knex.Transaction,
  { tests }: Plan,
  numbers: ReadonlyMap<number, number>,
  author: string,
): Promise<void> {
  for (const { thing, fate, here } of tests) {
    const { design } = thing
    const number = numbers.get(thing.number)
    if (number === undefined || (fate !== 'new' && fate !== 'replaced')) continue
    const about = {
      ...{ name: design.name, document_id: design.document, design: JSON.stringify(design) },
      ...{ notes: JSON.stringify(thing.notes), tags: JSON.stringify(thing.tags) },
    }
    if (here !== null) {
      await trx('tests')
        .where({ number })
        .update({ ...about, lock_version: here.lock + 1 })
      await trx('versions').where({ test_number: number }).delete()
    } else await trx('tests').insert({ ...about, number, status: 'draft', created_at: new Date(), created_by: author })
    await indexTest(trx, number, design)
  }
}

async function loadVersions(
  trx: Knex.Transaction,
  plan: Plan,
  numbers: ReadonlyMap<number, number>,
  account: AccountView,
): Promise<void> {
  const written = new Map(wanted(plan.documents).map(({ thing }) => [thing.draft.id, thing.draft]))
  for (const [index, { thing }] of wanted(plan.versions).entries()) {
    const { id, name, edits, document, node, manner, condition, test } = thing
    await allowScripts(trx, account, codesBroughtBy(edits))
    const home = written.get(document) ?? (await holdDocument(trx, document)).draft
    const row = {
      document_id: document,
      node_id: node,
      manner,
      name,
      edits: JSON.stringify(await checkVersion(trx, home, edits)),
      condition: condition === null ? null : JSON.stringify(condition),
      test_number: test === null ? null : (numbers.get(test) ?? null),
      position: index + 1,
      updated_at: new Date(),
      updated_by: account.name,
    }
    await trx('versions')
      .insert({ id, ...row })
      .onConflict('id')
      .merge()
  }
}

/** Rules go live as they were, and are counted from now on. */
async function loadRules(trx: LiveTransaction, plan: Plan, account: AccountView): Promise<void> {
  const author = account.name
  for (const { thing } of wanted(plan.rules)) {
    const id = partId(thing)
    await allowScripts(
      trx,
      account,
      thing.rules.flatMap(({ version }) => codesBroughtBy(version.edits)),
    )
    const { plan: usual } = await readPlan(trx, id)
    await putRulesLive(trx, { ...thing, id }, { plan: { ...usual, ...thing.measured }, author })
  }
  for (const { thing } of wanted(plan.plans)) {
    const { lock } = await readPlan(trx, partId(thing), true)
    await writePlan(trx, {
      personalization: partId(thing),
      document: thing.document,
      plan: thing.plan,
      lock: lock + 1,
      by: author,
    })
  }
  for (const { thing } of wanted(plan.takenOff)) {
    const { id, name, body, at } = thing
    await trx('gain_entries').insert({ id, name, body: JSON.stringify(body), at })
  }
}
