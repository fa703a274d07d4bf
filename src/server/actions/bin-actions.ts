import { mayAs } from '@/contract/contract'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { bringBack, binLines, binMedia, intoBin, outOfBin, takeOff, unbinMedia } from '../stores/bin'
import { readDocument } from '../stores/documents'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import type { Area } from './handler'

export const binActions: Area<'bin'> = {
  'bin.list': async ({ db }) => ({ lines: await binLines(db) }),

  'bin.takeOff': ({ db, account }, { document, to }) =>
    goLive(db, async (trx) => {
      const { title } = await readDocument(trx, document)
      if (!(await takeOff(trx, document, to))) throw new Failure('conflict', `“${title}” is not on the site any more.`)
      return { release: await makeRelease(trx, `took “${title}” off the site`, account.name) }
    }),

  'bin.put': ({ db, account }, { document, to }) =>
    goLive(db, async (trx) => {
      const { title, published_revision: live } = await readDocument(trx, document)
      if (live !== null && !mayAs(account.role, 'publisher'))
        throw new Failure('role', `“${title}” is published, and only a publisher can take it off the site.`)
      const wasLive = await takeOff(trx, document, to)
      await intoBin(trx, document, account.name)
      if (wasLive) await makeRelease(trx, `moved “${title}” to the bin`, account.name)
      return {}
    }),

  'bin.take': ({ db }, { document }) => inTransaction(db, async (trx) => ({ sameAddress: await outOfBin(trx, document) })),

  'bin.putMedia': ({ db, account }, { name }) =>
    inTransaction(db, async (trx) => {
      await binMedia(trx, name, account.name)
      return {}
    }),

  'bin.takeGoal': ({ db }, { goal }) =>
    inTransaction(db, async (trx) => {
      await bringBack(trx, { goal })
      return {}
    }),

  'bin.takeCampaign': ({ db }, { name }) =>
    inTransaction(db, async (trx) => {
      await bringBack(trx, { campaign: name })
      return {}
    }),

  'bin.takeMedia': ({ db }, { name }) =>
    inTransaction(db, async (trx) => {
      await unbinMedia(trx, name)
      return {}
    }),
}
