import type { DocumentId } from '@/core/ids'
import { postOn } from '@/jobs/letters'
import { tallyAll } from '@/jobs/work'
import { createAccount } from '@/server/accounts/accounts'
import { type Database } from '@/server/database/connect'
import { createDocument, publishBody } from '@/server/stores/documents'
import { createGoal } from '@/server/stores/goals'
import { goLive } from '@/server/database/go-live'
import { makeRelease } from '@/server/stores/releases'
import type { Identity } from '@/core/identity'
import { readSettings, writeSettings } from '@/server/stores/settings'
import { LOOK_FOLDER, readAssets } from '@/site/assets'
import { act, author } from './act'
import { demoGoals } from './goals'
import { callsToAction, campaigns, draftPages, menus, publishedPages, sharedComponents, styles } from './site-pages'
import { letters, sentLetter } from './letters'
import { seedRules, seedSegments } from './seed-rules'
import { demoAttributes } from './segments'
import { templates } from './templates'
import { seedTests, testSteps } from './seed-tests'
import { seedBackground } from './seed-visitors'

const DAY = 86_400_000

/** What the sample site calls itself. */
const pinemoth: Identity = {
  name: 'Pinemoth',
  language: 'en',
  mark: 'moth',
  colours: { accent: 'Brass', deep: 'Pine', light: 'Cream', dark: 'Night' },
  smallPrint:
    'Pinemoth Instrument Library lends instruments by the month in Alderwick, Fenmouth, Harrowby, Little Osk and Stonebeck.',
}

/** For the demo only; the README prints them too. */
export const demoAccounts = [
  { id: 'wilma', email: 'wilma@pinemoth.example', name: author, role: 'publisher', password: 'moths-like-brass' },
  { id: 'ada', email: 'ada@pinemoth.example', name: 'Ada Stonebeck', role: 'administrator', password: 'moths-like-steel' },
  { id: 'edgar', email: 'edgar@pinemoth.example', name: 'Edgar Fenn', role: 'editor', password: 'moths-like-wood' },
] as const

/**
 * Everything the demo opens with: accounts, the site, a history made by the simulator from fixed seeds.
 *
 * @param origin where the site is, for what goes out in its newsletter
 * @param progress told of the steps that are done, of {@link demoSteps}
 */
export async function seedDemo(db: Database, origin: string, progress: (done: number) => void = () => undefined): Promise<void> {
  let done = 0
  const step = () => progress(++done)
  await seedSite(db)
  step()
  await seedBackground(db)
  step()
  const segments = await seedSegments(db)
  step()
  await seedTests(db, step)
  await seedRules(db, segments)
  step()
  await seedLetters(db, origin)
  step()
  // Last: where there are accounts, the demo is whole.
  for (const account of demoAccounts) await createAccount(db, account)
}

/** Those around the tests, and each of these. */
export const demoSteps = 5 + testSteps

/** The site without its history. */
export async function seedSite(db: Database): Promise<void> {
  await goLive(db, async (trx) => {
    let position = 0
    for (const document of [...publishedPages, ...menus, ...callsToAction, ...sharedComponents, ...styles]) {
      await createDocument(trx, document, position++, author)
      await publishBody(trx, document.id, document, { note: 'First published', author, lock: 0 })
    }
    for (const document of templates(true)) await createDocument(trx, document, position++, author)
    for (const name of campaigns) await trx('campaigns').insert({ name, created_at: new Date(), created_by: author })
    for (const document of letters) await createDocument(trx, document, position++, author)
    for (const document of draftPages) await createDocument(trx, document, position++, 'Edgar Fenn')
    for (const goal of demoGoals) await createGoal(trx, goal, author, true)
    await writeSettings(
      trx,
      { ...(await readSettings(trx)), demonstration: true, mail: 'standIn', identity: pinemoth, attributes: [...demoAttributes] },
      author,
    )
    await makeRelease(trx, 'the site went live', author)
  })
}

/** A newsletter that went out some days ago, and all that its readers have done since. */
async function seedLetters(db: Database, origin: string): Promise<void> {
  const { id, daysAgo, plan } = sentLetter
  const { number } = await act(db, 'letter.send', { document: id as DocumentId, lock: 0, plan })
  const at = new Date(Math.floor(Date.now() / DAY) * DAY - daysAgo * DAY + 8 * 3_600_000)
  await db('letters').where({ number }).update({ created_at: at })
  const css = readAssets(LOOK_FOLDER).get('/look/site.css')?.body.toString() ?? ''
  const post = {
    hour: 3_600_000,
    origin,
    css,
    log: (reason: unknown) => {
      throw new Error('the newsletter of the demo cannot be drawn', { cause: reason })
    },
  }
  while (await postOn(db, { ...post, now: at }));
  while (await postOn(db, { ...post, now: new Date() }));
  await tallyAll(db)
}
