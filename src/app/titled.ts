import type { Metadata } from 'next'
import { sharedDatabase } from '@/server/database/connect'
import { nameOf, type Named } from '@/server/stores/names'
import { log } from './log'
import { requireAccount } from './session'

/** What a screen is called by the thing on it, for who may see it; `usual` where that cannot be read. */
export async function titled(thing: Named | null, usual: string): Promise<Metadata> {
  await requireAccount()
  if (thing === null) return { title: usual }
  try {
    return { title: (await nameOf(sharedDatabase(), thing)) || usual }
  } catch (reason) {
    log.error(reason)
    return { title: usual }
  }
}
