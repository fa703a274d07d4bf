import { nameless, type Identity } from '@/core/identity'
import { sharedDatabase } from '@/server/database/connect'
import { readSettings } from '@/server/stores/settings'

/** What the site calls itself, and by whose clock; a studio whose database is away still shows its screens. */
export async function identityNow(): Promise<{ readonly identity: Identity; readonly timeZone: string }> {
  try {
    return await readSettings(sharedDatabase())
  } catch {
    return { identity: nameless, timeZone: 'UTC' }
  }
}
