import { nameless, type Identity } from '@/core/identity'
import { sharedDatabase } from '@/server/database/connect'
import { readSettings } from '@/server/stores/settings'

/** What the site calls itself; a studio whose database is away still shows its screens. */
export async function identityNow(): Promise<Identity> {
  try {
    return (await readSettings(sharedDatabase())).identity
  } catch {
    return nameless
  }
}
