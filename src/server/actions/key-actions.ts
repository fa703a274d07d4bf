import { siteOrigin } from '@/serving/addresses'
import { missing } from '../failure'
import { goLive } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import { createKey, listKeys, revokeKey } from '../stores/report-keys'
import type { Area } from './handler'

/** Who may report from elsewhere. A key goes live with a release, and so does taking it back. */
export const keyActions: Area<'key'> = {
  'key.list': async ({ db }) => ({
    address: siteOrigin(),
    keys: (await listKeys(db)).map(({ id, name, origin, created_at, created_by, revoked_at }) => ({
      id,
      name,
      origin,
      createdAt: created_at.toISOString(),
      createdBy: created_by,
      revokedAt: revoked_at?.toISOString() ?? null,
    })),
  }),

  'key.create': ({ db, account }, { name, origin }) =>
    goLive(db, async (trx) => {
      const made = await createKey(trx, name, origin, account.name)
      await makeRelease(trx, `allowed reports from ${origin}`, account.name)
      return made
    }),

  'key.revoke': ({ db, account }, { id }) =>
    goLive(db, async (trx) => {
      if (!(await revokeKey(trx, id))) throw missing('A key that still opens something')
      return { release: await makeRelease(trx, 'took a key for reports back', account.name) }
    }),
}
