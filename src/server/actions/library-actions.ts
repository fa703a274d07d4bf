import { leftOutReasons } from '@/core/decide'
import { leftOutLately } from '../stores/left-out'
import type { Knex } from 'knex'
import * as z from 'zod'
import { throwAway } from '../stores/bin'
import { PAGE_SIZE } from '@/contract/contract'
import { inTransaction } from '../database/connect'
import { Failure, missing } from '../failure'
import { placesOf } from '../stores/document-index'
import { listMedia } from '../stores/media'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import { readSettings, settingsSchema, writeSettings } from '../stores/settings'
import { contains } from '../database/contains'
import { placeLine } from './document-actions'
import type { Area } from './handler'

export const libraryActions: Area<'media'> & Area<'campaign'> & Area<'setting'> = {
  'media.list': async ({ db }, { page, search, kind }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      void query.whereNull('binned_at')
      if (kind !== 'all') void query.whereILike('type', `${kind}/%`)
      if (search !== '')
        void query.where((either) => either.whereILike('title', contains(search)).orWhereILike('alt', contains(search)))
    }
    const total = z
      .object({ total: z.coerce.number() })
      .parse(await db('media').modify(narrow).count({ total: '*' }).first()).total
    const rows = await listMedia(db, (query) => {
      narrow(query)
      void query
        .orderBy('created_at', 'desc')
        .limit(PAGE_SIZE)
        .offset((page - 1) * PAGE_SIZE)
    })
    const places = await placesOf(
      db,
      rows.map(({ name }) => name),
      'shows',
    )
    return {
      total,
      lines: rows.map(({ created_at, created_by: by, ...line }) => ({
        ...line,
        at: created_at.toISOString(),
        by,
        places: places.filter(({ used_id }) => used_id === line.name).map(placeLine),
      })),
    }
  },

  'media.save': async ({ db }, { name, title, alt }) => {
    const changed = await db('media').where({ name }).update({ title, alt })
    if (changed === 0) throw missing('This file')
    return {}
  },

  'campaign.list': async ({ db }) => {
    const rows: unknown[] = await db('campaigns as c')
      .whereNull('c.binned_at')
      .orderBy('c.name')
      .limit(500)
      .select('c.name')
      .select(db('tests').whereRaw('campaign = c.name').count('*').as('tests'))
      .select(db('documents').whereRaw('campaign = c.name').count('*').as('documents'))
    const line = z.object({ name: z.string(), tests: z.coerce.number(), documents: z.coerce.number() })
    return { campaigns: rows.map((row) => line.parse(row)) }
  },

  'campaign.create': ({ db, account }, { name }) =>
    inTransaction(db, async (trx) => {
      if ((await trx('campaigns').where({ name, binned_at: null }).first('name')) !== undefined)
        throw new Failure('input', `There is a campaign “${name}” already.`)
      // One of this name may have been thrown away: it is this one now.
      await trx('campaigns').where({ name }).delete()
      await trx('campaigns').insert({ name, created_at: new Date(), created_by: account.name })
      return {}
    }),

  'campaign.remove': ({ db, account }, { name }) =>
    inTransaction(db, async (trx) => {
      const [document, test] = await Promise.all([
        trx('documents').where({ campaign: name }).first('title'),
        trx('tests').where({ campaign: name }).first('name'),
      ])
      const used =
        z.object({ title: z.string() }).safeParse(document).data?.title ??
        z.object({ name: z.string() }).safeParse(test).data?.name
      if (used !== undefined) throw new Failure('blocked', `“${used}” belongs to it. Choose another campaign there first.`)
      await throwAway(trx, { campaign: name }, account.name)
      return {}
    }),

  'setting.read': ({ db }) => readSettings(db),

  'setting.leftOut': async ({ db }) => {
    const lately = await leftOutLately(db)
    return { lately: leftOutReasons.map((reason) => ({ reason, times: lately.get(reason) ?? 0 })) }
  },

  'setting.save': ({ db, account }, changed) =>
    goLive(db, async (trx) => {
      const before = await readSettings(trx)
      const settings = settingsSchema.parse({ ...before, ...changed })
      await writeSettings(trx, settings, account.name)
      const reason =
        settings.scripts === before.scripts
          ? 'changed the settings of the site'
          : settings.scripts
            ? 'allowed scripts in variants'
            : 'switched scripts in variants off'
      return { release: await makeRelease(trx, reason, account.name) }
    }),
}
